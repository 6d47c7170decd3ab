#include "load/load_map.h"

#include "load/cell_walk.h"
#include "load/load_sums.h"
#include "thread/measures.h"

#include <algorithm>
#include <bit>

namespace rapt {
namespace {

/// The box of everything thread touches: penetrations and the places it is laid from.
Box reachOf(const StitchList& list) {
    Box box;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        if (from) box.add(from->at());
        box.add(list.stitches[i].at());
    });
    return box;
}

/// 0 if none is above. Floats of 0 and more are in the order of their bits, in which the greatest
/// is found several at a time.
float highestOf(const std::vector<float>& values) {
    std::int32_t highest = 0;
    for (const float v : values) highest = std::max(highest, std::bit_cast<std::int32_t>(v));
    return std::bit_cast<float>(highest);
}

} // namespace

Cell cellAt(Vec2 mm) {
    return {static_cast<int>(std::floor(mm.x / cellMm)),
            static_cast<int>(std::floor(mm.y / cellMm))};
}

void LoadMap::noteTotals(const Tile& tile) {
    const auto cell = [&](std::size_t k) {
        return Cell{tile.first.i + static_cast<int>(k % tileCells),
                    tile.first.j + static_cast<int>(k / tileCells)};
    };
    const auto note = [&](const std::vector<float>& values, double& peak,
                          std::optional<Vec2>& peakAt) {
        const float highest = highestOf(values);
        if (highest <= peak) return;
        peak = highest;
        peakAt = cell(static_cast<std::size_t>(std::find(values.begin(), values.end(), highest) -
                                               values.begin()))
                     .centre();
    };
    note(tile.layers, totals.peakLayers, totals.peakLayersAt);
    note(tile.hits, totals.peakHits, totals.peakHitsAt);
}

Result<LoadMap> LoadMap::measure(const StitchList& list, std::stop_token stop) {
    LoadMap map;
    const Box box = reachOf(list);
    if (box.empty()) return map;
    LoadSums sums(box);
    const Status state = sums.add(list, 0, list.stitches.size(), nullptr, 1, stop);
    if (!state) return state.error();
    sums.averageAll(map);
    return map;
}

std::optional<std::size_t> LoadMap::tileAt(Cell c) const {
    const int x = floorDiv(c.i, tileCells) - firstTileX;
    const int y = floorDiv(c.j, tileCells) - firstTileY;
    if (x < 0 || y < 0 || x >= tilesAcross || y >= tilesDown) return std::nullopt;
    const std::int32_t index =
        directory[static_cast<std::size_t>(y) * static_cast<std::size_t>(tilesAcross) +
                  static_cast<std::size_t>(x)];
    return index < 0 ? std::nullopt : std::optional(static_cast<std::size_t>(index));
}

double LoadMap::valueOf(Cell c, std::vector<float> Tile::*field) const {
    const auto tile = tileAt(c);
    if (!tile) return 0;
    return (content[*tile].*field)[static_cast<std::size_t>((c.j & (tileCells - 1)) * tileCells +
                                                            (c.i & (tileCells - 1)))];
}

} // namespace rapt
