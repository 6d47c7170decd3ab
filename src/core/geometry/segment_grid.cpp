#include "geometry/segment_grid.h"

#include <numbers>

namespace rapt {
namespace {

constexpr double leastCellMm = 2;
constexpr double mostCellsAcross = 800;

} // namespace

SegmentGrid::SegmentGrid(std::vector<Segment> segments) : all(std::move(segments)) {
    for (const Segment& s : all) {
        box.add(s.a);
        box.add(s.b);
    }
    if (all.empty()) return;
    cell = std::max(leastCellMm, std::max(box.width(), box.height()) / mostCellsAcross);
    columns = static_cast<int>(box.width() / cell) + 1;
    rows = static_cast<int>(box.height() / cell) + 1;
    // A segment is filed under the cells that it touches, row by row of them (and their neighbours
    // where it runs along an edge).
    const auto eachCell = [&](const Segment& s, auto visit) {
        const Segment down = s.a.y <= s.b.y ? s : Segment{s.b, s.a};
        const int j0 = row(down.a.y), j1 = row(down.b.y);
        const double high = down.b.y - down.a.y;
        for (int j = j0; j <= j1; ++j) {
            const auto xAt = [&](double y) {
                const double t = high > 0 ? std::clamp((y - down.a.y) / high, 0.0, 1.0) : 0;
                return down.a.x + (down.b.x - down.a.x) * t;
            };
            constexpr double hair = 1e-6;
            const double top = box.minY + j * cell;
            double x0 = j == j0 ? down.a.x : xAt(top), x1 = j == j1 ? down.b.x : xAt(top + cell);
            if (x0 > x1) std::swap(x0, x1);
            for (int i = column(x0 - hair); i <= column(x1 + hair); ++i)
                visit(static_cast<std::size_t>(j * columns + i));
        }
    };
    starts.assign(static_cast<std::size_t>(columns * rows) + 1, 0);
    for (const Segment& s : all) eachCell(s, [&](std::size_t c) { ++starts[c + 1]; });
    for (std::size_t c = 1; c < starts.size(); ++c) starts[c] += starts[c - 1];
    entries.resize(starts.back());
    std::vector<std::uint32_t> next(starts.begin(), starts.end() - 1);
    for (std::size_t k = 0; k < all.size(); ++k)
        eachCell(all[k],
                 [&](std::size_t c) { entries[next[c]++] = static_cast<std::uint32_t>(k); });
    spreadDistances();
}

/// Exact distances between cells: first along the columns, then the lower envelope of parabolas
/// along each row (Felzenszwalb and Huttenlocher, Distance transforms of sampled functions, 2012).
void SegmentGrid::spreadDistances() {
    const auto at = [this](int i, int j) { return static_cast<std::size_t>(j * columns + i); };
    constexpr float far = 1e6f;
    apart.assign(static_cast<std::size_t>(columns * rows), far);
    for (int i = 0; i < columns; ++i) {
        for (int j = 0; j < rows; ++j)
            apart[at(i, j)] = starts[at(i, j)] < starts[at(i, j) + 1] ? 0
                              : j > 0                                 ? apart[at(i, j - 1)] + 1
                                                                      : far;
        for (int j = rows - 2; j >= 0; --j)
            apart[at(i, j)] = std::min(apart[at(i, j)], apart[at(i, j + 1)] + 1);
    }
    std::vector<double> height(static_cast<std::size_t>(columns));
    std::vector<int> lowest(static_cast<std::size_t>(columns));
    std::vector<double> from(static_cast<std::size_t>(columns) + 1);
    for (int j = 0; j < rows; ++j) {
        for (int i = 0; i < columns; ++i)
            height[static_cast<std::size_t>(i)] =
                static_cast<double>(apart[at(i, j)]) * static_cast<double>(apart[at(i, j)]);
        const auto meet = [&](int a, int b) {
            return (height[static_cast<std::size_t>(b)] - height[static_cast<std::size_t>(a)] +
                    static_cast<double>(b) * b - static_cast<double>(a) * a) /
                   (2.0 * (b - a));
        };
        std::size_t k = 0;
        lowest[0] = 0;
        from[0] = -1e12;
        for (int i = 1; i < columns; ++i) {
            double x = meet(lowest[k], i);
            while (k > 0 && x <= from[k]) x = meet(lowest[--k], i);
            lowest[++k] = i;
            from[k] = x;
        }
        const std::size_t last = k;
        k = 0;
        for (int i = 0; i < columns; ++i) {
            while (k < last && from[k + 1] < i) ++k;
            const double d = i - lowest[k];
            apart[at(i, j)] =
                static_cast<float>(std::sqrt(d * d + height[static_cast<std::size_t>(lowest[k])]));
        }
    }
}

SegmentGrid::Bounds SegmentGrid::distanceBounds(Vec2 p) const {
    if (all.empty()) return {1e300, 1e300};
    const double outside = boxGap(Box{p.x, p.y, p.x, p.y}, box);
    const double cells =
        static_cast<double>(apart[static_cast<std::size_t>(row(p.y) * columns + column(p.x))]);
    // Places lie up to half a diagonal from the middle of their cell.
    const double slack = std::numbers::sqrt2 * cell;
    return {std::max(outside, cells * cell - slack - outside), outside + cells * cell + slack};
}

int SegmentGrid::column(double x) const {
    return std::clamp(static_cast<int>((x - box.minX) / cell), 0, columns - 1);
}

int SegmentGrid::row(double y) const {
    return std::clamp(static_cast<int>((y - box.minY) / cell), 0, rows - 1);
}

void SegmentGrid::searchCell(int i, int j, Vec2 p, Nearest& best) const {
    const auto c = static_cast<std::size_t>(j * columns + i);
    if (starts[c] == starts[c + 1]) return;
    // Segments reach into a cell, but their part in it is no nearer than the cell.
    const double left = box.minX + i * cell, top = box.minY + j * cell;
    const double dx = std::max({0.0, left - p.x, p.x - left - cell});
    const double dy = std::max({0.0, top - p.y, p.y - top - cell});
    double least = best.distance * best.distance;
    if (dx * dx + dy * dy > least) return;
    for (std::uint32_t k = starts[c]; k < starts[c + 1]; ++k) {
        const Segment& s = all[entries[k]];
        const Vec2 ab = s.b - s.a;
        const double size = dot(ab, ab);
        const double t = size == 0 ? 0 : std::clamp(dot(p - s.a, ab) / size, 0.0, 1.0);
        const Vec2 at = s.a + ab * t, off = at - p;
        const double d = dot(off, off);
        if (d >= least) continue;
        least = d;
        best = {std::sqrt(d), at};
    }
}

std::optional<SegmentGrid::Nearest> SegmentGrid::nearest(Vec2 p, double atMost) const {
    if (all.empty()) return std::nullopt;
    const Box at{p.x, p.y, p.x, p.y};
    if (boxGap(at, box) > atMost) return std::nullopt;
    Nearest best{std::nextafter(atMost, 1e300), {}};
    const double limit = best.distance;
    const int ci = column(p.x), cj = row(p.y);
    // Within so many rings there is nothing.
    const auto bare =
        static_cast<int>(static_cast<double>(apart[static_cast<std::size_t>(cj * columns + ci)]) /
                         std::numbers::sqrt2);
    for (int ring = std::max(0, bare - 1); ring < std::max(columns, rows); ++ring) {
        // Everything in this ring is at least so far away.
        if ((ring - 1) * cell > best.distance) break;
        const int i0 = ci - ring, i1 = ci + ring, j0 = cj - ring, j1 = cj + ring;
        for (int j = std::max(0, j0); j <= std::min(rows - 1, j1); ++j) {
            const bool whole = j == j0 || j == j1;
            if (whole) {
                for (int i = std::max(0, i0); i <= std::min(columns - 1, i1); ++i)
                    searchCell(i, j, p, best);
            } else {
                if (i0 >= 0) searchCell(i0, j, p, best);
                if (i1 < columns) searchCell(i1, j, p, best);
            }
        }
    }
    if (best.distance >= limit) return std::nullopt;
    return best;
}

} // namespace rapt
