#include "relieve/region.h"

namespace rapt {
namespace {

constexpr double leastStripMm = 0.5;
constexpr std::size_t mostStrips = 4096;

} // namespace

Region::Region(Contours contours) : lines(std::move(contours)), box(boundsOf(lines)) {
    if (box.empty()) return;
    stripMm = std::max(leastStripMm, box.height() / mostStrips);
    const std::size_t count = static_cast<std::size_t>(box.height() / stripMm) + 1;
    std::vector<std::vector<Edge>> sorted(count);
    for (const Polyline& line : lines)
        for (std::size_t i = 0, j = line.size() - 1; i < line.size(); j = i++) {
            const std::size_t low = stripOf(std::min(line[i].y, line[j].y));
            const std::size_t high = stripOf(std::max(line[i].y, line[j].y));
            for (std::size_t s = low; s <= high; ++s) sorted[s].push_back({line[j], line[i]});
        }
    for (const auto& strip : sorted) {
        strips.push_back(edges.size());
        edges.insert(edges.end(), strip.begin(), strip.end());
    }
    strips.push_back(edges.size());
}

std::size_t Region::stripOf(double y) const {
    const double k = std::clamp((y - box.minY) / stripMm, 0.0, 1e9);
    const auto count = static_cast<std::size_t>(box.height() / stripMm) + 1;
    return std::min(static_cast<std::size_t>(k), count - 1);
}

bool Region::contains(Vec2 p) const {
    if (edges.empty() || !box.contains(p)) return false;
    bool inside = false;
    const std::size_t s = stripOf(p.y);
    for (std::size_t i = strips[s]; i < strips[s + 1]; ++i) {
        const auto& [a, b] = edges[i];
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x)
            inside = !inside;
    }
    return inside;
}

void Region::crossings(Vec2 a, Vec2 b, std::vector<double>& at) const {
    at.clear();
    Box way;
    way.add(a);
    way.add(b);
    if (edges.empty() || !way.overlaps(box)) return;
    const Vec2 d = b - a;
    const std::size_t high = stripOf(way.maxY);
    for (std::size_t s = stripOf(way.minY); s <= high; ++s)
        for (std::size_t i = strips[s]; i < strips[s + 1]; ++i) {
            // On which side of the way a corner lies is asked in the same words for both edges that
            // meet there, so that a way through a corner is neither missed nor met by half.
            const double sideA = cross(d, edges[i].a - a), sideB = cross(d, edges[i].b - a);
            if ((sideA > 0) == (sideB > 0)) continue;
            const Vec2 met = lerp(edges[i].a, edges[i].b, sideA / (sideA - sideB));
            const double t = dot(met - a, d) / dot(d, d);
            if (t > 0 && t < 1) at.push_back(t);
        }
    std::sort(at.begin(), at.end());
    // An edge in several strips is met more than once; where the way touches a corner the parts on
    // both sides are asked anyway.
    at.erase(std::unique(at.begin(), at.end(), [](double x, double y) { return y - x < 1e-9; }),
             at.end());
}

double Region::insideMm(Vec2 a, Vec2 b) const {
    double sum = 0;
    eachPart(a, b,
             [&](Vec2 from, Vec2 to, bool inside) { sum += inside ? distance(from, to) : 0; });
    return sum;
}

} // namespace rapt
