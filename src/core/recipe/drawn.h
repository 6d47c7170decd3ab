#pragma once
// From points that a person places to a part that can be stitched.

#include "recipe/shape.h"

#include <optional>

namespace rapt {

/// The fewest points that a line of a part may have.
std::size_t leastPoints(const ShapePart& part);

/// A run or a fill through the points, or a satin whose rails take them in turns. Nothing if there
/// are too few: 2 for a run, 3 for a fill, 4 for a satin.
std::optional<ShapePart> drawnPart(StitchKind kind, const std::vector<Vec2>& points,
                                   const Thread& thread, bool smooth);

} // namespace rapt
