#include "geometry/segment_grid.h"

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
    // A segment is filed under every cell that its box touches: stitches are short.
    const auto eachCell = [&](const Segment& s, auto visit) {
        const int i0 = column(std::min(s.a.x, s.b.x)), i1 = column(std::max(s.a.x, s.b.x));
        const int j0 = row(std::min(s.a.y, s.b.y)), j1 = row(std::max(s.a.y, s.b.y));
        for (int j = j0; j <= j1; ++j)
            for (int i = i0; i <= i1; ++i) visit(static_cast<std::size_t>(j * columns + i));
    };
    starts.assign(static_cast<std::size_t>(columns * rows) + 1, 0);
    for (const Segment& s : all) eachCell(s, [&](std::size_t c) { ++starts[c + 1]; });
    for (std::size_t c = 1; c < starts.size(); ++c) starts[c] += starts[c - 1];
    entries.resize(starts.back());
    std::vector<std::uint32_t> next(starts.begin(), starts.end() - 1);
    for (std::size_t k = 0; k < all.size(); ++k)
        eachCell(all[k],
                 [&](std::size_t c) { entries[next[c]++] = static_cast<std::uint32_t>(k); });
}

int SegmentGrid::column(double x) const {
    return std::clamp(static_cast<int>((x - box.minX) / cell), 0, columns - 1);
}

int SegmentGrid::row(double y) const {
    return std::clamp(static_cast<int>((y - box.minY) / cell), 0, rows - 1);
}

void SegmentGrid::searchCell(int i, int j, Vec2 p, Nearest& best) const {
    const auto c = static_cast<std::size_t>(j * columns + i);
    for (std::uint32_t k = starts[c]; k < starts[c + 1]; ++k) {
        const Segment& s = all[entries[k]];
        const Vec2 ab = s.b - s.a;
        const double size = dot(ab, ab);
        const double t = size == 0 ? 0 : std::clamp(dot(p - s.a, ab) / size, 0.0, 1.0);
        const Vec2 at = s.a + ab * t;
        const double d = distance(p, at);
        if (d < best.distance) best = {d, at};
    }
}

std::optional<SegmentGrid::Nearest> SegmentGrid::nearest(Vec2 p, double atMost) const {
    if (all.empty()) return std::nullopt;
    const Box at{p.x, p.y, p.x, p.y};
    if (boxGap(at, box) > atMost) return std::nullopt;
    Nearest best{std::nextafter(atMost, 1e300), {}};
    const double limit = best.distance;
    const int ci = column(p.x), cj = row(p.y);
    for (int ring = 0; ring < std::max(columns, rows); ++ring) {
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
