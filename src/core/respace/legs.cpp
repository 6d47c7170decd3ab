#include "respace/legs.h"

namespace rapt {
namespace {

// Within 22 degrees of the leg so far and 32 of the stitch before, a stitch carries on.
constexpr double straightCosine = 0.927, bendCosine = 0.848;
// The first stitch of a row may climb from the row before, at up to 42 degrees.
constexpr double climbCosine = 0.743;
constexpr double longestClimbMm = 2.2;
// Legs that run back within 32 degrees are rows of one fill or crossings of one satin.
constexpr double backCosine = -0.848;
// Crossings of a zigzag turn by more than a right angle.
constexpr double zigzagCosine = -0.1;
// Rows nearer than this are one line sewn twice, farther ones are no neighbours.
constexpr double nearestRowMm = 0.02, farthestRowMm = 3.2;
// Share of the shorter row that must lie beside the other.
constexpr double leastOverlap = 0.4;

Leg legBetween(std::span<const Vec2> points, std::size_t from, std::size_t to) {
    Leg leg{static_cast<std::uint32_t>(from),
            static_cast<std::uint32_t>(to),
            points[from],
            points[to],
            {},
            0};
    leg.size = std::sqrt(dot(leg.b - leg.a, leg.b - leg.a));
    if (leg.size > 0) leg.way = (leg.b - leg.a) * (1 / leg.size);
    return leg;
}

/// Distance of the second leg's line from the first's, in the middle of where they overlap.
std::optional<double> offsetBeside(const Leg& first, const Leg& second, double share) {
    Vec2 axis = first.way - second.way;
    axis = axis * (1 / std::sqrt(dot(axis, axis)));
    const double a0 = dot(first.a, axis), a1 = dot(first.b, axis);
    const double b0 = dot(second.b, axis), b1 = dot(second.a, axis);
    const double low = std::max(a0, b0), high = std::min(a1, b1);
    if (high - low < share * std::min(a1 - a0, b1 - b0) || a1 <= a0 || b1 <= b0)
        return std::nullopt;
    const double middle = (low + high) / 2;
    const Vec2 onFirst = lerp(first.a, first.b, (middle - a0) / (a1 - a0));
    const Vec2 onSecond = lerp(second.b, second.a, (middle - b0) / (b1 - b0));
    const double offset = cross(axis, onSecond - onFirst);
    if (std::abs(offset) < nearestRowMm || std::abs(offset) > farthestRowMm) return std::nullopt;
    return offset;
}

} // namespace

std::vector<Leg> straightLegs(std::span<const Vec2> points, std::size_t first, std::size_t last) {
    std::vector<Leg> legs;
    for (std::size_t i = first; i < last;) {
        Leg leg = legBetween(points, i, i + 1);
        Vec2 lastWay = leg.way;
        while (leg.size > 0 && leg.to < last) {
            const Leg next = legBetween(points, leg.to, leg.to + 1);
            if (next.size == 0) break;
            const double along = dot(leg.way, next.way);
            const bool climbs = leg.isSingle() && leg.size < longestClimbMm && along > climbCosine;
            if (!climbs && (along < straightCosine || dot(lastWay, next.way) < bendCosine)) break;
            lastWay = next.way;
            leg = legBetween(points, leg.from, next.to);
        }
        i = leg.to;
        legs.push_back(leg);
    }
    return legs;
}

std::optional<double> besideEachOther(const Leg& first, const Leg& second) {
    if (first.size == 0 || second.size == 0 || dot(first.way, second.way) > backCosine)
        return std::nullopt;
    return offsetBeside(first, second, leastOverlap);
}

std::optional<double> zigzag(const Leg& first, const Leg& second) {
    if (!first.isSingle() || !second.isSingle() || first.to != second.from) return std::nullopt;
    if (first.size == 0 || second.size == 0 || dot(first.way, second.way) > zigzagCosine)
        return std::nullopt;
    return offsetBeside(first, second, 0);
}

} // namespace rapt
