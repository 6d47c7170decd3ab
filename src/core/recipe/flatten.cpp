#include "recipe/flatten.h"

namespace rapt {
namespace {

constexpr double flatStepMm = 0.4;
constexpr int mostPerSegment = 400;

/// One point of the segment from b to c; a and d are its neighbours.
Vec2 catmullRom(Vec2 a, Vec2 b, Vec2 c, Vec2 d, double t) {
    const auto knot = [](Vec2 p, Vec2 q) { return std::sqrt(std::max(1e-9, distance(p, q))); };
    const double t1 = knot(a, b);
    const double t2 = t1 + knot(b, c);
    const double t3 = t2 + knot(c, d);
    const double at = t1 + (t2 - t1) * t;
    const Vec2 a1 = lerp(a, b, at / t1);
    const Vec2 a2 = lerp(b, c, (at - t1) / (t2 - t1));
    const Vec2 a3 = lerp(c, d, (at - t2) / (t3 - t2));
    const Vec2 b1 = lerp(a1, a2, at / t2);
    const Vec2 b2 = lerp(a2, a3, (at - t1) / (t3 - t1));
    return lerp(b1, b2, (at - t1) / (t2 - t1));
}

int perSegmentOf(const std::vector<Polyline>& lines) {
    double longest = 0;
    for (const Polyline& line : lines)
        for (std::size_t i = 1; i < line.size(); ++i)
            longest = std::max(longest, distance(line[i - 1], line[i]));
    return std::clamp(static_cast<int>(std::ceil(longest / flatStepMm)), 1, mostPerSegment);
}

} // namespace

Polyline smoothCurve(const Polyline& points, bool closed, int perSegment) {
    const std::size_t n = points.size();
    if (n < 3) return points;
    // Beyond an open end the curve goes on as it came.
    const auto at = [&](std::ptrdiff_t i) -> Vec2 {
        const auto count = static_cast<std::ptrdiff_t>(n);
        if (closed) return points[static_cast<std::size_t>((i % count + count) % count)];
        if (i < 0) return points[0] * 2 - points[1];
        if (i >= count) return points[n - 1] * 2 - points[n - 2];
        return points[static_cast<std::size_t>(i)];
    };
    Polyline curve;
    const auto segments = static_cast<std::ptrdiff_t>(closed ? n : n - 1);
    for (std::ptrdiff_t s = 0; s < segments; ++s)
        for (int k = 0; k < perSegment; ++k)
            curve.push_back(catmullRom(at(s - 1), at(s), at(s + 1), at(s + 2),
                                       static_cast<double>(k) / perSegment));
    if (!closed) curve.push_back(points.back());
    return curve;
}

Polyline withoutCrumbs(const Polyline& line) {
    constexpr double crumbMm = 0.01;
    Polyline kept;
    for (const Vec2& p : line)
        if (kept.empty() || distance(kept.back(), p) > crumbMm) kept.push_back(p);
    if (kept.size() > 1) kept.back() = line.back();
    return kept;
}

ShapePart flattened(const ShapePart& part) {
    if (!part.smooth) return part;
    ShapePart flat = part;
    flat.smooth = false;
    const int perSegment = perSegmentOf(part.lines);
    for (Polyline& line : flat.lines)
        line = smoothCurve(line, part.kind == StitchKind::fill, perSegment);
    return flat;
}

} // namespace rapt
