#include "divide/apart.h"

#include "divide/frames.h"

#include <algorithm>

namespace rapt {
namespace {

// Sample points lie on a grid this fine; each is a needle point.
constexpr double gridMm = 10;

/// Box that a span fills, seen in the direction in which the frame is turned.
struct Reach {
    double turnDeg = 0, width = 0, height = 0;
};

std::vector<Reach> reachesOf(const std::vector<Hoop>& hoops, Span span) {
    std::vector<Reach> reaches;
    for (const Hoop& h : hoops)
        for (const double turn : h.turns) {
            if (span == Span::frame) {
                reaches.push_back({turn, h.reach().width(), h.reach().height()});
                continue;
            }
            for (const FramePosition& p : h.positions)
                reaches.push_back({turn + p.turnDeg, h.widthMm, h.heightMm});
        }
    return reaches;
}

std::vector<Vec2> samplesOf(const std::vector<Part>& parts) {
    std::map<std::pair<int, int>, Vec2> cells;
    for (const Part& part : parts)
        for (const Stitch& s : part.list->stitches) {
            if (s.op != Op::stitch) continue;
            const Vec2 p = part.map(s.at());
            cells.try_emplace({static_cast<int>(std::floor(p.x / gridMm)),
                               static_cast<int>(std::floor(p.y / gridMm))},
                              p);
        }
    std::vector<Vec2> samples;
    for (const auto& [cell, p] : cells) samples.push_back(p);
    // Corners of the hulls reach farther than the first point of a cell.
    for (const Part& part : parts)
        samples.insert(samples.end(), part.hull.begin(), part.hull.end());
    return samples;
}

} // namespace

int fewestApart(const std::vector<Part>& parts, const std::vector<Hoop>& hoops, Span span) {
    const std::vector<Reach> reaches = reachesOf(hoops, span);
    const auto together = [&](Vec2 a, Vec2 b) {
        return std::any_of(reaches.begin(), reaches.end(), [&](const Reach& r) {
            const Vec2 d = turned(b - a, -r.turnDeg);
            return std::abs(d.x) <= r.width + 2 * fieldRoundingMm + 0.002 &&
                   std::abs(d.y) <= r.height + 2 * fieldRoundingMm + 0.002;
        });
    };
    std::vector<Vec2> samples = samplesOf(parts);
    int most = samples.empty() ? 0 : 1;
    // Sweeps in several directions, each taking what lies apart from all that it took.
    for (const Vec2 way : {Vec2{1, 0.01}, Vec2{-1, 0.01}, Vec2{0.01, 1}, Vec2{0.01, -1}, Vec2{1, 1},
                           Vec2{1, -1}, Vec2{-1, 1}, Vec2{-1, -1}}) {
        std::sort(samples.begin(), samples.end(), [&](Vec2 a, Vec2 b) {
            const double x = dot(a, way), y = dot(b, way);
            return x != y ? x < y : std::pair{a.x, a.y} < std::pair{b.x, b.y};
        });
        std::vector<Vec2> taken;
        for (const Vec2& p : samples)
            if (std::none_of(taken.begin(), taken.end(), [&](Vec2 t) { return together(t, p); }))
                taken.push_back(p);
        most = std::max(most, static_cast<int>(taken.size()));
    }
    return most;
}

} // namespace rapt
