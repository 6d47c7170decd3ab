#include "recipe/satin_rows.h"

#include "recipe/shape.h"

#include <algorithm>
#include <optional>

namespace rapt {
namespace {

constexpr double splitOverMm = snagStitchMm;
constexpr double fillStitchMm = 3.0;
constexpr double runStitchMm = 2.2;
constexpr double outsideGapMm = 0.50, insideGapMm = 0.25;
constexpr double mostOpened = 1.25; ///< of the pitch
/// Short rows reach this far in from the outside.
constexpr double shortRow = 0.45;
/// Rows inside a bend stop short by a share between these; of those that reach a place so many
/// more may lie beside each other than on a straight.
constexpr double leastStop = 0.3, mostStop = 0.62, mostCrowded = 1.25;
constexpr double edgeRunsFromMm = 3.0, zigzagFromMm = 4.5;
constexpr double leanShare = 1.2, mostLean = 0.25, leanOver = 8; ///< rungs that it takes to lean
constexpr double edgeInset = 0.24;                               ///< of the width
constexpr double zigzagPitchMm = 2.0;
constexpr double threadMm = 0.42;   ///< as wide as a thread lies, with a hair to spare
constexpr double mostDrawnIn = 0.8; ///< of the width, by a negative pull

std::vector<std::size_t> stepsBetween(std::size_t from, std::size_t to) {
    std::vector<std::size_t> steps;
    for (std::size_t i = from;; from < to ? ++i : --i) {
        steps.push_back(i);
        if (i == to) return steps;
    }
}

void push(Polyline& out, Vec2 p) {
    if (out.empty() || distance(out.back(), p) > 0.05) out.push_back(p);
}

/// Goes to a point; long ways are divided, at places that change from row to row.
void crossTo(Polyline& out, Vec2 to, double longest, int index) {
    if (!out.empty()) {
        const Vec2 from = out.back();
        const double size = distance(from, to);
        if (size > longest) {
            const int parts = static_cast<int>(std::ceil(size / (0.75 * longest)));
            const double shift = ((index % 3) - 1) * 0.2;
            for (int k = 1; k < parts; ++k) push(out, lerp(from, to, (k + shift) / parts));
        }
    }
    push(out, to);
}

class CoverMaker {
public:
    CoverMaker(Polyline& o, const Column& c, double pull) : out(o), column(c), pullMm(pull) {}

    void sew(std::size_t from, std::size_t to) {
        if (column.thin) return tripleRun(from, to);
        const auto steps = stepsBetween(from, to);
        const std::size_t stride = column.filled ? 2 : 1;
        const double longest = column.filled ? fillStitchMm : splitOverMm;
        bool right = startsRight(steps.front());
        // Both corners of the first rung, so that the end is square.
        crossTo(out, end(steps.front(), !right), longest, 0);
        int index = 0;
        for (std::size_t k = 0; k < steps.size(); k += stride) {
            if (isCrowded(steps, k, right)) continue;
            if (!column.filled && k >= 2) widenOutside(steps[k - 2], steps[k], right);
            crossTo(out, pointAt(steps, k, right), longest, index++);
            right = !right;
        }
        // Inside a column the other half goes on from here.
        if (steps.back() == 0 || steps.back() + 1 == column.rungs.size())
            crossTo(out, end(steps.back(), right), longest, index);
    }

private:
    Vec2 end(std::size_t i, bool right) const {
        const Rung& r = column.rungs[i];
        const Vec2 own = right ? r.right : r.left, other = right ? r.left : r.right;
        const double width = r.width();
        const double pull = std::max(pullMm, -mostDrawnIn * width);
        return width < 1e-6 ? own : own + (own - other) * (pull / 2 / width);
    }
    bool startsRight(std::size_t first) const {
        if (out.empty()) return true;
        // The first row goes away from the nearer corner.
        return distance(out.back(), end(first, true)) > distance(out.back(), end(first, false));
    }
    /// A hair line is covered by every other row, whose stitches are not too short.
    bool isCrowded(const std::vector<std::size_t>& steps, std::size_t k, bool right) const {
        if (column.filled || k == 0 || k + 1 >= steps.size()) return false;
        const Vec2 now = end(steps[k], right), next = end(steps[k + 1], right);
        return distance(out.back(), now) < shortStitchMm &&
               distance(column.rungs[steps[k - 1]].middle(), column.rungs[steps[k + 1]].middle()) <=
                   threadMm &&
               distance(out.back(), next) > distance(out.back(), now);
    }
    double gap(std::size_t a, std::size_t b, bool right) const {
        return distance(end(a, right), end(b, right));
    }

