#pragma once
// Bare stitches of known make, and independent measures of them: what respacing is checked with.

#include "support.h"

#include "geometry/segment_grid.h"
#include "thread/measures.h"

#include <functional>
#include <numbers>

namespace rapt::test {

/// Adds a chain of needle points: a trim and a jump before it, if anything was sewn.
inline void sew(StitchList& list, const Polyline& points, std::uint8_t thread = 1) {
    if (list.threads.empty())
        list.threads = {{1, {31, 78, 121}, 40, "Deep tide"}, {2, {227, 167, 47}, 40, "Marigold"}};
    if (!list.stitches.empty()) {
        Stitch trim = list.stitches.back();
        trim.op = Op::trim;
        list.stitches.push_back(trim);
    }
    list.stitches.push_back(stitchAt(Op::jump, points[0], thread));
    for (const Vec2& p : points) list.stitches.push_back(stitchAt(Op::stitch, p, thread));
}

struct RowSpan {
    double y, left, right;
};

/// Rows to and fro; with steps every row has both its ends, else it starts where the last ended.
inline Polyline fillPoints(const std::vector<RowSpan>& rows, bool steps = true, double length = 3,
                           double angleDeg = 0) {
    constexpr double stagger[] = {0, 0.5, 0.25, 0.75};
    Polyline points;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto& [y, left, right] = rows[i];
        Polyline row{{left, y}};
        const double phase = stagger[i % 4] * length;
        for (double k = std::ceil((left + 0.8 - phase) / length); phase + k * length < right - 0.8;
             ++k)
            row.push_back({phase + k * length, y});
        row.push_back({right, y});
        if (i % 2 == 1) std::reverse(row.begin(), row.end());
        if (!steps && i > 0) row.erase(row.begin());
        points.insert(points.end(), row.begin(), row.end());
    }
    const double a = angleDeg * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
    for (Vec2& p : points) p = {p.x * c - p.y * s, p.x * s + p.y * c};
    return points;
}

inline std::vector<RowSpan> rectangleRows(double w, double h, double spacing = 0.4) {
    std::vector<RowSpan> rows;
    for (int i = 0; i <= static_cast<int>(std::lround(h / spacing)); ++i)
        rows.push_back({-h / 2 + i * spacing, -w / 2, w / 2});
    return rows;
}

inline std::vector<RowSpan> discRows(double r, double spacing = 0.4) {
    std::vector<RowSpan> rows;
    for (double y = -r + spacing / 2; y < r; y += spacing) {
        const double half = std::sqrt(r * r - y * y);
        rows.push_back({y, -half, half});
    }
    return rows;
}

inline Polyline arcLine(double r, double from, double to, int n = 300) {
    Polyline line;
    for (int i = 0; i <= n; ++i) {
        const double a = from + (to - from) * i / n;
        line.push_back({r * std::cos(a), r * std::sin(a)});
    }
    return line;
}

/// To and fro across a centre line, of a width given by the share of the way.
inline Polyline satinPoints(const Polyline& centre, const std::function<double(double)>& width,
                            double pitch = 0.4) {
    std::vector<double> sums{0};
    for (std::size_t i = 1; i < centre.size(); ++i)
        sums.push_back(sums.back() + distance(centre[i - 1], centre[i]));
    const int n = static_cast<int>(sums.back() / (pitch / 2));
    Polyline points;
    std::size_t k = 0;
    for (int i = 0; i <= n; ++i) {
        const double at = sums.back() * i / n;
        while (k + 2 < centre.size() && sums[k + 1] < at) ++k;
        const Vec2 d = centre[k + 1] - centre[k];
        const Vec2 p = centre[k] + d * ((at - sums[k]) / (sums[k + 1] - sums[k]));
        const Vec2 across = Vec2{-d.y, d.x} * (0.5 / length(d) * width(at / sums.back()));
        points.push_back(i % 2 ? p + across : p - across);
    }
    return points;
}

/// Stitches of even length along a line; its corners are needle points.
inline Polyline runPoints(const Polyline& corners, double stitchMm = 2.5) {
    Polyline points{corners[0]};
    for (std::size_t i = 1; i < corners.size(); ++i) {
        const int n = std::max(
            1, static_cast<int>(std::ceil(distance(corners[i - 1], corners[i]) / stitchMm - 1e-9)));
        for (int k = 1; k <= n; ++k)
            points.push_back(lerp(corners[i - 1], corners[i], static_cast<double>(k) / n));
    }
    return points;
}

inline Polyline joined(std::initializer_list<Polyline> parts) {
    Polyline all;
    for (const Polyline& part : parts) all.insert(all.end(), part.begin(), part.end());
    return all;
}

/// Needle points in order.
inline Polyline needles(const StitchList& list) {
    Polyline points;
    for (const Stitch& s : list.stitches)
        if (s.op == Op::stitch) points.push_back(s.at());
    return points;
}

/// Farthest that a place along the first one's thread is from the second one's thread.
inline double farthest(const StitchList& from, const StitchList& to, double stepMm = 0.5) {
    std::vector<Segment> there;
    walkStitches(to.stitches, [&](std::size_t i, const Stitch* last) {
        if (last && last->op != Op::jump) there.push_back({last->at(), to.stitches[i].at()});
    });
    const SegmentGrid grid(std::move(there));
    double most = 0;
    walkStitches(from.stitches, [&](std::size_t i, const Stitch* last) {
        if (!last || last->op == Op::jump) return;
        const Vec2 a = last->at(), b = from.stitches[i].at();
        const int n = std::max(1, static_cast<int>(distance(a, b) / stepMm));
        for (int k = 0; k <= n; ++k) {
            const auto near = grid.nearest(lerp(a, b, static_cast<double>(k) / n), 3);
            most = std::max(most, near ? near->distance : 3.0);
        }
    });
    return most;
}

/// Distances between neighbouring level rows of a fill with steps, read from where its long
/// stitches lie: an oracle that knows nothing of how rows are recognised.
inline std::vector<double> levelRowGaps(const StitchList& list) {
    std::vector<double> ys;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* last) {
        if (!last) return;
        const Vec2 a = last->at(), b = list.stitches[i].at();
        if (std::abs(b.x - a.x) > 1.2 && std::abs(b.y - a.y) < 0.02) ys.push_back((a.y + b.y) / 2);
    });
    std::sort(ys.begin(), ys.end());
    std::vector<double> gaps;
    for (std::size_t i = 1; i < ys.size(); ++i)
        if (ys[i] - ys[i - 1] > 0.05) gaps.push_back(ys[i] - ys[i - 1]);
    std::sort(gaps.begin(), gaps.end());
    return gaps;
}

inline double longest(const StitchList& list) { return measure(list).longestMm; }

} // namespace rapt::test
