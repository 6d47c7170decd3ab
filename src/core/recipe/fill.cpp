// A tatami fill: parallel rows over a shape with holes. The rows are cut into sections that can be
// sewn to and fro without leaving the shape; between sections the thread travels inside the shape.

#include "recipe/shape.h"

#include "geometry/pose.h"

#include <algorithm>
#include <optional>
#include <queue>

namespace rapt {
namespace {

// Rows shorter than this hold no stitch worth making.
constexpr double leastRowMm = 0.3;
// A penetration this near to a row's end would only make a short stitch.
constexpr double leastInnerMm = 1.0;
constexpr double travelStitchMm = 2.5;

/// One stretch of one row inside the shape, in the turned frame where rows are level.
struct Interval {
    double left = 0, right = 0;
    int row = 0;
    std::vector<int> above; ///< overlapping intervals of the row before
    std::vector<int> below;
    int section = -1;
};

/// All rows of a shape and how they touch.
class Rows {
public:
    Rows(const Contours& turned, double wantedSpacing) {
        const Box box = boundsOf(turned);
        spacing = wantedSpacing;
        const int count = std::max(1, static_cast<int>(std::floor(box.height() / spacing)));
        // What does not divide evenly is shared by the first and the last edge.
        firstY = box.minY + (box.height() - (count - 1) * spacing) / 2;
        // A hair off round coordinates, so that no row runs along a level edge.
        firstY += 1e-7;
        std::vector<std::vector<double>> crossings(static_cast<std::size_t>(count));
        collectCrossings(turned, crossings);
        for (int r = 0; r < count; ++r) addRow(r, crossings[static_cast<std::size_t>(r)]);
        link();
    }

    double y(int row) const { return firstY + row * spacing; }
    std::vector<Interval> intervals;

private:
    void collectCrossings(const Contours& turned, std::vector<std::vector<double>>& crossings) {
        const int count = static_cast<int>(crossings.size());
        for (const Polyline& c : turned)
            for (std::size_t i = 0, j = c.size() - 1; i < c.size(); j = i++) {
                const Vec2 a = c[j].y < c[i].y ? c[j] : c[i];
                const Vec2 b = c[j].y < c[i].y ? c[i] : c[j];
                if (a.y == b.y) continue;
                const int from = std::max(0, static_cast<int>(std::ceil((a.y - firstY) / spacing)));
                for (int r = from; r < count && y(r) < b.y; ++r)
                    crossings[static_cast<std::size_t>(r)].push_back(
                        a.x + (b.x - a.x) * (y(r) - a.y) / (b.y - a.y));
            }
    }

    void addRow(int row, std::vector<double>& xs) {
        std::sort(xs.begin(), xs.end());
        for (std::size_t k = 0; k + 1 < xs.size(); k += 2)
            if (xs[k + 1] - xs[k] >= leastRowMm)
                intervals.push_back({xs[k], xs[k + 1], row, {}, {}, -1});
    }

    void link() {
        std::size_t start = 0; // first interval of the row before
        for (std::size_t i = 0; i < intervals.size(); ++i) {
            while (start < i && intervals[start].row < intervals[i].row - 1) ++start;
            for (std::size_t k = start; k < i && intervals[k].row < intervals[i].row; ++k) {
                if (intervals[k].row != intervals[i].row - 1) continue;
                if (intervals[k].left >= intervals[i].right ||
                    intervals[i].left >= intervals[k].right)
                    continue;
                intervals[i].above.push_back(static_cast<int>(k));
                intervals[k].below.push_back(static_cast<int>(i));
            }
        }
    }

    double firstY = 0;
    double spacing = 0.4;
};

using Section = std::vector<int>; ///< intervals from top to bottom, one a row

std::vector<Section> sectionsOf(std::vector<Interval>& intervals) {
    std::vector<Section> sections;
    for (std::size_t i = 0; i < intervals.size(); ++i) {
        if (intervals[i].section >= 0) continue;
        Section section;
        int at = static_cast<int>(i);
        while (true) {
            Interval& now = intervals[static_cast<std::size_t>(at)];
            now.section = static_cast<int>(sections.size());
            section.push_back(at);
            if (now.below.size() != 1) break;
            const int next = now.below[0];
            const Interval& n = intervals[static_cast<std::size_t>(next)];
            if (n.above.size() != 1 || n.section >= 0) break;
            at = next;
        }
        sections.push_back(std::move(section));
    }
    return sections;
}

/// Stitches the sections of one shape, in the turned frame.
class Filler {
public:
    Filler(Rows& r, double stitch) : rows(r), stitchLength(stitch) {}

