#pragma once
// Cutting stitches that fit no field along paths. Millimetres.

#include "geometry/polygon.h"
#include "thread/origin.h"

namespace rapt {

/// The stitches on both sides of every path (each from edge to edge of the design), every side with
/// half of `overlapMm` beyond it. Ends of rows are staggered along the path so that no line shows;
/// cut threads are tied off beside it. Sides without stitches are left out. Every needle point is
/// in one side; where another side sews it too, it is an overlap there.
std::vector<TracedList> cutApart(const StitchList& list, const std::vector<Polyline>& paths,
                                 double overlapMm);

/// A path between two lines across the way `along` (unit vector; the lines lie at `from` and `to`
/// along it, to < from allowed), from one side of the design's box to the other, that crosses the
/// least load: gaps first, then runs and thin fills, satins last. `straight`: in the middle.
Polyline cutPath(const StitchList& list, Vec2 along, double from, double to, bool straight);

} // namespace rapt
