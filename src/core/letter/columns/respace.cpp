#include "letter/columns/respace.h"

#include <algorithm>

namespace rapt {
namespace {

/// Length of the line of middles from rung to rung, sideways drift limited.
double advance(const Rung& a, const Rung& b, double mostDenser) {
    const Vec2 step = b.middle() - a.middle();
    const Vec2 row = lerp(a.right, b.right, 0.5) - lerp(a.left, b.left, 0.5);
    const double width = length(row);
    const double ahead = width > 0 ? std::abs(cross(step, row)) / width : length(step);
    return std::min(length(step), mostDenser * std::max(ahead, 0.02));
}

} // namespace

void respace(Column& column, double pitchMm, double mostDenser) {
    const std::vector<Rung>& old = column.rungs;
    if (old.size() < 3) return;
    std::vector<double> along{0};
    for (std::size_t i = 1; i < old.size(); ++i)
        along.push_back(along.back() + advance(old[i - 1], old[i], mostDenser));
    const double half = pitchMm / 2, total = along.back();
    if (total < half) return;
    const int count = std::max(1, static_cast<int>(std::lround(total / half)));
    const double even = total / count;
    // Short columns keep the pitch, and give up a little of their ends.
    const bool fits = even > 0.96 * half && even < 1.06 * half;
    const int steps = fits ? count : std::max(1, static_cast<int>(total / half));
    const double step = fits ? even : half;
    const double start = (total - step * steps) / 2;
    std::vector<Rung> rungs;
    std::size_t k = 1;
    for (int i = 0; i <= steps; ++i) {
        const double want = std::clamp(start + i * step, 0.0, total);
        while (k + 1 < along.size() && along[k] < want) ++k;
        const double size = along[k] - along[k - 1];
        const double t = size > 0 ? std::clamp((want - along[k - 1]) / size, 0.0, 1.0) : 0;
        rungs.push_back(
            {lerp(old[k - 1].left, old[k].left, t), lerp(old[k - 1].right, old[k].right, t)});
    }
    column.rungs = std::move(rungs);
}

} // namespace rapt
