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
/// 1. Walks from one grid line to the next (Amanatides and Woo 1987).
template<class Visit>
void eachCellCrossed(const Stitch& a, const Stitch& b, Visit visit) {
    int i = floorDiv(a.x, cellUnits);
    int j = floorDiv(a.y, cellUnits);
    const double dx = static_cast<double>(b.x) - a.x;
    const double dy = static_cast<double>(b.y) - a.y;
    const int stepX = dx > 0 ? 1 : -1;
    const int stepY = dy > 0 ? 1 : -1;
    const double never = 2.0;
    const double deltaX = dx != 0 ? cellUnits / std::abs(dx) : never;
    const double deltaY = dy != 0 ? cellUnits / std::abs(dy) : never;
    const auto firstLine = [](int cell, int step, std::int32_t from, double d) {
        const double line = static_cast<double>(cell + (step > 0 ? 1 : 0)) * cellUnits;
        return d != 0 ? (line - from) / d : 2.0;
    };
    double nextX = firstLine(i, stepX, a.x, dx);
    double nextY = firstLine(j, stepY, a.y, dy);
    double t = 0;
    while (true) {
        const double next = std::min({nextX, nextY, 1.0});
        // What rounding leaves beside a grid line or corner is not a crossing.
        if (next - t > 1e-9) visit(i, j, next - t);
        if (next > 1.0 - 1e-9) return;
        t = next;
        if (nextX <= nextY) {
            i += stepX;
            nextX += deltaX;
        } else {
            j += stepY;
            nextY += deltaY;
        }
    }
}

} // namespace rapt
