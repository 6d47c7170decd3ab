#include "letter/columns/stroke_rows.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace rapt {
namespace {

/// At a meeting a row may not reach farther to a side than this times what it reaches outside.
constexpr double reachBeyond = 1.12;
/// How far along the stroke a meeting is felt, in radii of its disc.
constexpr double meetingReach = 2.2;
/// How far rows may go on beyond the ends of the axis, in radii.
constexpr double beyondFreeEnd = 3.0, beyondMeeting = 2.0;
constexpr double scanStepMm = 0.1;
constexpr double shortestRowMm = 0.12;
constexpr double ringOverlapMm = 0.8;
/// A row counts as bare ground's if more than this of it is not covered yet; others are kept this
/// far beside it.
constexpr double bareRowMm = 0.15, tuckMm = 0.35;

struct ScanRow {
    double s = 0;
    Stretch natural; ///< to the outline
    double capLeft = 1e9, capRight = 1e9;
    std::optional<Stretch> used; ///< what the column takes
};

class RowMaker {
public:
    explicit RowMaker(const RowRequest& r)
        : request(r), line(*r.stroke, r.turnDeg), stroke(*r.stroke) {}

    std::vector<Column> make() {
        scan();
        if (rows.empty()) return {};
        capAtMeetings();
        use();
        std::vector<Column> columns;
        std::size_t i = 0;
        while (i < rows.size()) {
            if (!rows[i].used) {
                ++i;
                continue;
            }
            std::size_t last = i;
            while (last + 1 < rows.size() && rows[last + 1].used) ++last;
            place(i, last, columns);
            i = last + 1;
        }
        return columns;
    }

private:
    /// The stretch that goes on from a neighbouring row, or holds the middle.
    static std::optional<Stretch> pick(const std::vector<Stretch>& all,
                                       const std::optional<Stretch>& near) {
        for (const Stretch& s : all)
            if (s.from <= 0 && s.to >= 0 && (!near || s.overlaps(*near))) return s;
        const Stretch* best = nullptr;
        double most = 0;
        if (near)
            for (const Stretch& s : all) {
                const double shared = std::min(s.to, near->to) - std::max(s.from, near->from);
                if (shared > most) {
                    most = shared;
                    best = &s;
                }
            }
        return best ? std::optional(*best) : std::nullopt;
    }
    std::optional<Stretch> natural(double s, const std::optional<Stretch>& near) const {
        return pick(request.part->inside(line.at(s), line.across(s)), near);
    }

    void scan() {
        const double total = line.length();
        const auto n = std::max(2, static_cast<int>(std::ceil(total / scanStepMm)));
        std::vector<ScanRow> forward;
        std::optional<Stretch> near;
        for (int i = 0; i <= n; ++i) {
            const double s = total * i / n;
            if (auto row = natural(s, near)) {
                forward.push_back({s, *row, 1e9, 1e9, {}});
                near = row;
            }
        }
        if (forward.empty()) return;
        if (stroke.closed) {
            rows = std::move(forward);
            return;
        }
        std::vector<ScanRow> before = goOn(forward.front(), -1, stroke.startsAtMeeting);
        std::vector<ScanRow> after = goOn(forward.back(), 1, stroke.endsAtMeeting);
        rows.assign(before.rbegin(), before.rend());
        rows.insert(rows.end(), forward.begin(), forward.end());
        rows.insert(rows.end(), after.begin(), after.end());
    }
    std::vector<ScanRow> goOn(const ScanRow& from, int sign, bool atMeeting) const {
        std::vector<ScanRow> result;
        const double radius = std::max(line.radius(from.s), atMeeting ? meetingRadius(from.s) : 0);
        const double most = radius * (atMeeting ? beyondMeeting : beyondFreeEnd);
        std::optional<Stretch> near = from.natural;
        constexpr double fine = scanStepMm / 2;
        for (double d = fine; d <= most; d += fine) {
            const double s = from.s + sign * d;
            near = natural(s, near);
            if (!near || near->size() < shortestRowMm) break;
            result.push_back({s, *near, 1e9, 1e9, {}});
        }
        return result;
    }
    double meetingRadius(double s) const {
        double radius = 0;
        for (const StrokeMeeting& m : stroke.meetings)
            if (std::abs(m.at - s) < 2 * m.radius) radius = std::max(radius, m.radius);
        return radius;
    }

