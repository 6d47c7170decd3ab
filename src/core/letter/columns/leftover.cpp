#include "letter/columns/leftover.h"

#include "letter/columns/row_line.h"
#include "letter/columns/stroke_rows.h"

#include <algorithm>
#include <numbers>

namespace rapt {
namespace {

/// Rows are lengthened into bare places wider than this. Beside a row half a thread lies already,
/// so that only wider ones are worth a column of their own: it would lie along the row as a ridge.
constexpr double bareOverMm = 0.16, ownColumnOverMm = 0.34;
constexpr double leastBitMm2 = 0.03;
/// A row gets longer by at most this share of itself on each side, or by so much if that is more.
constexpr double mostLonger = 1.0, mostLongerMm = 0.9;
constexpr double tuckMm = 0.3; ///< lengthened rows go this far beyond a bit, if there is room

std::vector<Contours> bareBits(const Contours& outline, const std::vector<Column>& columns,
                               double overMm) {
    Contours covered;
    for (const Column& c : columns)
        for (Polyline& line : regionOf(c)) covered.push_back(std::move(line));
    Contours bare = differenceOf(outline, unitedNonZero(covered));
    bare = offsetContours(offsetContours(bare, -overMm / 2), overMm / 2);
    std::vector<Contours> bits = componentsOf(bare);
    std::erase_if(bits, [](const Contours& bit) { return areaOf(bit) < leastBitMm2; });
    return bits;
}

/// What one column can do for one bit.
struct Lengthening {
    double area = 0;
    std::vector<std::pair<std::size_t, Rung>> changed;
    std::vector<Rung> before, after; ///< new rungs at the ends, nearest first
};

class Lengthener {
public:
    Lengthener(const RowCutter& o, const RowCutter& b, double pitch)
        : outline(o), bit(b), half(pitch / 2) {}

    /// `limits`: how wide each rung may get.
    Lengthening tryOut(const Column& column, const std::vector<double>& limits) const {
        Lengthening result;
        for (std::size_t i = 0; i < column.rungs.size(); ++i)
            if (const auto longer = lengthened(column.rungs[i], limits[i])) {
                result.area += (longer->width() - column.rungs[i].width()) * half;
                result.changed.emplace_back(i, *longer);
            }
        if (!column.closed && column.rungs.size() > 2) {
            const std::size_t n = column.rungs.size();
            result.before =
                goOn(column.rungs[std::min<std::size_t>(3, n - 1)], column.rungs[0], result.area);
            result.after = goOn(column.rungs[n - 1 - std::min<std::size_t>(3, n - 1)],
                                column.rungs[n - 1], result.area);
        }
        return result;
    }

private:
    std::optional<Rung> lengthened(const Rung& rung, double limit) const {
        const double width = rung.width();
        if (width < 0.05) return std::nullopt;
        const Vec2 dir = (rung.right - rung.left) * (1 / width);
        const Vec2 middle = rung.middle();
        const auto bare = bit.inside(middle, dir);
        if (bare.empty()) return std::nullopt;
        const Stretch own{-width / 2, width / 2};
        // Only within the stretch of outline that the row lies in.
        for (const Stretch& room : outline.inside(middle, dir)) {
            if (room.from > 0 || room.to < 0) continue;
            Stretch grown = own;
            for (const Stretch& b : bare) {
                if (b.to < room.from || b.from > room.to) continue;
                if (b.from < own.from)
                    grown.from = std::min(grown.from, std::max(room.from, b.from - tuckMm));
                if (b.to > own.to) grown.to = std::max(grown.to, std::min(room.to, b.to + tuckMm));
            }
            // A short row is not drawn out along a whole stroke: that is a column's work.
            const double most = std::max(0.0, limit - width);
            grown.from = std::max(grown.from, own.from - most);
            grown.to = std::min(grown.to, own.to + most);
            if (grown.size() < own.size() + 0.05) return std::nullopt;
            return Rung{middle + dir * grown.from, middle + dir * grown.to};
        }
        return std::nullopt;
    }
    /// Rungs that go on beyond the end of a column, parallel to the last.
    std::vector<Rung> goOn(const Rung& inner, const Rung& last, double& area) const {
        std::vector<Rung> result;
        Vec2 ahead = last.middle() - inner.middle();
        const double width = last.width();
        if (length(ahead) < 1e-6 || width < 0.05) return result;
        const Vec2 dir = (last.right - last.left) * (1 / width);
        ahead = ahead - dir * dot(ahead, dir);
        if (length(ahead) < 1e-6) return result;
        ahead = ahead * (1 / length(ahead));
        Stretch near{-width / 2, width / 2};
        for (int i = 1; i < 60; ++i) {
            const Vec2 middle = last.middle() + ahead * (i * half);
            const Stretch* best = nullptr;
            const auto bare = bit.inside(middle, dir);
            for (const Stretch& s : bare)
                if (s.overlaps(near) && s.size() > 0.1 && (!best || s.size() > best->size()))
                    best = &s;
            if (!best) break;
            area += best->size() * half;
            near = *best;
            result.push_back({middle + dir * near.from, middle + dir * near.to});
        }
        return result;
    }

