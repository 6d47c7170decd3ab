#include "geometry/main_axis.h"

namespace rapt {

MainAxis mainAxisOf(const Polyline& places) {
    MainAxis axis;
    for (const Vec2& p : places) axis.middle = axis.middle + p;
    axis.middle = axis.middle * (1 / static_cast<double>(places.size()));
    double xx = 0, xy = 0, yy = 0;
    for (const Vec2& p : places) {
        const Vec2 d = p - axis.middle;
        xx += d.x * d.x;
        xy += d.x * d.y;
        yy += d.y * d.y;
    }
    axis.turn = std::atan2(2 * xy, xx - yy) / 2;
    axis.spread = xx + yy;
    return axis;
}

} // namespace rapt
