#pragma once
// A bound on clampings and hoopings that holds however the layout is cut.

#include "divide/parts.h"
#include "library/library.h"

namespace rapt {

/// What may hold two places at once.
enum class Span {
    field, ///< one position of a frame: a hooping
    frame, ///< all positions of a frame together: a clamping
};

/// How many of the needle points no two of which one span of any of the frames can hold: so many
/// hoopings or clampings are needed at least. The largest such set that a few sweeps find; a true
/// bound in any case. At least 1 for anything sewn.
int fewestApart(const std::vector<Part>& parts, const std::vector<Hoop>& hoops, Span span);

} // namespace rapt
