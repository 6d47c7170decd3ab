#pragma once
// Polygons with holes in millimetres, and the questions asked of them.

#include "geometry/vec2.h"

#include <vector>

namespace rapt {

using Polyline = std::vector<Vec2>;
/// Closed contours; the inside is where an odd number of them surround a point.
using Contours = std::vector<Polyline>;

/// Empty for a line without points.
Box boundsOf(const Polyline& line);
/// Of all contours together.
Box boundsOf(const Contours& contours);
/// Along the line, open.
double lengthOf(const Polyline& line);

/// Even-odd test; points on an edge may fall on either side.
bool contains(const Contours& contours, Vec2 p);

/// Area of the even-odd inside in mm².
double areaOf(const Contours& contours);

/// The contours moved outwards by `mm` (inwards if negative) with round corners, overlaps united.
Contours offsetContours(const Contours& contours, double mm);

/// The even-odd inside cut into connected parts, each an outer contour followed by its holes; self
/// crossings are resolved.
std::vector<Contours> componentsOf(const Contours& contours);

/// The inside of non-zero winding as even-odd contours: overlaps become one.
Contours unitedNonZero(const Contours& contours);

/// What is inside `a` but not inside `b` (even-odd both).
Contours differenceOf(const Contours& a, const Contours& b);

/// What is inside either (even-odd both).
Contours unionOf(const Contours& a, const Contours& b);

/// What is inside both (even-odd).
Contours intersectionOf(const Contours& a, const Contours& b);

/// Corners of the convex hull, in order. At most two points for points on a line.
Polyline convexHull(std::vector<Vec2> points);

/// Distance from a point to a straight line between two others.
double distanceToSegment(Vec2 p, Vec2 a, Vec2 b);

/// Middle and radius.
struct Circle {
    Vec2 centre;
    double radius = 0;
};
/// The smallest circle round all points (Welzl 1991, in its move-free iterative form).
Circle smallestCircle(const std::vector<Vec2>& points);

/// How much a sweep over closed contours has to look at: for every corner, the edges at its height.
/// The polygon library cannot be stopped, and takes seconds for more than `mostSweepWork`; what
/// comes from outside is measured before it goes there.
double sweepWork(const Contours& contours);
inline constexpr double mostSweepWork = 3e7;

} // namespace rapt
