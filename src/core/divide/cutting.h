#pragma once
// Which pieces must be cut, and where. Millimetres, cloth frame.

#include "divide/parts.h"
#include "library/library.h"

namespace rapt {

/// Cuts through an element that no field takes whole, so that every side of them goes into one: of
/// all frames and turns that which needs the fewest sides. Each path runs through the band that
/// both neighbours can reach. `element`: its number in its piece.
std::vector<Cut> cutsFor(const Part& part, int element, const std::vector<Hoop>& hoops,
                         double marginMm, bool straight);

/// How many stitches of the piece a cut crosses.
std::size_t threadsAcross(const StitchedJob& stitched, const Cut& cut);

} // namespace rapt
