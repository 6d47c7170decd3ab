#pragma once
// The cells that a stitch crosses, and how much of it lies in each. Internal to load and letter.

#include "load/load_map.h"

#include <cmath>

namespace rapt {

inline constexpr std::int32_t cellUnits = static_cast<std::int32_t>(cellMm * unitsPerMm + 0.5);
static_assert(cellUnits * 10 == 4 * unitsPerMm);

/// Rounds towards the lesser cell, also below 0.
inline int floorDiv(int a, int b) { return a >= 0 ? a / b : -((-a + b - 1) / b); }

/// Calls `visit(i, j, share)` for each cell between two records; the shares of the length add up to
/// 1. Walks from one grid line to the next (Amanatides and Woo 1987), as many as lie between.
template<class Visit>
void eachCellCrossed(const Stitch& a, const Stitch& b, Visit visit) {
    int i = floorDiv(a.x, cellUnits), j = floorDiv(a.y, cellUnits);
    const int acrossX = floorDiv(b.x, cellUnits) - i, acrossY = floorDiv(b.y, cellUnits) - j;
    const int stepX = acrossX < 0 ? -1 : 1, stepY = acrossY < 0 ? -1 : 1;
    constexpr double never = 2.0;
    const double perX = acrossX != 0 ? 1.0 / (static_cast<double>(b.x) - a.x) : 0;
    const double perY = acrossY != 0 ? 1.0 / (static_cast<double>(b.y) - a.y) : 0;
    const double deltaX = cellUnits * std::abs(perX), deltaY = cellUnits * std::abs(perY);
    const auto firstLine = [](int cell, int step, std::int32_t from, double per) {
        return (static_cast<double>(cell + (step > 0)) * cellUnits - from) * per;
    };
    double nextX = acrossX != 0 ? firstLine(i, stepX, a.x, perX) : never;
    double nextY = acrossY != 0 ? firstLine(j, stepY, a.y, perY) : never;
    // What rounding leaves beside a grid line or corner is not a crossing.
    constexpr double nothing = 1e-9;
    double t = 0;
    for (int left = std::abs(acrossX) + std::abs(acrossY); left > 0; --left) {
        const bool alongX = nextX <= nextY;
        const double next = alongX ? nextX : nextY;
        if (next - t > nothing) visit(i, j, next - t);
        t = next;
        i += alongX ? stepX : 0;
        j += alongX ? 0 : stepY;
        nextX += alongX ? deltaX : 0;
        nextY += alongX ? 0 : deltaY;
    }
    if (1 - t > nothing) visit(i, j, 1 - t);
}

} // namespace rapt