    /// The end of a row. Inside a tight bend, where ends would crowd about one place, most rows
    /// stop short: one after the other by other shares, so that at each distance from the inside
    /// as many rows arrive as have room there.
    Vec2 pointAt(const std::vector<std::size_t>& steps, std::size_t k, bool right) {
        const Vec2 at = end(steps[k], right);
        std::optional<Vec2>& full = right ? fullRight : fullLeft;
        const bool inside =
            k >= 2 && k + 2 < steps.size() && full && column.rungs[steps[k]].width() >= 1.0 &&
            distance(*full, at) < insideGapMm && gap(steps[k - 2], steps[k], !right) >= 0.36;
        if (!inside) {
            full = at;
            return at;
        }
        const double inner = gap(steps[k - 2], steps[k], right);
        const double outer = gap(steps[k - 2], steps[k], !right);
        const double pitch =
            distance(column.rungs[steps[k - 2]].middle(), column.rungs[steps[k]].middle());
        constexpr double golden = 0.6180339887498949; // spreads what follows each other evenly
        const double turn = ++stopped * golden, u = turn - std::floor(turn);
        const double room = outer > inner ? (u * pitch / mostCrowded - inner) / (outer - inner) : 0;
        return lerp(at, end(steps[k], !right), std::clamp(room, leastStop, mostStop));
    }
    /// Short rows on the outside, between the last point there and the one to come.
    void widenOutside(std::size_t before, std::size_t now, bool right) {
        // Across the rows: a row that only reaches farther than the last leaves no gap.
        const Rung& row = column.rungs[now];
        if (row.width() < 1.2) return;
        const Vec2 along = (row.right - row.left) * (1 / row.width());
        const double apart = std::abs(cross(along, end(now, right) - end(before, right)));
        // Open satin is as open outside a bend as it is elsewhere.
        const double pitch = distance(column.rungs[before].middle(), row.middle());
        const double most = std::max(outsideGapMm, mostOpened * pitch);
        if (apart <= most) return;
        // They are sewn from the inside, just before the row comes out again.
        const int count = static_cast<int>(std::ceil(apart / most)) - 1;
        for (int i = 1; i <= count; ++i) {
            const double t = static_cast<double>(i) / (count + 1);
            const Vec2 edge = lerp(end(before, right), end(now, right), t);
            const Vec2 inner = lerp(end(before, !right), end(now, !right), t);
            const std::size_t middle = before < now ? before + 1 : before - 1;
            // The outline between two rows is nearer to the middle row's own end.
            const Vec2 onLine = count == 1 ? end(middle, right) : edge;
            crossTo(out, onLine, splitOverMm, i);
            crossTo(out, lerp(onLine, inner, shortRow), splitOverMm, i);
        }
    }
    void tripleRun(std::size_t from, std::size_t to) {
        Polyline line;
        for (const std::size_t i : stepsBetween(from, to)) line.push_back(column.rungs[i].middle());
        const Polyline run = runThrough({line}, 1.6);
        for (std::size_t i = 0; i < run.size(); ++i) {
            push(out, run[i]);
            if (i > 0) {
                push(out, run[i - 1]);
                push(out, run[i]);
            }
        }
    }

    Polyline& out;
    const Column& column;
    double pullMm;
    std::optional<Vec2> fullLeft, fullRight; ///< the last row ends that were not shortened
    int stopped = 0;
};

/// A run at a share of the width that may change from rung to rung: 0 is their left end, 1 the
/// right.
template<class Share>
void appendRunAlong(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                    Share shareAt) {
    Polyline line;
    for (const std::size_t i : stepsBetween(from, to))
        line.push_back(lerp(column.rungs[i].left, column.rungs[i].right, shareAt(i)));
    for (const Vec2& p : runThrough({line}, runStitchMm)) crossTo(out, p, runStitchMm * 1.5, 1);
}

void appendRunAt(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                 double share) {
    appendRunAlong(out, column, from, to, [share](std::size_t) { return share; });
}

/// How far a column bends at a rung: its ends' ways on the right less those on the left, of both.
double bendAt(const Column& column, std::size_t i) {
    const std::size_t a = i - std::min<std::size_t>(i, 4);
    const std::size_t b = std::min(i + 4, column.rungs.size() - 1);
    const double left = distance(column.rungs[a].left, column.rungs[b].left);
    const double right = distance(column.rungs[a].right, column.rungs[b].right);
    return left + right > 0 ? (right - left) / (left + right) : 0;
}

} // namespace

void appendCover(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                 double pullMm) {
    CoverMaker(out, column, pullMm).sew(from, to);
}

void appendCentreRun(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                     bool leaning) {
    if (!leaning) return appendRunAt(out, column, from, to, 0.5);
    const auto [low, high] = std::minmax(from, to);
    appendRunAlong(out, column, from, to, [&, a = low, b = high](std::size_t i) {
        // Its ends stay in the middle, where other columns go on.
        const double away = std::min(1.0, static_cast<double>(std::min(i - a, b - i)) / leanOver);
        return 0.5 + away * std::clamp(leanShare * bendAt(column, i), -mostLean, mostLean);
    });
}

void appendUnderlay(Polyline& out, const Column& column, std::size_t from, std::size_t to) {
    if (column.thin || from == to) return;
    double width = 0, size = 0;
    const auto steps = stepsBetween(from, to);
    for (std::size_t k = 0; k < steps.size(); ++k) {
        width += column.rungs[steps[k]].width() / static_cast<double>(steps.size());
        if (k > 0)
            size += distance(column.rungs[steps[k - 1]].middle(), column.rungs[steps[k]].middle());
    }
    if (width < edgeRunsFromMm || size < 2 * runStitchMm) return;
    // A little short of the ends, so that nothing peeps out.
    const std::size_t inset = std::min<std::size_t>(2, steps.size() / 4);
    const std::size_t a = steps[inset], b = steps[steps.size() - 1 - inset];
    appendRunAt(out, column, a, b, edgeInset);
    if (width < zigzagFromMm) return appendRunAt(out, column, b, a, 1 - edgeInset);
    bool right = true;
    const auto back = stepsBetween(b, a);
    const auto stride = static_cast<std::size_t>(
        std::max(1.0, zigzagPitchMm / 2 / (size / static_cast<double>(steps.size()))));
    for (std::size_t k = 0; k < back.size(); k += stride) {
        const Rung& r = column.rungs[back[k]];
        crossTo(out, lerp(r.left, r.right, right ? 1 - edgeInset : edgeInset), splitOverMm,
                static_cast<int>(k));
        right = !right;
    }
}

} // namespace rapt
