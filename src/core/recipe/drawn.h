#pragma once
// From points that a person places to a part that can be stitched.

#include "recipe/shape.h"

#include <optional>

namespace rapt {

/// What is sewn below by default: satins are lifted, fills held along their edges.
Underlay usualUnderlay(StitchKind kind, double mostLayers = 0);

/// The fewest points that a line of a part may have.
std::size_t leastPoints(const ShapePart& part);

/// A run or a fill through the points, or a satin whose rails take them in turns. Nothing if there
/// are too few: 2 for a run, 3 for a fill, 4 for a satin. With the usual underlay; pull is the
/// cloth's and set by whoever knows it.
std::optional<ShapePart> drawnPart(StitchKind kind, const std::vector<Vec2>& points,
                                   const Thread& thread, bool smooth);

/// A line drawn by hand with its tremble taken out: points that change its course by more than the
/// tolerance stay (Douglas and Peucker 1973), after it was averaged over a few neighbours.
Polyline steadied(const Polyline& drawn, double toleranceMm);

/// A smooth run along a line, or with a width a smooth satin of that width about it. Nothing for a
/// line shorter than 1 mm.
std::optional<ShapePart> drawnAlong(const Polyline& line, double satinWidthMm,
                                    const Thread& thread);

/// A fill of an outline with holes.
ShapePart filledOutline(const Contours& outline, const Thread& thread);

/// A piece of one part, its frame's origin in the middle of it.
Shape centred(ShapePart part, Vec2& middle);

} // namespace rapt
