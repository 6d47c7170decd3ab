// Satin: to and fro between two rails, over its underlay.

#include "recipe/flatten.h"
#include "recipe/satin_rows.h"
#include "recipe/shape.h"

#include <algorithm>

namespace rapt {
namespace {

// Shorter and narrower columns have no room for a run below them.
constexpr double leastUnderlaidMm = 4.4, leastUnderlaidWidthMm = 0.8;
constexpr double sameMm = 0.05;

/// Points at fractions of a rail.
class Rail {
public:
    /// `paired`: each of the rail's own segments is the same share; otherwise equal lengths are.
    Rail(const Polyline& l, bool paired) : line(l), along{0} {
        for (std::size_t i = 1; i < line.size(); ++i)
            along.push_back(along.back() + (paired ? 1.0 : distance(line[i - 1], line[i])));
        if (along.back() == 0) along.back() = 1;
    }
    Vec2 at(double fraction) const {
        const double want = fraction * along.back();
        const auto it = std::upper_bound(along.begin() + 1, along.end() - 1, want);
        const auto k = static_cast<std::size_t>(it - along.begin());
        const double size = along[k] - along[k - 1];
        return lerp(line[k - 1], line[k], size == 0 ? 0 : (want - along[k - 1]) / size);
    }
    /// The fractions at which its points lie.
    void addKnots(std::vector<double>& knots) const {
        for (const double a : along) knots.push_back(a / along.back());
    }

private:
    const Polyline& line;
    std::vector<double> along;
};

/// The column between two rails with its rungs at even steps along the centre line, which is
/// straight between the points of the rails and so is measured exactly.
Column columnBetween(const ShapePart& part) {
    const Rail left(part.lines[0], part.paired), right(part.lines[1], part.paired);
    std::vector<double> knots;
    left.addKnots(knots);
    right.addKnots(knots);
    std::sort(knots.begin(), knots.end());
    knots.erase(std::unique(knots.begin(), knots.end()), knots.end());
    const auto middle = [&](double t) { return lerp(left.at(t), right.at(t), 0.5); };
    std::vector<double> lengths{0};
    for (std::size_t i = 1; i < knots.size(); ++i)
        lengths.push_back(lengths.back() + distance(middle(knots[i - 1]), middle(knots[i])));
    Column column;
    if (lengths.back() <= 0) return column;
    const double pitch = std::max(0.1, part.spacingMm);
    const int steps = 2 * std::max(1, static_cast<int>(std::lround(lengths.back() / pitch)));
    std::size_t k = 1;
    for (int i = 0; i <= steps; ++i) {
        const double want = lengths.back() * i / steps;
        while (k + 1 < lengths.size() && lengths[k] < want) ++k;
        const double size = lengths[k] - lengths[k - 1];
        const double t = lerp({knots[k - 1], 0}, {knots[k], 0},
                              size > 0 ? std::clamp((want - lengths[k - 1]) / size, 0.0, 1.0) : 0)
                             .x;
        column.rungs.push_back({left.at(t), right.at(t)});
    }
    return column;
}

double meanWidth(const Column& column) {
    double sum = 0;
    for (const Rung& r : column.rungs) sum += r.width();
    return sum / static_cast<double>(column.rungs.size());
}

void addUnderlay(Polyline& out, const ShapePart& part, const Column& column) {
    double size = 0;
    for (std::size_t i = 1; i < column.rungs.size(); ++i)
        size += distance(column.rungs[i - 1].middle(), column.rungs[i].middle());
    if (part.underlay == Underlay::none || size < leastUnderlaidMm ||
        meanWidth(column) < leastUnderlaidWidthMm)
        return;
    const std::size_t last = column.rungs.size() - 1;
    // A little short of both ends, so that nothing peeps out.
    const std::size_t inset = std::min<std::size_t>(2, last / 4);
    appendCentreRun(out, column, last - inset, inset, false);
    if (part.underlay == Underlay::full) appendUnderlay(out, column, 0, last);
}

} // namespace

std::vector<Polyline> stitchSatin(const ShapePart& given) {
    const ShapePart part = flattened(given);
    if (part.lines.size() < 2 || part.lines[0].size() < 2 || part.lines[1].size() < 2) return {};
    const Column column = columnBetween(part);
    if (column.rungs.empty()) return {};
    Polyline out;
    addUnderlay(out, part, column);
    appendCover(out, column, 0, column.rungs.size() - 1, part.pullMm);
    // Where the column comes to a point, its last crossings have no length.
    const auto same = [](Vec2 a, Vec2 b) { return distance(a, b) < sameMm; };
    out.erase(std::unique(out.begin(), out.end(), same), out.end());
    return {out};
}

} // namespace rapt
