// Satin: to and fro between two rails, over its underlay.

#include "recipe/flatten.h"
#include "recipe/shape.h"

#include <algorithm>

namespace rapt {
namespace {

// Wider columns get penetrations inside, so that no loose loop can snag.
constexpr double splitOverMm = snagStitchMm;
constexpr double underlayStitchMm = 2.2;
constexpr double zigzagPitchMm = 2.0;
// Columns narrower than this have no room for edge runs, wider ones need a zigzag as well.
constexpr double edgeRunsFromMm = 1.6;
constexpr double zigzagFromMm = 4.0;
constexpr double edgeInset = 0.22; ///< of the width, on each side
constexpr int steps = 400;         ///< for measuring along the column

/// Points at fractions of a rail.
class Rail {
public:
    /// `paired`: each of the rail's own segments is the same share; otherwise equal lengths are.
    Rail(const Polyline& l, bool paired) : line(l), along{0} {
        for (std::size_t i = 1; i < line.size(); ++i)
            along.push_back(along.back() + (paired ? 1.0 : distance(line[i - 1], line[i])));
    }
    Vec2 at(double fraction) const {
        const double want = fraction * along.back();
        const auto it = std::upper_bound(along.begin() + 1, along.end() - 1, want);
        const auto k = static_cast<std::size_t>(it - along.begin());
        const double size = along[k] - along[k - 1];
        return lerp(line[k - 1], line[k], size == 0 ? 0 : (want - along[k - 1]) / size);
    }

private:
    const Polyline& line;
    std::vector<double> along;
};

/// The column between two rails, addressed by the length of its centre line.
class Column {
public:
    Column(const ShapePart& part)
        : left(part.lines[0], part.paired), right(part.lines[1], part.paired) {
        Vec2 last = centreAt(0);
        for (int i = 1; i <= steps; ++i) {
            const Vec2 p = centreAt(static_cast<double>(i) / steps);
            lengths.push_back(lengths.back() + distance(last, p));
            last = p;
        }
    }
    double length() const { return lengths.back(); }
    /// The fraction of the rails at a share of the centre line's length.
    double fractionAt(double share) const {
        const double want = std::clamp(share, 0.0, 1.0) * length();
        const auto it = std::upper_bound(lengths.begin() + 1, lengths.end() - 1, want);
        const auto k = static_cast<std::size_t>(it - lengths.begin());
        const double size = lengths[k] - lengths[k - 1];
        return (static_cast<double>(k - 1) + (size == 0 ? 0 : (want - lengths[k - 1]) / size)) /
               steps;
    }
    double meanWidth() const {
        double sum = 0;
        for (int i = 0; i <= 20; ++i) sum += distance(left.at(i / 20.0), right.at(i / 20.0));
        return sum / 21;
    }
    /// The place across the column: 0 on the left rail, 1 on the right, at a share of its length.
    Vec2 across(double share, double side) const {
        const double t = fractionAt(share);
        return lerp(left.at(t), right.at(t), side);
    }
    /// A place on a rail, moved outwards by half the pull compensation.
    Vec2 edge(double share, bool onRight, double pullMm) const {
        const Vec2 own = across(share, onRight ? 1 : 0);
        const Vec2 other = across(share, onRight ? 0 : 1);
        const double width = distance(own, other);
        return width < 1e-9 ? own : own + (own - other) * (pullMm / 2 / width);
    }

private:
    Vec2 centreAt(double t) const { return lerp(left.at(t), right.at(t), 0.5); }
    Rail left, right;
    std::vector<double> lengths{0};
};

/// Crosses from the last point to `to`; wide crossings are split at places that move from one
/// crossing to the next, so that no furrow shows.
void appendCrossing(Polyline& out, Vec2 to, int index) {
    const Vec2 from = out.back();
    const double size = distance(from, to);
    if (size > splitOverMm) {
        const int parts = static_cast<int>(std::ceil(size / (0.7 * splitOverMm)));
        const double shift = ((index % 3) - 1) * 0.2;
        for (int k = 1; k < parts; ++k) out.push_back(lerp(from, to, (k + shift) / parts));
    }
    out.push_back(to);
}

/// A run at one place across the column, from a share of its length to another.
void appendRun(Polyline& out, const Column& column, double side, double from, double to) {
    const double size = column.length() * std::abs(to - from);
    const int count = std::max(1, static_cast<int>(std::lround(size / underlayStitchMm)));
    for (int i = 0; i <= count; ++i)
        out.push_back(column.across(from + (to - from) * i / count, side));
}

/// A run along the centre, from the end back to the start, where the satin begins.
Polyline centreRun(const Column& column) {
    Polyline out;
    // A little short of both ends, so that nothing peeps out.
    const double inset = std::min(0.25, 0.6 / std::max(0.6, column.length()));
    appendRun(out, column, 0.5, 1 - inset, inset);
    return out;
}

Polyline underlayOf(const ShapePart& part, const Column& column) {
    const double width = column.meanWidth();
    if (part.underlay == Underlay::none || column.length() < 2 * underlayStitchMm || width < 0.8)
        return {};
    if (part.underlay == Underlay::light || width < edgeRunsFromMm) return centreRun(column);
    const double inset = std::min(0.25, 0.6 / column.length());
    Polyline out;
    if (width < zigzagFromMm) {
        appendRun(out, column, edgeInset, inset, 1 - inset);
        appendRun(out, column, 1 - edgeInset, 1 - inset, inset);
        return out;
    }
    const int pairs = std::max(1, static_cast<int>(column.length() / zigzagPitchMm));
    appendRun(out, column, edgeInset, inset, 1 - inset);
    appendRun(out, column, 1 - edgeInset, 1 - inset, inset);
    for (int i = 1; i <= 2 * pairs; ++i) {
        const double share = inset + (1 - 2 * inset) * i / (2.0 * pairs);
        out.push_back(column.across(share, i % 2 == 0 ? edgeInset : 1 - edgeInset));
    }
    appendRun(out, column, 0.5, 1 - inset, inset);
    return out;
}

} // namespace

std::vector<Polyline> stitchSatin(const ShapePart& given) {
    const ShapePart part = flattened(given);
    if (part.lines.size() < 2 || part.lines[0].size() < 2 || part.lines[1].size() < 2) return {};
    const Column column(part);
    if (column.length() <= 0) return {};
    const double pitch = std::max(0.1, part.spacingMm);
    const int pairs = std::max(1, static_cast<int>(std::lround(column.length() / pitch)));
    Polyline out = underlayOf(part, column);
    out.push_back(column.edge(0, false, part.pullMm));
    for (int i = 1; i <= 2 * pairs; ++i)
        appendCrossing(out, column.edge(i / (2.0 * pairs), i % 2 == 1, part.pullMm), i);
    appendCrossing(out, column.edge(1, true, part.pullMm), 0);
    // Where the column comes to a point, its last crossings have no length.
    const auto same = [](Vec2 a, Vec2 b) { return distance(a, b) < 0.05; };
    out.erase(std::unique(out.begin(), out.end(), same), out.end());
    return {out};
}

} // namespace rapt
