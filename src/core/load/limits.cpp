#include "load/limits.h"

#include <algorithm>

namespace rapt {
namespace {

/// Grows patches from cell to cell. Cells over the limit are flagged tile by tile first, so that
/// growing only looks at flags.
class PatchFinder {
public:
    PatchFinder(const LoadMap& m, LoadKind k, const LoadLimits& l)
        : map(m), kind(k), limits(l), flags(m.tiles().size()) {}

    std::vector<OverloadedPatch> run() {
        const auto plain = static_cast<float>(lowestLimit());
        for (std::size_t t = 0; t < flags.size(); ++t) flag(t, plain);
        for (std::size_t t = 0; t < flags.size(); ++t)
            for (std::size_t k = 0; k < flags[t].size(); ++k)
                if (take(t, k)) patches.push_back(grow({t, k}));
        std::sort(patches.begin(), patches.end(),
                  [](const auto& a, const auto& b) { return a.excess > b.excess; });
        return std::move(patches);
    }

private:
    static constexpr int side = LoadMap::tileCells;
    struct Place {
        std::size_t tile, cell;
    };

    const std::vector<float>& valuesOf(std::size_t tile) const {
        const LoadMap::Tile& t = map.tiles()[tile];
        return kind == LoadKind::layers ? t.layers : t.hits;
    }
    Cell cellOf(Place p) const {
        const Cell first = map.tiles()[p.tile].first;
        const int n = static_cast<int>(p.cell);
        return {first.i + n % side, first.j + n / side};
    }
    double limitAt(Cell c) const {
        return (kind == LoadKind::layers ? limits.maxLayers : limits.maxHits) *
               limits.factorAt(c.centre());
    }
    double lowestLimit() const {
        double factor = 1;
        for (const ThickZone& z : limits.zones) factor = std::min(factor, z.limitFactor);
        return factor * (kind == LoadKind::layers ? limits.maxLayers : limits.maxHits);
    }

    void flag(std::size_t tile, float lowest) {
        const std::vector<float>& values = valuesOf(tile);
        if (std::none_of(values.begin(), values.end(), [=](float v) { return v > lowest; })) return;
        flags[tile].resize(values.size());
        for (std::size_t k = 0; k < values.size(); ++k)
            flags[tile][k] =
                values[k] > lowest && (limits.zones.empty() ||
                                       static_cast<double>(values[k]) > limitAt(cellOf({tile, k})));
    }
    bool take(std::size_t tile, std::size_t cell) {
        return !flags[tile].empty() && std::exchange(flags[tile][cell], 0);
    }
    /// The neighbour of a cell, if its tile is there.
    std::optional<Place> beside(Place p, int di, int dj) const {
        const int i = static_cast<int>(p.cell) % side + di,
                  j = static_cast<int>(p.cell) / side + dj;
        if (i >= 0 && i < side && j >= 0 && j < side)
            return Place{p.tile, static_cast<std::size_t>(j * side + i)};
        const Cell c = cellOf(p);
        const auto tile = map.tileAt({c.i + di, c.j + dj});
        if (!tile) return std::nullopt;
        return Place{*tile, static_cast<std::size_t>(((c.j + dj) & (side - 1)) * side +
                                                     ((c.i + di) & (side - 1)))};
    }

    OverloadedPatch grow(Place start) {
        OverloadedPatch patch;
        open.assign(1, start);
        while (!open.empty()) {
            const Place p = open.back();
            open.pop_back();
            const Cell c = cellOf(p);
            ++patch.cells;
            patch.box.add(Box::centredAt(c.centre(), cellMm, cellMm));
            const auto value = static_cast<double>(valuesOf(p.tile)[p.cell]);
            const double limit = limitAt(c);
            patch.excess += (value - limit) * cellMm * cellMm;
            if (value > patch.peak) {
                patch.peak = value;
                patch.limit = limit;
                patch.at = c.centre();
            }
            for (int dj = -1; dj <= 1; ++dj)
                for (int di = -1; di <= 1; ++di)
                    if (const auto n = beside(p, di, dj); n && take(n->tile, n->cell))
                        open.push_back(*n);
        }
        return patch;
    }

    const LoadMap& map;
    LoadKind kind;
    const LoadLimits& limits;
    std::vector<std::vector<std::uint8_t>> flags; ///< by tile; empty where nothing is over
    std::vector<Place> open;
    std::vector<OverloadedPatch> patches;
};

} // namespace

double LoadLimits::factorAt(Vec2 p) const {
    double factor = 1;
    for (const ThickZone& z : zones)
        if (z.contains(p)) factor = std::min(factor, z.limitFactor);
    return factor;
}

LoadLimits limitsOf(const Fabric& fabric, const Cloth& cloth) {
    return {fabric.maxLayers, fabric.maxHits, cloth.thickZones};
}

std::vector<OverloadedPatch> overloadedPatches(const LoadMap& map, LoadKind kind,
                                               const LoadLimits& limits) {
    return PatchFinder(map, kind, limits).run();
}

} // namespace rapt
