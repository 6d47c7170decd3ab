// A tatami fill: parallel rows over a shape with holes, after its underlay. The rows are cut into
// sections that can be sewn to and fro; the sections form a tree, and each is sewn after those that
// hang on it, so that the thread only travels where stitches will cover it.

#include "recipe/shape.h"

#include "geometry/pose.h"
#include "recipe/fill_rows.h"
#include "recipe/flatten.h"

#include <algorithm>
#include <optional>

namespace rapt {
namespace {

// A penetration this near to a row's end would only make a short stitch.
constexpr double leastInnerMm = 1.0;
// Underlay keeps this far inside, so that the cover hides it.
constexpr double underlayInsetMm = 0.6;
constexpr double underlaySpacingMm = 2.0;
constexpr double underlayStitchMm = 2.5;
constexpr double leastCornerStepMm = 0.3;
// A shorter step from row to row cannot leave the shape by more than a hair.
constexpr double longStepMm = 0.5;
// Parts of one shape this near are sewn on without a cut; over open ground that is all.
constexpr double nearMm = 1.0;

/// How a section hangs on another: the row of its own, and the row of the other, that touch.
struct Link {
    int section = -1;
    int own = -1, other = -1;
};

/// One connected set of sections as a tree, in the order in which they are sewn.
struct Node {
    int section = -1;
    Link parent; ///< `other` is the parent's row; section −1 at the root
};

class SectionTree {
public:
    SectionTree(const FillRows& r, const std::vector<Section>& s) : rows(r), sections(s) {
        links.resize(sections.size());
        for (std::size_t i = 0; i < sections.size(); ++i) {
            for (const int up : rows[sections[i].first()].above)
                links[i].push_back({rows[up].section, sections[i].first(), up});
            for (const int down : rows[sections[i].last()].below)
                links[i].push_back({rows[down].section, sections[i].last(), down});
        }
        parents.assign(sections.size(), Link{});
        children.resize(sections.size());
        seen.assign(sections.size(), false);
    }

    /// Hangs everything that can be reached from `root` on it, breadth first, and gives the order
    /// of sewing: children before their parents.
    std::vector<int> orderFrom(int root) {
        std::vector<int> queue{root};
        seen[at(root)] = true;
        for (std::size_t k = 0; k < queue.size(); ++k)
            for (const Link& link : links[at(queue[k])]) {
                if (seen[at(link.section)]) continue;
                seen[at(link.section)] = true;
                parents[at(link.section)] = {queue[k], link.other, link.own};
                children[at(queue[k])].push_back(link.section);
                queue.push_back(link.section);
            }
        return postOrder(root);
    }

    bool isSeen(int section) const { return seen[at(section)]; }
    const Link& parentOf(int section) const { return parents[at(section)]; }

    /// Rows from the last one of `done` up to its parent and down to `target`, whose first row to
    /// be sewn is `goal`.
    std::vector<int> wayFrom(int done, int target, int goal) const {
        std::vector<int> way{parentOf(done).own};
        std::vector<int> chain; // from below the common parent down to the target
        const int common = parentOf(done).section;
        for (int s = target; s != common && s >= 0; s = parentOf(s).section) chain.push_back(s);
        std::reverse(chain.begin(), chain.end());
        int entry = parentOf(done).other;
        int inside = common;
        for (const int next : chain) {
            appendRows(way, inside, entry, parentOf(next).other);
            inside = next;
            entry = parentOf(next).own;
        }
        appendRows(way, inside, entry, goal);
        return way;
    }

private:
    static std::size_t at(int i) { return static_cast<std::size_t>(i); }

    std::vector<int> postOrder(int root) {
        std::vector<int> order;
        std::vector<std::pair<int, std::size_t>> stack{{root, 0}};
        sortChildren(root);
        while (!stack.empty()) {
            auto& [section, next] = stack.back();
            if (next < children[at(section)].size()) {
                const int child = children[at(section)][next++];
                sortChildren(child);
                stack.emplace_back(child, 0);
                continue;
            }
            order.push_back(section);
            stack.pop_back();
        }
        return order;
    }

