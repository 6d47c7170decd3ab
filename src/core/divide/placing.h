#pragma once
// Where a hoop must stand so that its field takes given stitches.

#include "geometry/polygon.h"
#include "geometry/pose.h"
#include "library/library.h"

#include <optional>

namespace rapt {

/// The corners of one piece's stitching: its convex hull in the cloth frame.
struct Footprint {
    std::string piece;
    Polyline hull;
    Box box;
};

/// A pose of the hoop, turned by `turnDeg`, whose field reaches every footprint whole; for a
/// two-sided frame each of them on one side of the band. Round numbers are preferred. Nothing if
/// there is none.
std::optional<Pose> placeHoop(const Hoop& hoop, double turnDeg,
                              const std::vector<const Footprint*>& footprints);

/// True if one hooping of this hoop (at any of its turns) could hold both places.
bool fitTogether(const Hoop& hoop, Vec2 a, Vec2 b);

} // namespace rapt
