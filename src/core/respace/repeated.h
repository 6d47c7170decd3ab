#pragma once
// Stitches sewn to and fro on the spot or along a line. Internal to recognising.

#include "respace/stretches.h"

#include <span>

namespace rapt {

/// Runs of which every stitch is sewn three times or more before the next, within the points
/// `first` to `last`; in order.
std::vector<SewnStretch> findRepeatedRuns(std::span<const Vec2> points, std::size_t first,
                                          std::size_t last);

/// How many of the points from `first` on are a tie: tiny stitches that stay on the spot. 0 for
/// none. With `backwards` the points before `first` are looked at.
std::size_t tieLength(std::span<const Vec2> points, std::size_t first, std::size_t last,
                      bool backwards);

} // namespace rapt