    /// What a side reaches just outside a meeting, in one direction along the stroke; none if the
    /// stroke ends before.
    std::optional<double> reachOutside(const StrokeMeeting& m, bool left, int sign) const {
        double least = 1e9;
        double found = 0;
        const double total = line.length();
        for (const ScanRow& row : rows) {
            const double d = (row.s - m.at) * sign;
            if (d < 1.1 * m.radius || d > 2.2 * m.radius || row.s < 0 || row.s > total) continue;
            least = std::min(least, left ? -row.natural.from : row.natural.to);
            found += 1;
        }
        return found > 1 && least > 0 ? std::optional(least) : std::nullopt;
    }
    void capSide(const StrokeMeeting& m, bool left) {
        std::optional<double> before = reachOutside(m, left, -1), after = reachOutside(m, left, 1);
        if (!before && !after) before = after = stroke.halfWidth();
        if (!before) before = after;
        if (!after) after = before;
        // A side that still runs into the other stroke is no measure.
        if (*before > 1.5 * *after) before = after;
        if (*after > 1.5 * *before) after = before;
        for (ScanRow& row : rows) {
            const double d = row.s - m.at;
            if (std::abs(d) > meetingReach * m.radius) continue;
            const double t = std::clamp(0.5 + d / (2 * 1.5 * m.radius), 0.0, 1.0);
            const double cap = reachBeyond * (*before * (1 - t) + *after * t);
            double& own = left ? row.capLeft : row.capRight;
            own = std::min(own, cap);
        }
    }
    void capAtMeetings() {
        for (const StrokeMeeting& m : stroke.meetings) {
            if (m.left) capSide(m, true);
            if (m.right) capSide(m, false);
        }
    }

    std::optional<Stretch> taken(const ScanRow& row, const std::optional<Stretch>& near) const {
        const Stretch capped{std::max(row.natural.from, -row.capLeft),
                             std::min(row.natural.to, row.capRight)};
        if (capped.size() < shortestRowMm) return std::nullopt;
        std::vector<Stretch> left{capped};
        if (!request.barred->empty())
            left = without(left, request.barred->inside(line.at(row.s), line.across(row.s)));
        std::erase_if(left, [](const Stretch& s) { return s.size() < shortestRowMm; });
        const auto best = pick(left, near);
        if (best || near) return best;
        // Nothing holds the middle: the longest.
        const auto it =
            std::max_element(left.begin(), left.end(), [](const Stretch& a, const Stretch& b) {
                return a.size() < b.size();
            });
        return it == left.end() ? std::nullopt : std::optional(*it);
    }
    void use() {
        // From the middle of the stroke outwards, so that ends follow what comes before them.
        const auto middle = static_cast<std::size_t>(rows.size() / 2);
        std::optional<Stretch> near;
        for (std::size_t i = middle; i < rows.size(); ++i)
            near = rows[i].used = taken(rows[i], near);
        near = rows[middle].used;
        for (std::size_t i = middle; i-- > 0;) near = rows[i].used = taken(rows[i], near);
        dropHidden();
    }
    double bareOf(const ScanRow& row) const {
        double bare = 0;
        for (const Stretch& s :
             without({*row.used}, request.covered->inside(line.at(row.s), line.across(row.s))))
            bare += s.size();
        return bare;
    }
    /// Rows that lie wholly on earlier columns are kept only next to others, as the tuck below.
    void dropHidden() {
        if (request.covered->empty()) return;
        std::vector<double> bare;
        for (const ScanRow& row : rows)
            if (row.used && bareOf(row) > bareRowMm) bare.push_back(row.s);
        for (ScanRow& row : rows) {
            if (!row.used) continue;
            const auto next = std::lower_bound(bare.begin(), bare.end(), row.s);
            double away = 1e9;
            if (next != bare.end()) away = *next - row.s;
            if (next != bare.begin()) away = std::min(away, row.s - *std::prev(next));
            if (away > tuckMm) row.used.reset();
        }
    }

