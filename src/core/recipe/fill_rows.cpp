#include "recipe/fill_rows.h"

namespace rapt {
namespace {

// Rows shorter than this are the very end of a tip.
constexpr double leastRowMm = 0.03;
constexpr double thinReachMm = 0.8;
constexpr double hairMm =
    0.02; // edges that are level but for rounding are met along all their length
constexpr double mostAdjustment = 0.025; ///< of the spacing

} // namespace

FillRows::FillRows(const Contours& turned, double spacingMm, double pullMm,
                   std::optional<double> through)
    : spacing(spacingMm) {
    const Box box = boundsOf(turned);
    // The first and the last row lie on the edge, so that the fill is as high as its outline: the
    // spacing gives way by a hair.
    const double usable = box.height();
    double steps = std::round(usable / spacing);
    if (through) {
        firstNumber = static_cast<int>(std::ceil((box.minY - *through) / spacing));
        firstY = *through + firstNumber * spacing;
        steps = std::floor((box.maxY - firstY) / spacing);
    } else {
        if (steps > 0 && std::abs(usable / steps / spacing - 1) <= mostAdjustment)
            spacing = usable / steps;
        else
            steps = std::floor(usable / spacing);
        firstY = box.minY + (box.height() - steps * spacing) / 2;
    }
    const int count = static_cast<int>(steps) + 1;
    std::vector<std::vector<double>> crossings(static_cast<std::size_t>(count));
    collectCrossings(turned, crossings);
    for (int r = 0; r < count; ++r) addRow(r, crossings[static_cast<std::size_t>(r)], pullMm / 2);
    link();
}

void FillRows::collectCrossings(const Contours& turned,
                                std::vector<std::vector<double>>& crossings) {
    const int count = static_cast<int>(crossings.size());
    // Rows on the very edge are measured a hair inside.
    const auto level = [&](int r) {
        return y(r) + (r == 0 ? hairMm : 0) - (r == count - 1 ? hairMm : 0);
    };
    for (const Polyline& c : turned)
        for (std::size_t i = 0, j = c.size() - 1; i < c.size(); j = i++) {
            const Vec2 a = c[j].y < c[i].y ? c[j] : c[i];
            const Vec2 b = c[j].y < c[i].y ? c[i] : c[j];
            if (a.y == b.y) continue;
            const int from = std::max(0, static_cast<int>(std::ceil((a.y - firstY) / spacing)));
            for (int r = std::max(0, from - 1); r < count && level(r) < b.y; ++r)
                if (level(r) >= a.y)
                    crossings[static_cast<std::size_t>(r)].push_back(
                        a.x + (b.x - a.x) * (level(r) - a.y) / (b.y - a.y));
        }
}

void FillRows::addRow(int row, std::vector<double>& xs, double reach) {
    std::sort(xs.begin(), xs.end());
    const std::size_t firstOfRow = intervals.size();
    for (std::size_t k = 0; k + 1 < xs.size(); k += 2) {
        if (xs[k + 1] - xs[k] < leastRowMm) continue;
        const double left = xs[k] - reach;
        const double right = xs[k + 1] + reach;
        if (intervals.size() > firstOfRow && left < intervals.back().right)
            intervals.back().right = std::max(intervals.back().right, right);
        else if (right - left >= leastRowMm)
            intervals.push_back({left, right, row, {}, {}, -1});
    }
}

void FillRows::link() {
    std::size_t start = 0; // first interval of the row before
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        while (start < i && intervals[start].row < intervals[i].row - 1) ++start;
        for (std::size_t k = start; k < i && intervals[k].row < intervals[i].row; ++k) {
            // Rows across a slanting tip need not overlap to hang together.
            const double near = intervals[k].isThin() || intervals[i].isThin() ? thinReachMm : 0;
            if (intervals[k].left >= intervals[i].right + near ||
                intervals[i].left >= intervals[k].right + near)
                continue;
            intervals[i].above.push_back(static_cast<int>(k));
            intervals[k].below.push_back(static_cast<int>(i));
        }
    }
}

int FillRows::nearest(Vec2 p) const {
    int best = -1;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        const RowInterval& r = intervals[i];
        const double d = distance(p, {std::clamp(p.x, r.left, r.right), y(r.row)});
        if (d < least) {
            least = d;
            best = static_cast<int>(i);
        }
    }
    return best;
}

std::vector<Section> sectionsOf(FillRows& rows) {
    std::vector<RowInterval>& intervals = rows.intervals;
    std::vector<Section> sections;
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        if (intervals[i].section >= 0) continue;
        Section section;
        int at = static_cast<int>(i);
        while (true) {
            RowInterval& now = intervals[static_cast<std::size_t>(at)];
            now.section = static_cast<int>(sections.size());
            section.intervals.push_back(at);
            if (now.below.size() != 1) break;
            const int next = now.below[0];
            const RowInterval& n = intervals[static_cast<std::size_t>(next)];
            if (n.above.size() != 1 || n.section >= 0) break;
            at = next;
        }
        sections.push_back(std::move(section));
    }
    return sections;
}

} // namespace rapt
