#include "load/limits.h"

#include <algorithm>
#include <unordered_set>

namespace rapt {
namespace {

std::uint64_t keyOf(Cell c) {
    return (static_cast<std::uint64_t>(static_cast<std::uint32_t>(c.i)) << 32) |
           static_cast<std::uint32_t>(c.j);
}

/// Grows patches from cell to cell.
class PatchFinder {
public:
    PatchFinder(const LoadMap& m, LoadKind k, const LoadLimits& l) : map(m), kind(k), limits(l) {}

    std::vector<OverloadedPatch> run() {
        const double lowest = lowestLimit();
        for (const LoadMap::Tile& tile : map.tiles()) {
            const auto& values = kind == LoadKind::layers ? tile.layers : tile.hits;
            for (std::size_t k = 0; k < values.size(); ++k) {
                if (values[k] <= lowest) continue;
                const int n = static_cast<int>(k);
                const Cell c{tile.first.i + n % LoadMap::tileCells,
                             tile.first.j + n / LoadMap::tileCells};
                if (over(c) && seen.insert(keyOf(c)).second) patches.push_back(grow(c));
            }
        }
        std::sort(patches.begin(), patches.end(),
                  [](const auto& a, const auto& b) { return a.excess > b.excess; });
        return std::move(patches);
    }

private:
    double valueAt(Cell c) const { return kind == LoadKind::layers ? map.layers(c) : map.hits(c); }
    double limitAt(Cell c) const {
        return (kind == LoadKind::layers ? limits.maxLayers : limits.maxHits) *
               limits.factorAt(c.centre());
    }
    bool over(Cell c) const { return valueAt(c) > limitAt(c); }

    double lowestLimit() const {
        double factor = 1;
        for (const ThickZone& z : limits.zones) factor = std::min(factor, z.limitFactor);
        return factor * (kind == LoadKind::layers ? limits.maxLayers : limits.maxHits);
    }

    OverloadedPatch grow(Cell start) {
        OverloadedPatch patch;
        std::vector<Cell> open{start};
        while (!open.empty()) {
            const Cell c = open.back();
            open.pop_back();
            ++patch.cells;
            patch.box.add(Box::centredAt(c.centre(), cellMm, cellMm));
            const double value = valueAt(c);
            const double limit = limitAt(c);
            patch.excess += (value - limit) * cellMm * cellMm;
            if (value > patch.peak) {
                patch.peak = value;
                patch.limit = limit;
                patch.at = c.centre();
            }
            for (int dj = -1; dj <= 1; ++dj)
                for (int di = -1; di <= 1; ++di)
                    if (const Cell n{c.i + di, c.j + dj}; over(n) && seen.insert(keyOf(n)).second)
                        open.push_back(n);
        }
        return patch;
    }

    const LoadMap& map;
    LoadKind kind;
    const LoadLimits& limits;
    std::unordered_set<std::uint64_t> seen;
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