    std::vector<Polyline> run() {
        const std::vector<Section> sections = sectionsOf(rows.intervals);
        std::vector<bool> sewn(sections.size(), false);
        for (std::size_t count = 0; count < sections.size(); ++count) {
            const Choice next = nearestStart(sections, sewn);
            travelTo(sections[next.section], next.fromTop, next.fromLeft);
            sew(sections[next.section], next.fromTop, next.fromLeft);
            sewn[next.section] = true;
        }
        if (out.size() > 1) stretches.push_back(out);
        return stretches;
    }

private:
    struct Choice {
        std::size_t section = 0;
        bool fromTop = true;
        bool fromLeft = true;
    };

    const Interval& interval(int i) const { return rows.intervals[static_cast<std::size_t>(i)]; }
    Vec2 endOf(int i, bool left) const {
        return {left ? interval(i).left : interval(i).right, rows.y(interval(i).row)};
    }

    Choice nearestStart(const std::vector<Section>& sections, const std::vector<bool>& sewn) const {
        Choice best;
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t s = 0; s < sections.size(); ++s) {
            if (sewn[s]) continue;
            for (const bool top : {true, false})
                for (const bool left : {true, false}) {
                    const int i = top ? sections[s].front() : sections[s].back();
                    const double d =
                        out.empty() ? static_cast<double>(s) : distance(out.back(), endOf(i, left));
                    if (d < least) {
                        least = d;
                        best = {s, top, left};
                    }
                }
        }
        return best;
    }

    void sew(const Section& section, bool fromTop, bool fromLeft) {
        const auto n = section.size();
        bool left = fromLeft;
        for (std::size_t k = 0; k < n; ++k) {
            const int i = section[fromTop ? k : n - 1 - k];
            sewRow(i, left);
            left = !left;
        }
        lastInterval = section[fromTop ? n - 1 : 0];
    }

    /// One row from the end `left` says to the other.
    void sewRow(int i, bool left) {
        const Vec2 from = endOf(i, left);
        const Vec2 to = endOf(i, !left);
        // A step of one row spacing would be a short stitch: the row before ends there already.
        if (out.empty() || distance(out.back(), from) >= shortStitchMm) step(from);
        const int row = interval(i).row;
        constexpr double stagger[] = {0.0, 0.5, 0.25, 0.75};
        const double phase = stagger[((row % 4) + 4) % 4] * stitchLength;
        const double low = std::min(from.x, to.x) + leastInnerMm;
        const double high = std::max(from.x, to.x) - leastInnerMm;
        std::vector<double> inner;
        for (double k = std::ceil((low - phase) / stitchLength);; ++k) {
            const double x = phase + k * stitchLength;
            if (x > high) break;
            inner.push_back(x);
        }
        if (!left) std::reverse(inner.begin(), inner.end());
        for (const double x : inner) step({x, from.y});
        step(to);
    }

    /// A stitch, divided where it would be too long.
    void step(Vec2 to) {
        if (!out.empty()) {
            const double size = distance(out.back(), to);
            const double longest = std::max(stitchLength * 1.7, 4.0);
            const int parts = static_cast<int>(std::ceil(size / longest));
            const Vec2 from = out.back();
            for (int k = 1; k < parts; ++k)
                out.push_back(lerp(from, to, static_cast<double>(k) / parts));
        }
        out.push_back(to);
    }

    /// Brings the thread to a section's first row inside the shape; where no way leads there (an
    /// island of its own), a new stretch begins.
    void travelTo(const Section& section, bool fromTop, bool fromLeft) {
        if (out.empty()) return;
        const int target = fromTop ? section.front() : section.back();
        const std::vector<int> way = wayBetween(lastInterval, target);
        if (way.empty()) {
            stretches.push_back(std::move(out));
            out.clear();
            return;
        }
        const Vec2 goal = endOf(target, fromLeft);
        for (const Vec2& p : pulledTight(way, goal)) {
            const Vec2 from = out.back();
            const double size = distance(from, p);
            if (size < 1e-6) continue;
            const int parts = static_cast<int>(std::ceil(size / travelStitchMm));
            for (int k = 1; k <= parts; ++k)
                out.push_back(lerp(from, p, static_cast<double>(k) / parts));
        }
    }

