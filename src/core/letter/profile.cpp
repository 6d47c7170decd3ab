#include "letter/profile.h"

#include "geometry/segment_grid.h"

#include <algorithm>
#include <limits>

namespace rapt {
namespace {

/// The farthest x at each height: to the right if `sign` is 1, to the left if −1.
std::vector<double> profileOf(const Contours& contours, double fromY, std::size_t count,
                              double step, double sign) {
    std::vector<double> far(count, -std::numeric_limits<double>::infinity());
    for (const Polyline& line : contours)
        for (std::size_t i = 0; i < line.size(); ++i) {
            Vec2 a = line[i], b = line[(i + 1) % line.size()];
            if (a.y > b.y) std::swap(a, b);
            const double first = std::ceil((a.y - fromY) / step),
                         last = std::floor((b.y - fromY) / step);
            for (double k = std::max(0.0, first); k <= last && k < static_cast<double>(count);
                 ++k) {
                const double y = fromY + k * step;
                const double t = b.y > a.y ? (y - a.y) / (b.y - a.y) : 0;
                double& own = far[static_cast<std::size_t>(k)];
                own = std::max(own, sign * lerp(a, b, t).x);
            }
        }
    return far;
}

std::vector<Segment> segmentsOf(const Contours& contours) {
    std::vector<Segment> segments;
    for (const Polyline& line : contours)
        for (std::size_t i = 0; i < line.size(); ++i)
            segments.push_back({line[i], line[(i + 1) % line.size()]});
    return segments;
}

} // namespace

double gapAlong(const Contours& left, const Contours& right, double stepMm) {
    const Box a = boundsOf(left), b = boundsOf(right);
    const double from = std::max(a.minY, b.minY), to = std::min(a.maxY, b.maxY);
    if (!(to > from)) return std::numeric_limits<double>::infinity();
    const auto count = static_cast<std::size_t>(std::min(20000.0, (to - from) / stepMm)) + 1;
    const auto rights = profileOf(left, from, count, stepMm, 1);
    const auto lefts = profileOf(right, from, count, stepMm, -1);
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t k = 0; k < count; ++k)
        if (std::isfinite(rights[k]) && std::isfinite(lefts[k]))
            least = std::min(least, -lefts[k] - rights[k]);
    return least;
}

double distanceBetween(const Contours& a, const Contours& b) {
    const SegmentGrid grid(segmentsOf(b));
    double least = std::numeric_limits<double>::infinity();
    for (const Polyline& line : a)
        for (std::size_t i = 0; i < line.size(); ++i) {
            const Vec2 p = line[i], q = line[(i + 1) % line.size()];
            const int steps = 1 + static_cast<int>(distance(p, q) / 0.2);
            for (int k = 0; k < steps; ++k) {
                const Vec2 at = lerp(p, q, static_cast<double>(k) / steps);
                if (contains(b, at)) return 0;
                if (const auto near = grid.nearest(at, std::min(least, 50.0)))
                    least = std::min(least, near->distance);
            }
        }
    return least;
}

} // namespace rapt
