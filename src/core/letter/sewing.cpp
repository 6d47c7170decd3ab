#include "letter/sewing.h"

#include "letter/columns/row_line.h"
#include "recipe/satin_rows.h"
#include "recipe/shape.h"

#include <algorithm>
#include <limits>

namespace rapt {
namespace {

constexpr double travelStitchMm = 2.5;
constexpr double crumbMm = 0.35;
constexpr double mostStitchAfterCrumbMm = 7.0; ///< a crumb that divides a longer one stays

/// Where two columns touch: a rung of each.
struct Touch {
    std::size_t rungHere = 0, rungThere = 0;
    double cost = std::numeric_limits<double>::infinity();
};

struct Child {
    std::size_t column = 0;
    std::size_t rungHere = 0;  ///< on the parent
    std::size_t rungThere = 0; ///< on the child
};

class PartSewer {
public:
    PartSewer(const LetterPart& p, const SewOptions& o) : part(p), options(o), outline(p.outline) {}

    Polyline sew(std::optional<Vec2> entry, Vec2 exit) {
        if (part.columns.empty()) return {};
        const auto [root, exitRung] = nearestEnd(exit);
        buildTree(root);
        if (entry)
            travelFrom(*entry, root, exitRung);
        else
            begin(root, exitRung);
        visit(root, exitRung);
        dropCrumbs();
        return std::move(out);
    }

private:
    const Column& column(std::size_t c) const { return part.columns[c]; }
    Vec2 middle(std::size_t c, std::size_t rung) const { return column(c).rungs[rung].middle(); }

    std::pair<std::size_t, std::size_t> nearestEnd(Vec2 p) const {
        std::pair<std::size_t, std::size_t> best{0, 0};
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t c = 0; c < part.columns.size(); ++c)
            for (const std::size_t rung : {std::size_t{0}, column(c).rungs.size() - 1})
                if (const double d = distance(middle(c, rung), p); d < least) {
                    least = d;
                    best = {c, rung};
                }
        return best;
    }

    /// How well a thread goes from one rung's middle to another's: its length, more if it would
    /// cross bare ground.
    double cost(Vec2 a, Vec2 b) const {
        const double size = distance(a, b);
        if (size < 0.3) return size;
        const Vec2 dir = (b - a) * (1 / size);
        double inside = 0;
        for (const Stretch& s : outline.inside(a, dir))
            inside += std::max(0.0, std::min(s.to, size) - std::max(s.from, 0.0));
        return size + 12 * std::max(0.0, size - inside - 0.1);
    }
    Touch touch(std::size_t here, std::size_t there) const {
        const auto& a = column(here).rungs;
        const auto& b = column(there).rungs;
        Touch best;
        double least = std::numeric_limits<double>::infinity();
        const auto look = [&](std::size_t i, std::size_t j) {
            const double d = distance(a[i].middle(), b[j].middle());
            if (d >= least) return;
            least = d;
            best.rungHere = i;
            best.rungThere = j;
        };
        for (const std::size_t j : {std::size_t{0}, b.size() - 1})
            for (std::size_t i = 0; i < a.size(); ++i) look(i, j);
        for (const std::size_t i : {std::size_t{0}, a.size() - 1})
            for (std::size_t j = 0; j < b.size(); ++j) look(i, j);
        // A thread through the middle of a column only where no end comes near.
        if (least > 1.5)
            for (std::size_t i = 0; i < a.size(); i += 4)
                for (std::size_t j = 0; j < b.size(); j += 4) look(i, j);
        best.cost = cost(a[best.rungHere].middle(), b[best.rungThere].middle());
        return best;
    }
    /// The cheapest tree that reaches every column (Prim).
    void buildTree(std::size_t root) {
        const std::size_t n = part.columns.size();
        children.assign(n, {});
        parent.assign(n, n);
        std::vector<Touch> nearest(n);
        std::vector<std::size_t> from(n, root);
        std::vector<char> in(n, 0);
        std::size_t added = root;
        for (std::size_t round = 0; round < n; ++round) {
            in[added] = 1;
            if (round > 0) {
                parent[added] = from[added];
                children[from[added]].push_back(
                    {added, nearest[added].rungHere, nearest[added].rungThere});
            }
            for (std::size_t c = 0; c < n; ++c) {
                if (in[c]) continue;
                const Touch t = touch(added, c);
                if (t.cost < nearest[c].cost) {
                    nearest[c] = t;
                    from[c] = added;
                }
            }
            double least = std::numeric_limits<double>::infinity();
            for (std::size_t c = 0; c < n; ++c)
                if (!in[c] && nearest[c].cost < least) {
                    least = nearest[c].cost;
                    added = c;
                }
        }
    }

