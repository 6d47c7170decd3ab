#include "respace/neighbours.h"

namespace rapt {
namespace {

// The next row is looked for within this share of the spacing.
constexpr double searchShare = 0.6;
// So much of an end row must have a neighbour.
constexpr double leastShare = 0.3;

} // namespace

RowNeighbours::RowNeighbours(const std::vector<SewnChain>& chains) {
    std::vector<std::vector<Segment>> rows(256);
    for (const SewnChain& chain : chains)
        for (const SewnStretch& s : chain.stretches)
            if (s.kind == StretchKind::fill)
                for (const SewnRow& row : s.rows)
                    rows[chain.thread].push_back({chain.rowFrom(row), chain.rowTo(row)});
    grids.resize(256);
    for (std::size_t t = 0; t < rows.size(); ++t)
        if (!rows[t].empty()) grids[t] = std::make_unique<SegmentGrid>(std::move(rows[t]));
}

bool RowNeighbours::goesOn(const SewnChain& chain, const SewnStretch& fill, const SewnRow& row,
                           const SewnRow& inside) const {
    const Vec2 a = chain.rowFrom(row), b = chain.rowTo(row);
    const Vec2 way = (b - a) * (1 / std::max(1e-9, distance(a, b)));
    Vec2 out{-way.y, way.x};
    const Vec2 middle = lerp(chain.rowFrom(inside), chain.rowTo(inside), 0.5);
    if (dot(out, lerp(a, b, 0.5) - middle) < 0) out = out * -1.0;
    const int samples = std::clamp(static_cast<int>(distance(a, b)), 3, 40);
    int found = 0;
    for (int k = 0; k < samples; ++k) {
        const Vec2 p = lerp(a, b, (k + 0.5) / samples) + out * fill.spacingMm;
        found += grids[chain.thread]->nearest(p, searchShare * fill.spacingMm).has_value();
    }
    return found > leastShare * samples;
}

BandEnds RowNeighbours::of(const SewnChain& chain, const SewnStretch& fill) const {
    const auto& rows = fill.rows;
    return {goesOn(chain, fill, rows.front(), rows[1]),
            goesOn(chain, fill, rows.back(), rows[rows.size() - 2])};
}

} // namespace rapt
