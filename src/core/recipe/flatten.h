#pragma once
// From the points that a person places to the lines that are stitched. Internal to the recipes.

#include "recipe/shape.h"

namespace rapt {

/// A smooth curve through all points: centripetal Catmull-Rom (Yuksel, Schaefer and Keyser 2011),
/// which neither loops nor overshoots. `perSegment` straight lines stand for each segment.
Polyline smoothCurve(const Polyline& points, bool closed, int perSegment);

/// The line without points that lie within 0.01 mm of the one before: a path that is closed by a
/// hair has no corner there. Its ends stay.
Polyline withoutCrumbs(const Polyline& line);

/// The part with dense lines instead of smooth ones; a part that is not smooth comes back as it is.
/// The rails of a paired satin keep as many points as each other.
ShapePart flattened(const ShapePart& part);

} // namespace rapt
