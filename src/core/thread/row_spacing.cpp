// Reading the row spacing off bare needle points.

#include "thread/measures.h"

#include <algorithm>

namespace rapt {
namespace {

/// A straight stretch of stitching without a cut in it.
struct Row {
    Vec2 from;
    Vec2 to;
    int stitches = 0;
    Vec2 direction() const { return (to - from) * (1 / std::max(1e-9, distance(from, to))); }
    double size() const { return distance(from, to); }
};

struct Reading {
    double spacing;
    double weight;
};

// Within this of a straight line a stitch carries on the row (cosine of 20 degrees).
constexpr double straightCosine = 0.94;
// Crossings of a narrow satin slant; they still run back by more than this (cosine of 120 degrees).
constexpr double crossingCosine = 0.5;
// Rows side by side may lie this far apart; farther apart they are separate runs.
constexpr double widestSpacingMm = 3.0;
// Stitches inside the rows of fills are shorter than this.
constexpr double longestFillStitchMm = 5.2;

/// Splits the stitching into straight stretches; a jump, trim or thread change ends one. Zero-size
/// rows mark those cuts.
std::vector<Row> straightRows(const StitchList& list) {
    std::vector<Row> rows;
    bool open = false;
    std::uint8_t thread = 0;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        if (!from || from->op == Op::jump || s.thread != thread) {
            if (open) rows.push_back({});
            open = false;
        }
        thread = s.thread;
        if (!from || from->op == Op::jump) return;
        const Vec2 a = from->at();
        const Vec2 b = s.at();
        if (a == b) return;
        const Vec2 way = (b - a) * (1 / distance(a, b));
        if (open && dot(rows.back().direction(), way) > straightCosine)
            rows.back().to = b;
        else
            rows.push_back({a, b});
        ++rows.back().stitches;
        open = true;
    });
    return rows;
}

/// A crossing of a satin is one stitch, or is divided because it would be too long: into stitches
/// that no fill has.
bool isCrossing(const Row& row) {
    return row.stitches == 1 || row.size() / row.stitches > longestFillStitchMm;
}

/// The pitch of two crossings that meet in a point: from middle to middle is half the advance along
/// the centre line, however they slant.
std::optional<double> pitchBetween(const Row& a, const Row& b) {
    if (dot(a.direction(), b.direction()) > -crossingCosine) return std::nullopt;
    return 2 * distance(lerp(a.from, a.to, 0.5), lerp(b.from, b.to, 0.5));
}

/// The distance between two rows that run against each other side by side, or nothing.
std::optional<double> rowsApart(const Row& a, const Row& b) {
    const double sizes = std::min(a.size(), b.size());
    if (sizes < 0.6 || dot(a.direction(), b.direction()) > -straightCosine) return std::nullopt;
    const Vec2 along = a.direction();
    const double b0 = dot(b.to - a.from, along);
    const double b1 = dot(b.from - a.from, along);
    const double overlap = std::min(a.size(), b1) - std::max(0.0, b0);
    if (overlap < 0.5 * sizes) return std::nullopt;
    return std::abs(cross(along, lerp(b.from, b.to, 0.5) - lerp(a.from, a.to, 0.5)));
}

bool isSatin(const Row& a, const Row& b) {
    return isCrossing(a) && isCrossing(b) && distance(a.to, b.from) < 1e-6;
}

std::optional<double> spacingBetween(const Row& a, const Row& b) {
    const auto spacing = isSatin(a, b) ? pitchBetween(a, b) : rowsApart(a, b);
    if (!spacing || *spacing < 0.05 || *spacing > widestSpacingMm) return std::nullopt;
    return spacing;
}

} // namespace

std::optional<double> medianRowSpacing(const StitchList& list) {
    const std::vector<Row> rows = straightRows(list);
    std::vector<Reading> readings;
    for (std::size_t i = 0; i + 1 < rows.size(); ++i) {
        // The next row, or the one after a short step along the outline.
        for (std::size_t j = i + 1; j <= std::min(i + 2, rows.size() - 1); ++j) {
            if (rows[j].size() == 0) break;
            if (auto spacing = spacingBetween(rows[i], rows[j])) {
                // Two crossings tell the advance of one side, the next two that of the other: in a
                // bend only both together tell that of the centre line.
                if (j == i + 1 && j + 1 < rows.size() && isSatin(rows[i], rows[j]) &&
                    isSatin(rows[j], rows[j + 1]))
                    if (const auto other = spacingBetween(rows[j], rows[j + 1]))
                        spacing = (*spacing + *other) / 2;
                readings.push_back({*spacing, rows[i].size()});
                break;
            }
            if (rows[j].size() > widestSpacingMm) break;
        }
    }
    if (readings.empty()) return std::nullopt;
    std::sort(readings.begin(), readings.end(),
              [](const Reading& a, const Reading& b) { return a.spacing < b.spacing; });
    double total = 0;
    for (const Reading& r : readings) total += r.weight;
    double seen = 0;
    for (const Reading& r : readings)
        if ((seen += r.weight) >= total / 2) return r.spacing;
    return readings.back().spacing;
}

} // namespace rapt