    /// Neighbouring intervals from one to another, by the fewest rows (breadth first).
    std::vector<int> wayBetween(int from, int to) const {
        std::vector<int> cameFrom(rows.intervals.size(), -2);
        std::queue<int> open;
        open.push(to);
        cameFrom[static_cast<std::size_t>(to)] = -1;
        while (!open.empty() && cameFrom[static_cast<std::size_t>(from)] == -2) {
            const int at = open.front();
            open.pop();
            for (const auto* next : {&interval(at).above, &interval(at).below})
                for (const int n : *next)
                    if (cameFrom[static_cast<std::size_t>(n)] == -2) {
                        cameFrom[static_cast<std::size_t>(n)] = at;
                        open.push(n);
                    }
        }
        std::vector<int> way;
        if (cameFrom[static_cast<std::size_t>(from)] == -2) return way;
        for (int at = from; at != -1; at = cameFrom[static_cast<std::size_t>(at)])
            way.push_back(at);
        return way;
    }

    struct Window {
        double left, right;
    };
    /// What two neighbouring rows share.
    Window between(int a, int b) const {
        return {std::max(interval(a).left, interval(b).left),
                std::min(interval(a).right, interval(b).right)};
    }

    /// Few straight lines through the corridor of rows. Where the way turns back (round the end of
    /// a hole), it goes along the turning row from one window to the other.
    std::vector<Vec2> pulledTight(const std::vector<int>& way, Vec2 goal) const {
        std::vector<Vec2> bends;
        Vec2 eye = out.back();
        const auto down = [&](std::size_t k) {
            return interval(way[k + 1]).row > interval(way[k]).row;
        };
        for (std::size_t start = 0; start + 1 < way.size();) {
            std::size_t end = start + 1;
            while (end + 1 < way.size() && down(end) == down(start)) ++end;
            if (end + 1 == way.size()) {
                goStraight(way, start, end, eye, goal, bends);
                break;
            }
            const Window in = between(way[end - 1], way[end]);
            const Window leave = between(way[end], way[end + 1]);
            const double y = rows.y(interval(way[end]).row);
            const double x = std::clamp((leave.left + leave.right) / 2, in.left, in.right);
            goStraight(way, start, end, eye, {x, y}, bends);
            eye = {std::clamp(x, leave.left, leave.right), y};
            bends.push_back(eye);
            start = end;
        }
        if (way.size() == 1) bends.push_back(goal);
        return bends;
    }

    /// From `eye` to `goal` through rows that follow each other: a cone of sight is narrowed row by
    /// row, and where it closes the way bends.
    void goStraight(const std::vector<int>& way, std::size_t start, std::size_t end, Vec2 eye,
                    Vec2 goal, std::vector<Vec2>& bends) const {
        double low = -1e18, high = 1e18;
        const auto slope = [&](double x, double y) { return (x - eye.x) / std::abs(y - eye.y); };
        for (std::size_t k = start + 1; k <= end; ++k) {
            const Window w = between(way[k - 1], way[k]);
            const double y = rows.y(interval(way[k]).row);
            const double left = std::max(low, slope(w.left, y));
            const double right = std::min(high, slope(w.right, y));
            if (left > right) {
                // Closed: bend in the row before, as far as could be seen.
                const double before = rows.y(interval(way[k - 1]).row);
                const double wanted = w.left > eye.x ? high : low;
                eye = {eye.x + wanted * std::abs(before - eye.y), before};
                bends.push_back(eye);
                low = slope(w.left, y);
                high = slope(w.right, y);
            } else {
                low = left;
                high = right;
            }
        }
        const double drop = std::abs(goal.y - eye.y);
        const double x = std::clamp(goal.x, eye.x + low * drop, eye.x + high * drop);
        if (x != goal.x) bends.push_back({x, goal.y});
        bends.push_back(goal);
    }

    Rows& rows;
    double stitchLength;
    Polyline out;
    std::vector<Polyline> stretches;
    int lastInterval = -1;
};

Contours turned(const std::vector<Polyline>& lines, double degrees) {
    const Turn t = turnOf(degrees);
    Contours result = lines;
    for (Polyline& line : result)
        for (Vec2& p : line) p = {t.cosine * p.x - t.sine * p.y, t.sine * p.x + t.cosine * p.y};
    return result;
}

} // namespace

std::vector<Polyline> stitchFill(const ShapePart& part) {
    Contours contours = part.lines;
    std::erase_if(contours, [](const Polyline& c) { return c.size() < 3; });
    if (contours.empty()) return {};
    Rows rows(turned(contours, -part.angleDeg), std::max(0.1, part.spacingMm));
    if (rows.intervals.empty()) return {};
    Filler filler(rows, std::clamp(part.stitchLengthMm, 1.0, maxStitchMm / 2));
    return turned(filler.run(), part.angleDeg);
}

} // namespace rapt
