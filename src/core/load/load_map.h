#pragma once
// Thread load: layers and hits on a grid of 0.40 mm cells, averaged over 2.0 mm (docs/measures.md).

#include "base/result.h"
#include "thread/stitch_list.h"

#include <optional>
#include <stop_token>
#include <vector>

namespace rapt {

inline constexpr double cellMm = 0.40;
inline constexpr int windowCells = 5;
inline constexpr double windowMm = 2.0;

/// A cell of the grid: (i, j) covers [0.4 i, 0.4 (i+1)) × [0.4 j, 0.4 (j+1)) mm.
struct Cell {
    int i = 0;
    int j = 0;
    /// The middle of the cell, in millimetres.
    Vec2 centre() const { return {(i + 0.5) * cellMm, (j + 0.5) * cellMm}; }
    friend bool operator==(const Cell&, const Cell&) = default;
};
/// The cell that holds a place.
Cell cellAt(Vec2 mm);

/// What `rapt load` reports (docs/measures.md).
struct LoadSummary {
    double peakLayers = 0;
    std::optional<Vec2> peakLayersAt; ///< centre of the cell, mm; empty for an empty design
    double peakHits = 0;              ///< penetrations per mm²
    std::optional<Vec2> peakHitsAt;
    double meanLayers = 0; ///< over the cells that thread crosses
};

/// The averaged map. Cells are kept in square tiles, only where there is something; cells outside
/// read as 0. Immutable once measured; safe to read from several threads.
class LoadMap {
public:
    /// Cells along one side of a tile.
    static constexpr int tileCells = 64;

    /// Averaged values of one tile, row by row.
    struct Tile {
        Cell first;
        std::vector<float> layers;
        std::vector<float> hits;
    };

    /// Measures a list in its own frame. Thread length is shared exactly among the cells that a
    /// stitch crosses. Fails (cannotDo) for layouts so large that the map would not fit in memory,
    /// and when `stop` asks for it.
    static Result<LoadMap> measure(const StitchList& list, std::stop_token stop = {});

    /// Layers in the window around a cell; 0 where no thread is.
    double layers(Cell c) const { return valueOf(c, &Tile::layers); }
    /// Penetrations per mm² in the window around a cell.
    double hits(Cell c) const { return valueOf(c, &Tile::hits); }
    /// Peaks, means, and where they lie.
    const LoadSummary& summary() const { return totals; }
    /// All tiles that thread or its window touches.
    const std::vector<Tile>& tiles() const { return content; }
    /// Index of the tile that a cell lies in; nothing where there is none.
    std::optional<std::size_t> tileAt(Cell c) const;

private:
    double valueOf(Cell c, std::vector<float> Tile::*field) const;
    void noteTotals(const Tile& tile);

    std::vector<Tile> content;
    /// Index into `content` by tile position, or −1.
    std::vector<std::int32_t> directory;
    int firstTileX = 0, firstTileY = 0, tilesAcross = 0, tilesDown = 0;
    LoadSummary totals;

    friend class LoadSums;
};

} // namespace rapt
