#include "letter/columns/widen.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr double leastWidthMm = 0.8;
constexpr double mostWideningMm = 0.4;
constexpr double thinUnderMm = 0.4;
/// Capitals keep their height: nothing is widened farther than this beyond the whole part.
constexpr double beyondBoundsMm = 0.02;
/// A counter keeps at least this much open.
constexpr double openCounterMm = 0.5;

/// The width around a rung, so that the tapering ends of a wide stroke are not taken for thin.
double widthAround(const std::vector<Rung>& rungs, std::size_t i) {
    constexpr std::size_t reach = 5;
    const std::size_t from = i - std::min(i, reach), to = std::min(rungs.size() - 1, i + reach);
    double most = 0;
    for (std::size_t k = from; k <= to; ++k) most = std::max(most, rungs[k].width());
    return most;
}

double medianWidth(const std::vector<Rung>& rungs) {
    std::vector<double> widths;
    for (const Rung& r : rungs) widths.push_back(r.width());
    const auto middle = widths.begin() + static_cast<std::ptrdiff_t>(widths.size() / 2);
    std::nth_element(widths.begin(), middle, widths.end());
    return *middle;
}

/// How far the bare ground reaches beyond an end of a row, up to 3 mm.
double groundBeyond(const RowCutter& outline, Vec2 end, Vec2 outwards) {
    for (const Stretch& s : outline.inside(end, outwards))
        if (s.to > 0.05) return s.from > 0.02 ? s.from : 0;
    return 3;
}

} // namespace

void widenThinStrokes(std::vector<Column>& columns, const RowCutter& outline, const Box& bounds) {
    const Box room = bounds.grown(beyondBoundsMm);
    for (Column& column : columns) {
        std::vector<Rung> wider = column.rungs;
        double mean = 0;
        column.strokeMm = medianWidth(column.rungs);
        for (std::size_t i = 0; i < wider.size(); ++i) {
            const Rung& r = column.rungs[i];
            const double around = widthAround(column.rungs, i);
            if (around >= leastWidthMm || r.width() < 0.05) continue;
            const double each = std::min(mostWideningMm, leastWidthMm - around) / 2;
            const Vec2 dir = (r.right - r.left) * (1 / r.width());
            const double left = groundBeyond(outline, r.left, dir * -1);
            const double right = groundBeyond(outline, r.right, dir);
            const double out = std::clamp((left - openCounterMm) / 2, 0.0, each);
            const double in = std::clamp((right - openCounterMm) / 2, 0.0, each);
            wider[i].left = room.nearest(r.left - dir * out);
            wider[i].right = room.nearest(r.right + dir * in);
        }
        for (const Rung& r : wider) mean += r.width() / static_cast<double>(wider.size());
        column.thin = mean < thinUnderMm && !column.closed;
        column.rungs = std::move(wider);
    }
}

} // namespace rapt
