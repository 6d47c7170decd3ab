#include "recipe/shape.h"

#include <algorithm>

namespace rapt {
namespace {

// A turn sharper than this gets a penetration of its own, so that corners stay corners.
constexpr double cornerCosine = 0.87; // 30 degrees
// How far a stitch may cut a curve.
constexpr double curveToleranceMm = 0.1;

bool isCorner(Vec2 before, Vec2 at, Vec2 after) {
    const Vec2 in = at - before;
    const Vec2 out = after - at;
    const double sizes = length(in) * length(out);
    return sizes == 0 || dot(in, out) / sizes < cornerCosine;
}

double distanceToSegment(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 ab = b - a;
    const double size = dot(ab, ab);
    const double t = size == 0 ? 0 : std::clamp(dot(p - a, ab) / size, 0.0, 1.0);
    return distance(p, a + ab * t);
}

/// Point at a distance along a polyline, walking on from a remembered place.
class Walker {
public:
    explicit Walker(const Polyline& l) : line(l) {}
    Vec2 at(double along) {
        while (segment + 2 < line.size() && start + size() < along) {
            start += size();
            ++segment;
        }
        const double s = size();
        return lerp(line[segment], line[segment + 1],
                    s == 0 ? 0 : std::clamp((along - start) / s, 0.0, 1.0));
    }

private:
    double size() const { return distance(line[segment], line[segment + 1]); }
    const Polyline& line;
    std::size_t segment = 0;
    double start = 0;
};

/// Divides one corner-free stretch into `count` equal steps.
Polyline divided(const Polyline& stretch, int count) {
    const double total = lengthOf(stretch);
    Polyline points;
    Walker walker(stretch);
    for (int i = 0; i <= count; ++i) points.push_back(walker.at(total * i / count));
    points.back() = stretch.back();
    return points;
}

/// How far the stretch's own points stray from the stitches.
double cutError(const Polyline& stretch, const Polyline& points) {
    double worst = 0;
    std::size_t k = 0;
    for (const Vec2& p : stretch) {
        double best = distanceToSegment(p, points[k], points[k + 1]);
        while (k + 2 < points.size()) {
            const double next = distanceToSegment(p, points[k + 1], points[k + 2]);
            if (next > best) break;
            best = next;
            ++k;
        }
        worst = std::max(worst, best);
    }
    return worst;
}

/// Equal steps of at most the stitch length, made shorter where a curve would be cut.
void appendStretch(Polyline& out, const Polyline& stretch, double stitchLength) {
    const double total = lengthOf(stretch);
    if (total == 0) return;
    int count = std::max(1, static_cast<int>(std::ceil(total / stitchLength - 1e-9)));
    Polyline points = divided(stretch, count);
    while (cutError(stretch, points) > curveToleranceMm && total / (count + 1) > 0.8)
        points = divided(stretch, ++count);
    out.insert(out.end(), points.begin() + (out.empty() ? 0 : 1), points.end());
}

} // namespace

std::vector<Polyline> stitchRun(const ShapePart& part) {
    std::vector<Polyline> result;
    const double stitchLength = std::clamp(part.stitchLengthMm, 0.3, maxStitchMm);
    for (const Polyline& line : part.lines) {
        Polyline out;
        Polyline stretch;
        for (std::size_t i = 0; i < line.size(); ++i) {
            stretch.push_back(line[i]);
            const bool last = i + 1 == line.size();
            if (last || (i > 0 && isCorner(line[i - 1], line[i], line[i + 1]))) {
                appendStretch(out, stretch, stitchLength);
                stretch = {line[i]};
            }
        }
        if (out.size() > 1) result.push_back(std::move(out));
    }
    return result;
}

} // namespace rapt