    /// A section is sewn from its far end towards its parent: what hangs on the far end comes last.
    void sortChildren(int section) {
        const int nearEnd = parentOf(section).own;
        std::stable_partition(children[at(section)].begin(), children[at(section)].end(),
                              [&](int child) { return parentOf(child).other == nearEnd; });
    }

    /// The rows of one section from one of its ends to the other, both included.
    void appendRows(std::vector<int>& way, int section, int from, int to) const {
        const std::vector<int>& all = sections[at(section)].intervals;
        if (from == to) {
            way.push_back(from);
        } else if (from == all.front()) {
            way.insert(way.end(), all.begin(), all.end());
        } else {
            way.insert(way.end(), all.rbegin(), all.rend());
        }
    }

    const FillRows& rows;
    const std::vector<Section>& sections;
    std::vector<std::vector<Link>> links;
    std::vector<Link> parents;
    std::vector<std::vector<int>> children;
    std::vector<bool> seen;
};

/// Stitches one component in the turned frame, on top of what `out` already holds.
class Filler {
public:
    Filler(FillRows& r, const Contours& s, double stitch, Polyline begun)
        : rows(r), shape(s), stitchLength(stitch), out(std::move(begun)) {}

    std::vector<Polyline> run() {
        const std::vector<Section> sections = sectionsOf(rows);
        SectionTree tree(rows, sections);
        for (int s = static_cast<int>(sections.size()) - 1; s >= 0; --s) {
            if (tree.isSeen(s)) continue;
            const std::vector<int> order = tree.orderFrom(s);
            beginPart(sections, tree, order.front());
            int done = -1;
            for (const int section : order) {
                sewSection(sections, tree, done, section);
                done = section;
            }
        }
        if (out.size() > 1) stretches.push_back(std::move(out));
        return std::move(stretches);
    }

private:
    const Section& sectionAt(const std::vector<Section>& s, int i) const {
        return s[static_cast<std::size_t>(i)];
    }

    /// A part that no row joins to the one before begins anew, unless it is near enough. The first
    /// goes on from the underlay.
    void beginPart(const std::vector<Section>& sections, const SectionTree& tree, int section) {
        if (out.empty()) return;
        const Section& s = sectionAt(sections, section);
        const int row = startsAtTop(s, tree, section) ? s.first() : s.last();
        const Vec2 goal = rows.endOf(row, startsLeft(s, tree, section, row));
        if (!sewn && travelInside(rows, row, goal, out)) return;
        if (distance(out.back(), goal) <= nearMm || staysInside(shape, out.back(), goal)) return;
        if (out.size() > 1) stretches.push_back(std::move(out));
        out.clear();
    }

    static bool staysInside(const Contours& shape, Vec2 a, Vec2 b) {
        const int steps = std::clamp(static_cast<int>(distance(a, b) / 0.3), 4, 60);
        const double tolerance = 0.1; // of a point that lies just on the edge
        for (int k = 1; k < steps; ++k) {
            const Vec2 p = lerp(a, b, static_cast<double>(k) / steps);
            const Vec2 in{p.x, p.y + (b.y >= a.y ? -tolerance : tolerance)};
            const Vec2 back{p.x, p.y + (b.y >= a.y ? tolerance : -tolerance)};
            if (!contains(shape, p) && !contains(shape, in) && !contains(shape, back)) return false;
        }
        return true;
    }

    bool startsAtTop(const Section& s, const SectionTree& tree, int section) const {
        const Link& up = tree.parentOf(section);
        if (up.section >= 0) return up.own == s.last() && s.first() != s.last();
        if (out.empty()) return true;
        return std::abs(out.back().y - rows.endOf(s.first(), true).y) <=
               std::abs(out.back().y - rows.endOf(s.last(), true).y);
    }

