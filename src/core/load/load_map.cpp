#include "load/load_map.h"

#include "load/cell_walk.h"
#include "load/load_sums.h"
#include "thread/measures.h"

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
    for (std::size_t k = 0; k < tile.layers.size(); ++k) {
        if (tile.layers[k] > totals.peakLayers) {
            totals.peakLayers = tile.layers[k];
            totals.peakLayersAt = cell(k).centre();
        }
        if (tile.hits[k] > totals.peakHits) {
            totals.peakHits = tile.hits[k];
            totals.peakHitsAt = cell(k).centre();
        }
    }
}

Result<LoadMap> LoadMap::measure(const StitchList& list, std::stop_token stop) {
    LoadMap map;
    const Box box = reachOf(list);
    if (box.empty()) return map;
    LoadSums sums(box);
    const Status state = sums.add(list, 0, list.stitches.size(), nullptr, 1, stop);
    if (!state) return state.error();
    sums.average(map);
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
