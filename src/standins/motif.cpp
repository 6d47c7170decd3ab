#include "standins/motif.h"

#include <algorithm>
#include <limits>

#include <numbers>

namespace rapt {
namespace {

Polyline circle(Vec2 at, double radius) {
    Polyline line;
    for (int i = 0; i < 72; ++i) {
        const double t = 2 * std::numbers::pi * i / 72;
        line.push_back(at + Vec2{std::cos(t), std::sin(t)} * radius);
    }
    return line;
}

/// Pointed, widest nearer its stem, with a gentle wave along its edges.
Polyline leaf(double length, double width) {
    Polyline line;
    constexpr int n = 80;
    for (const int side : {1, -1})
        for (int i = 0; i < n; ++i) {
            const double t = side > 0 ? static_cast<double>(i) / n : 1 - static_cast<double>(i) / n;
            const double y = width / 2 * std::sin(std::numbers::pi * std::pow(t, 0.75)) *
                             (1.05 - 0.3 * t + 0.04 * std::sin(9 * std::numbers::pi * t));
            line.push_back({length * (t - 0.5), side * y});
        }
    return line;
}

} // namespace

std::vector<PrintedPatch> printedMotif() {
    return {{{leaf(46, 26), circle({-7, 0}, 3.5)}, {112, 142, 58}},
            {{circle({14, 19}, 4.5)}, {176, 58, 62}},
            {{circle({23, 16}, 3.5)}, {176, 58, 62}}};
}

double farthestFrom(const Contours& truth, const Contours& outline) {
    double farthest = 0;
    for (const Polyline& line : outline)
        for (const Vec2& p : line) {
            double least = std::numeric_limits<double>::infinity();
            for (const Polyline& r : truth)
                for (std::size_t i = 0; i < r.size(); ++i)
                    least = std::min(least, distanceToSegment(p, r[i], r[(i + 1) % r.size()]));
            farthest = std::max(farthest, least);
        }
    return farthest;
}

} // namespace rapt