    void sewSection(const std::vector<Section>& sections, const SectionTree& tree, int done,
                    int section) {
        const Section& s = sectionAt(sections, section);
        const bool top = startsAtTop(s, tree, section);
        const int firstRow = top ? s.first() : s.last();
        const bool left = startsLeft(s, tree, section, firstRow);
        if (done >= 0)
            appendTravel(rows, tree.wayFrom(done, section, firstRow), rows.endOf(firstRow, left),
                         out);
        sewn = true;
        const std::size_t n = s.intervals.size();
        lastRow = -1;
        for (std::size_t k = 0; k < n; ++k) {
            const int row = s.intervals[top ? k : n - 1 - k];
            atEdge = k + 1 == n;
            sewRow(row, (k % 2 == 0) == left);
            lastRow = row;
        }
        // The needle point before a tip's end is moved there: one more would be too near.
        const Vec2 tip = rows.endOf(lastRow, true);
        if (rows[lastRow].isThin() && distance(out.back(), tip) < shortStitchMm) out.back() = tip;
    }

    /// The side to start on: so that the last row ends where the parent touches it, if one side
    /// does, else the nearer one.
    bool startsLeft(const Section& s, const SectionTree& tree, int section, int firstRow) const {
        const bool nearer = out.empty() || distance(out.back(), rows.endOf(firstRow, true)) <=
                                               distance(out.back(), rows.endOf(firstRow, false));
        const Link& up = tree.parentOf(section);
        if (up.section < 0) return nearer;
        const RowInterval& parentRow = rows[up.other];
        const auto touches = [&](bool endsLeft) {
            const double x = rows.endOf(up.own, endsLeft).x;
            return x >= parentRow.left && x <= parentRow.right;
        };
        const bool changes = s.intervals.size() % 2 == 1; // ends on the other side
        const bool leftGood = touches(changes ? false : true);
        const bool rightGood = touches(changes ? true : false);
        return leftGood == rightGood ? nearer : leftGood;
    }

    /// One row from the end `left` says to the other.
    void sewRow(int i, bool left) {
        const Vec2 from = rows.endOf(i, left);
        const Vec2 to = rows.endOf(i, !left);
        enterRow(i, from);
        if (rows[i].isThin()) return;
        const int row = rows.numberOf(rows[i].row);
        constexpr double stagger[] = {0.0, 0.5, 0.25, 0.75};
        const double phase = stagger[((row % 4) + 4) % 4] * stitchLength;
        const double low = std::min(from.x, to.x) + leastInnerMm;
        const double high = std::max(from.x, to.x) - leastInnerMm;
        const double first = std::ceil((low - phase) / stitchLength);
        const int count = static_cast<int>(std::floor((high - phase) / stitchLength) - first) + 1;
        for (int k = 0; k < count; ++k) {
            const double n = first + (left ? k : count - 1 - k);
            step({phase + n * stitchLength, from.y});
        }
        step(to);
    }