    const RowCutter& outline;
    const RowCutter& bit;
    double half;
};

void apply(Column& column, std::vector<double>& limits, const Lengthening& change) {
    for (const auto& [i, rung] : change.changed) column.rungs[i] = rung;
    column.rungs.insert(column.rungs.end(), change.after.begin(), change.after.end());
    column.rungs.insert(column.rungs.begin(), change.before.rbegin(), change.before.rend());
    // New rungs at the ends have their full width already.
    std::vector<double> grown;
    for (const Rung& r : change.before) grown.insert(grown.begin(), r.width());
    grown.insert(grown.end(), limits.begin(), limits.end());
    for (const Rung& r : change.after) grown.push_back(r.width());
    limits = std::move(grown);
    keepFromCrossing(column.rungs);
}

/// Direction (radians) across the narrow way of a bit.
double narrowWay(const Contours& bit) {
    double best = 0, least = 1e9;
    for (int k = 0; k < 12; ++k) {
        const double angle = k * std::numbers::pi / 12;
        const Vec2 dir{std::cos(angle), std::sin(angle)};
        double lo = 1e9, hi = -1e9;
        for (const Vec2& p : bit[0]) {
            lo = std::min(lo, dot(p, dir));
            hi = std::max(hi, dot(p, dir));
        }
        if (hi - lo < least) {
            least = hi - lo;
            best = angle;
        }
    }
    return best;
}

Column parallelRows(const Contours& bit, double angle, double pitchMm) {
    const Vec2 dir{std::cos(angle), std::sin(angle)}, along{dir.y, -dir.x};
    double lo = 1e9, hi = -1e9;
    for (const Vec2& p : bit[0]) {
        lo = std::min(lo, dot(p, along));
        hi = std::max(hi, dot(p, along));
    }
    const RowCutter cutter(bit);
    Column column;
    const double size = hi - lo;
    const int count = std::max(2, static_cast<int>(std::lround((size - 0.1) / (pitchMm / 2))));
    for (int i = 0; i <= count; ++i) {
        const Vec2 middle = along * (lo + 0.05 + (size - 0.1) * i / count);
        const auto rows = cutter.inside(middle, dir);
        if (rows.empty()) continue;
        // From edge to edge; what a hole leaves out is too small for rows of its own.
        column.rungs.push_back({middle + dir * rows.front().from, middle + dir * rows.back().to});
    }
    return column;
}

} // namespace

Column uprightRows(const Contours& outline, double pitchMm) {
    return parallelRows(outline, std::numbers::pi / 2, pitchMm);
}

void coverLeftovers(const Contours& outline, std::vector<Column>& columns, double pitchMm) {
    const RowCutter room(outline);
    std::vector<std::vector<double>> limits;
    for (const Column& c : columns) {
        limits.emplace_back();
        for (const Rung& r : c.rungs)
            limits.back().push_back(r.width() + std::max(mostLongerMm, mostLonger * r.width()));
    }
    for (int round = 0; round < 4; ++round) {
        const auto bits = bareBits(outline, columns, bareOverMm);
        bool changed = false;
        for (const Contours& bit : bits) {
            const RowCutter cutter(bit);
            const Lengthener lengthener(room, cutter, pitchMm);
            Lengthening best;
            std::size_t who = columns.size();
            for (std::size_t i = 0; i < columns.size(); ++i) {
                Lengthening trial = lengthener.tryOut(columns[i], limits[i]);
                if (trial.area > best.area) {
                    best = std::move(trial);
                    who = i;
                }
            }
            if (who == columns.size() || best.area < 0.25 * areaOf(bit)) continue;
            apply(columns[who], limits[who], best);
            changed = true;
        }
        if (!changed) break;
    }
    for (const Contours& bit : bareBits(outline, columns, ownColumnOverMm)) {
        // A bit gets rows a little longer than itself, as far as the letter goes.
        if (areaOf(bit) < 0.08) continue;
        Column column = parallelRows(bit, narrowWay(bit), pitchMm);
        for (Rung& r : column.rungs) {
            const double width = r.width();
            if (width < 0.02) continue;
            const Vec2 dir = (r.right - r.left) * (1 / width), middle = r.middle();
            for (const Stretch& s : room.inside(middle, dir))
                if (s.from <= 0 && s.to >= 0)
                    r = {middle + dir * std::max(s.from, -width / 2 - tuckMm),
                         middle + dir * std::min(s.to, width / 2 + tuckMm)};
        }
        std::erase_if(column.rungs, [](const Rung& r) { return r.width() < 0.1; });
        if (column.rungs.size() > 1) columns.push_back(std::move(column));
    }
}

} // namespace rapt
