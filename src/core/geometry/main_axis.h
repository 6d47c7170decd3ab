#pragma once
// The straight line that places lie along.

#include "geometry/polygon.h"

namespace rapt {

/// Through the middle of the places, the way they spread most (total least squares in the plane).
struct MainAxis {
    Vec2 middle;
    double turn = 0;   ///< radians, in (−π/2, π/2]
    double spread = 0; ///< sum of squared distances from the middle
    Vec2 way() const { return {std::cos(turn), std::sin(turn)}; }
};
/// Of at least one place.
MainAxis mainAxisOf(const Polyline& places);

} // namespace rapt