    /// To the end of a row from the end of its neighbour. Where the straight step would leave the
    /// shape (a notch, a ledge), the thread goes along both rows to where they touch.
    void enterRow(int i, Vec2 from) {
        // A step of one row spacing would be a short stitch: the row before ends there already.
        // Only the last row keeps its corner.
        const double stepMm = out.empty() ? shortStitchMm : distance(out.back(), from);
        if (stepMm < (atEdge ? leastCornerStepMm : shortStitchMm)) return;
        if (!out.empty() && lastRow >= 0 && distance(out.back(), from) > longStepMm &&
            !staysInside(shape, out.back(), from)) {
            const double low = std::max(rows[i].left, rows[lastRow].left);
            const double high = std::min(rows[i].right, rows[lastRow].right);
            if (low < high) {
                const double x = std::clamp(out.back().x, low, high);
                if (std::abs(x - out.back().x) >= shortStitchMm) step({x, out.back().y});
                const double y = rows.y(rows[i].row);
                const Vec2 over{std::clamp(from.x, low, high), y};
                if (std::abs(over.x - from.x) >= shortStitchMm) step(over);
            }
        }
        step(from);
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

    FillRows& rows;
    const Contours& shape;
    double stitchLength;
    Polyline out;
    bool atEdge = false; ///< in the last row of a section
    int lastRow = -1;    ///< the interval before, if it is in the same section
    bool sewn = false;   ///< a row of the cover lies already
    std::vector<Polyline> stretches;
};

Contours turned(const std::vector<Polyline>& lines, double degrees) {
    const Turn t = turnOf(degrees);
    Contours result = lines;
    for (Polyline& line : result)
        for (Vec2& p : line) p = {t.cosine * p.x - t.sine * p.y, t.sine * p.x + t.cosine * p.y};
    return result;
}

/// Sews underlay lines one after the other; between them the thread goes inside the shape, where
/// the rows of the cover will lie. A line that no such way leads to is left out.
void sewUnder(const FillRows& rows, const std::vector<Polyline>& lines, Polyline& out) {
    for (const Polyline& line : lines) {
        if (line.size() < 2) continue;
        if (!out.empty() && !travelInside(rows, rows.nearest(line[0]), line[0], out)) continue;
        out.insert(out.end(), line.begin() + (out.empty() ? 0 : 1), line.end());
    }
}

/// Runs along the inside of the edges and, for a full underlay, wide rows across the cover.
Polyline underlayOf(const ShapePart& part, const Contours& shape, const FillRows& rows) {
    Polyline out;
    if (part.underlay == Underlay::none) return out;
    const Contours inner = offsetContours(shape, -underlayInsetMm);
    if (inner.empty()) return out;
    ShapePart edge;
    edge.kind = StitchKind::run;
    edge.stitchLengthMm = underlayStitchMm;
    for (Polyline loop : inner) {
        loop.push_back(loop.front());
        edge.lines.push_back(std::move(loop));
    }
    sewUnder(rows, stitchRun(edge), out);
    if (part.underlay == Underlay::full) {
        const Contours across = turned(inner, -90);
        FillRows wide(across, underlaySpacingMm, 0);
        sewUnder(rows, turned(Filler(wide, across, underlayStitchMm, {}).run(), 90), out);
    }
    return out;
}

/// One outline with its holes.
std::vector<Polyline> fillComponent(const ShapePart& part, const Contours& shape,
                                    std::optional<double> through) {
    FillRows rows(shape, std::max(0.1, part.spacingMm), part.pullMm, through);
    if (rows.intervals.empty()) return {};
    Polyline begun = underlayOf(part, shape, rows);
    const double stitch = std::clamp(part.stitchLengthMm, 1.0, maxStitchMm / 2);
    return Filler(rows, shape, stitch, std::move(begun)).run();
}

/// Components in a short order, each from the one before to the nearest.
std::vector<Contours> inShortOrder(std::vector<Contours> parts) {
    Vec2 at;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const auto nearer = [&](const Contours& a, const Contours& b) {
            return distance(boundsOf(a).centre(), at) < distance(boundsOf(b).centre(), at);
        };
        if (i > 0)
            std::iter_swap(parts.begin() + static_cast<std::ptrdiff_t>(i),
                           std::min_element(parts.begin() + static_cast<std::ptrdiff_t>(i),
                                            parts.end(), nearer));
        at = boundsOf(parts[i]).centre();
    }
    return parts;
}

} // namespace

bool isTangled(const ShapePart& fill) {
    return std::max(sweepWork(fill.lines), sweepWork(turned(fill.lines, -fill.angleDeg))) >
           mostSweepWork;
}

std::vector<Polyline> stitchFill(const ShapePart& part, std::optional<double> through) {
    std::vector<Polyline> stretches;
    for (const Contours& component : inShortOrder(componentsOf(flattened(part).lines)))
        for (Polyline& stretch : fillComponent(part, turned(component, -part.angleDeg), through))
            stretches.push_back(std::move(stretch));
    return turned(stretches, part.angleDeg);
}

} // namespace rapt
