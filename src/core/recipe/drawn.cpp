#include "recipe/drawn.h"

namespace rapt {
namespace {

constexpr double shortestMm = 1;
constexpr std::size_t averagedOver = 2; ///< neighbours on both sides

Polyline averaged(const Polyline& line) {
    Polyline result = line;
    for (std::size_t i = 1; i + 1 < line.size(); ++i) {
        const std::size_t reach = std::min({averagedOver, i, line.size() - 1 - i});
        Vec2 sum;
        for (std::size_t k = i - reach; k <= i + reach; ++k) sum = sum + line[k];
        result[i] = sum * (1 / static_cast<double>(2 * reach + 1));
    }
    return result;
}

void keepCorners(const Polyline& line, std::size_t first, std::size_t last, double tolerance,
                 std::vector<bool>& kept) {
    double most = tolerance;
    std::size_t at = 0;
    for (std::size_t i = first + 1; i < last; ++i) {
        const double d = distanceToSegment(line[i], line[first], line[last]);
        if (d <= most) continue;
        most = d;
        at = i;
    }
    if (at == 0) return;
    kept[at] = true;
    keepCorners(line, first, at, tolerance, kept);
    keepCorners(line, at, last, tolerance, kept);
}

} // namespace

Underlay usualUnderlay(StitchKind kind, double mostLayers) {
    const bool light = mostLayers > 0 && mostLayers < 2.6;
    return kind == StitchKind::satin  ? (light ? Underlay::light : Underlay::full)
           : kind == StitchKind::fill ? Underlay::light
                                      : Underlay::none;
}

std::size_t leastPoints(const ShapePart& part) { return part.kind == StitchKind::fill ? 3 : 2; }

std::optional<ShapePart> drawnPart(StitchKind kind, const std::vector<Vec2>& points,
                                   const Thread& thread, bool smooth) {
    ShapePart part;
    part.kind = kind;
    part.thread = thread;
    part.smooth = smooth;
    part.underlay = usualUnderlay(kind);
    part.stitchLengthMm = kind == StitchKind::fill ? 3 : 2.5;
    if (kind != StitchKind::satin) {
        if (points.size() < leastPoints(part)) return std::nullopt;
        part.lines = {points};
        return part;
    }
    if (points.size() < 4) return std::nullopt;
    part.paired = true;
    part.lines.resize(2);
    for (std::size_t i = 0; i + 1 < points.size(); i += 2) {
        part.lines[0].push_back(points[i]);
        part.lines[1].push_back(points[i + 1]);
    }
    return part;
}

Polyline steadied(const Polyline& drawn, double toleranceMm) {
    Polyline line;
    for (const Vec2& p : drawn)
        if (line.empty() || distance(line.back(), p) > 1e-3) line.push_back(p);
    if (line.size() < 3) return line;
    line = averaged(line);
    std::vector<bool> kept(line.size(), false);
    kept.front() = kept.back() = true;
    keepCorners(line, 0, line.size() - 1, toleranceMm, kept);
    Polyline steady;
    for (std::size_t i = 0; i < line.size(); ++i)
        if (kept[i]) steady.push_back(line[i]);
    return steady;
}

std::optional<ShapePart> drawnAlong(const Polyline& line, double satinWidthMm,
                                    const Thread& thread) {
    if (line.size() < 2 || lengthOf(line) < shortestMm) return std::nullopt;
    if (satinWidthMm <= 0) return drawnPart(StitchKind::run, line, thread, line.size() > 2);
    std::vector<Vec2> rails;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const Vec2 way = line[std::min(i + 1, line.size() - 1)] - line[i == 0 ? 0 : i - 1];
        const Vec2 side = Vec2{-way.y, way.x} * (satinWidthMm / 2 / std::max(1e-9, length(way)));
        rails.push_back(line[i] + side);
        rails.push_back(line[i] - side);
    }
    return drawnPart(StitchKind::satin, rails, thread, line.size() > 2);
}

ShapePart filledOutline(const Contours& outline, const Thread& thread) {
    ShapePart part;
    part.kind = StitchKind::fill;
    part.thread = thread;
    part.underlay = usualUnderlay(part.kind);
    part.lines = outline;
    return part;
}

Shape centred(ShapePart part, Vec2& middle) {
    middle = boundsOf(part.lines).centre();
    for (Polyline& line : part.lines)
        for (Vec2& p : line) p = p - middle;
    Shape shape;
    shape.parts.push_back(std::move(part));
    return shape;
}

} // namespace rapt