    void go(Vec2 to) {
        if (out.empty()) {
            out.push_back(to);
            return;
        }
        if (distance(out.back(), to) < 0.05) return;
        const Polyline way = runThrough({{out.back(), to}}, travelStitchMm);
        out.insert(out.end(), way.begin() + 1, way.end());
    }
    /// From the place nearest to the entry along the tree to where the root will be left.
    void travelFrom(Vec2 entry, std::size_t root, std::size_t exitRung) {
        std::size_t c = 0, rung = 0;
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t k = 0; k < part.columns.size(); ++k)
            for (std::size_t i = 0; i < column(k).rungs.size(); ++i)
                if (const double d = distance(middle(k, i), entry); d < least) {
                    least = d;
                    c = k;
                    rung = i;
                }
        begin(c, rung);
        while (c != root) {
            const std::size_t p = parent[c];
            for (const Child& child : children[p])
                if (child.column == c) {
                    appendCentreRun(out, column(c), rung, child.rungThere, options.leaningRun);
                    rung = child.rungHere;
                }
            c = p;
            go(middle(c, rung));
        }
        appendCentreRun(out, column(root), rung, exitRung, options.leaningRun);
    }
    void begin(std::size_t c, std::size_t rung) { out.push_back(middle(c, rung)); }

    bool isRow(std::size_t point) const {
        return std::any_of(covers.begin(), covers.end(),
                           [&](const auto& c) { return c.first <= point && point < c.second; });
    }
    /// A needle point this near to the last one only chews the cloth: at the tips of columns and
    /// where ways meet. What lies below the rows gives way to them too.
    void dropCrumbs() {
        Polyline kept;
        for (std::size_t i = 0; i < out.size(); ++i) {
            const bool last = i + 1 == out.size();
            if (!kept.empty() && !last &&
                distance(kept.back(), out[i + 1]) < mostStitchAfterCrumbMm &&
                (distance(kept.back(), out[i]) < crumbMm ||
                 (!isRow(i) && std::min(distance(kept.back(), out[i]),
                                        distance(out[i], out[i + 1])) < shortStitchMm)))
                continue;
            kept.push_back(out[i]);
        }
        out = std::move(kept);
    }

    /// Sews a column and all that hangs on it; begun and ended at the middle of one rung.
    void visit(std::size_t c, std::size_t at) {
        const std::size_t last = column(c).rungs.size() - 1;
        if (at > 0) sewSide(c, at, 0);
        if (at < last) sewSide(c, at, last);
    }
    void sewSide(std::size_t c, std::size_t at, std::size_t far) {
        std::vector<Child> own;
        const std::size_t last = column(c).rungs.size() - 1;
        for (const Child& child : children[c]) {
            const bool lower = child.rungHere < at || (child.rungHere == at && at == last);
            if (lower == (far == 0)) own.push_back(child);
        }
        std::sort(own.begin(), own.end(), [far](const Child& a, const Child& b) {
            return far == 0 ? a.rungHere > b.rungHere : a.rungHere < b.rungHere;
        });
        std::size_t rung = at;
        for (const Child& child : own) {
            appendCentreRun(out, column(c), rung, child.rungHere, options.leaningRun);
            rung = child.rungHere;
            go(middle(child.column, child.rungThere));
            visit(child.column, child.rungThere);
            go(middle(c, rung));
        }
        appendCentreRun(out, column(c), rung, far, options.leaningRun);
        if (options.underlay) appendUnderlay(out, column(c), far, at);
        const std::size_t begun = out.size();
        appendCover(out, column(c), far, at, options.pullMm);
        covers.emplace_back(begun, out.size());
    }

    const LetterPart& part;
    const SewOptions& options;
    RowCutter outline;
    std::vector<std::vector<Child>> children;
    std::vector<std::size_t> parent;
    std::vector<std::pair<std::size_t, std::size_t>> covers; ///< of points of `out`
    Polyline out;
};

} // namespace

Polyline sewPart(const LetterPart& part, std::optional<Vec2> entry, Vec2 exit,
                 const SewOptions& options) {
    return PartSewer(part, options).sew(entry, exit);
}

} // namespace rapt