    Rung rungAt(double s, std::size_t from, std::size_t to) const {
        // Between two scanned rows: exact cut at the outline, limits as in the nearer one.
        std::size_t k = from;
        while (k < to && std::abs(rows[k + 1].s - s) <= std::abs(rows[k].s - s)) ++k;
        ScanRow row = rows[k];
        row.s = s;
        if (const auto exact = natural(s, row.natural)) row.natural = *exact;
        const auto used = taken(row, rows[k].used);
        const Stretch stretch = used ? *used : *rows[k].used;
        const Vec2 c = line.at(s), n = line.across(s);
        return {c + n * stretch.from, c + n * stretch.to};
    }
    void place(std::size_t first, std::size_t last, std::vector<Column>& columns) const {
        const double from = rows[first].s, to = rows[last].s;
        // Beyond an earlier column only the overlap below it comes to light again.
        double area = 0, bare = 0;
        for (std::size_t i = first; i < last; ++i) {
            const double step = rows[i + 1].s - rows[i].s;
            area += rows[i].used->size() * step;
            bare += bareOf(rows[i]) * step;
        }
        if (area < 0.06 || bare < 0.15 * area || bare < 0.05) return;
        Column column;
        column.closed = stroke.closed && first == 0 && last + 1 == rows.size();
        const double half = request.pitchMm / 2;
        const double size = to - from;
        if (column.closed) {
            placeRing(column, from, size);
        } else {
            const int count = std::max(1, static_cast<int>(std::lround(size / half)));
            const double even = size / count;
            // Short columns keep the pitch, and give up a little of their ends.
            const bool fits = even > 0.96 * half && even < 1.06 * half;
            const int steps = fits ? count : std::max(1, static_cast<int>(size / half));
            const double step = fits ? even : std::min(half, size / steps);
            const double start = from + (size - step * steps) / 2;
            for (int i = 0; i <= steps; ++i)
                column.rungs.push_back(rungAt(start + i * step, first, last));
        }
        keepFromCrossing(column.rungs);
        columns.push_back(std::move(column));
    }
    /// A ring opens at its thinnest place and overlaps there.
    void placeRing(Column& column, double from, double size) const {
        double open = from, thinnest = 1e9;
        for (const ScanRow& row : rows)
            if (row.used && row.used->size() < thinnest - 0.02) {
                thinnest = row.used->size();
                open = row.s;
            }
        const double half = request.pitchMm / 2;
        const int count = std::max(6, static_cast<int>(std::lround(size / half)));
        const double step = size / count;
        const int extra = static_cast<int>(std::ceil(ringOverlapMm / step));
        for (int i = 0; i <= count + extra; ++i) {
            double s = open + i * step;
            if (s > size) s -= size;
            column.rungs.push_back(rungAt(s, 0, rows.size() - 1));
        }
    }

    const RowRequest& request;
    CentreLine line;
    const Stroke& stroke;
    std::vector<ScanRow> rows;
};

/// Where segment p crosses segment q: the share of p, if it does.
std::optional<double> crossingShare(Vec2 p0, Vec2 p1, Vec2 q0, Vec2 q1) {
    const Vec2 r = p1 - p0, s = q1 - q0;
    const double det = cross(r, s);
    if (det == 0) return std::nullopt;
    const double t = cross(q0 - p0, s) / det, u = cross(q0 - p0, r) / det;
    if (t < 0 || t > 1 || u < 0 || u > 1) return std::nullopt;
    return t;
}

} // namespace

void keepFromCrossing(std::vector<Rung>& rungs) {
    // Not so far back that a ring's end would meet its start.
    const std::size_t back = std::min<std::size_t>(40, rungs.size() / 2);
    for (std::size_t i = 1; i < rungs.size(); ++i)
        for (std::size_t k = i; k-- > i - std::min(i, back);) {
            if (distance(rungs[i].middle(), rungs[k].middle()) >
                (rungs[i].width() + rungs[k].width()) / 2)
                continue;
            const auto t =
                crossingShare(rungs[i].left, rungs[i].right, rungs[k].left, rungs[k].right);
            if (!t) continue;
            // The shorter side of the crossing is inside the bend.
            const Vec2 at = lerp(rungs[i].left, rungs[i].right, *t);
            if (*t < 0.5)
                rungs[i].left = lerp(at, rungs[i].right, 0.02);
            else
                rungs[i].right = lerp(at, rungs[i].left, 0.02);
        }
}

std::vector<Column> rowsAcross(const RowRequest& request) {
    if (request.stroke->points.size() < 2 || request.stroke->length() < 1e-6) return {};
    return RowMaker(request).make();
}

} // namespace rapt
