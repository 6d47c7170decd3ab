#pragma once
// Sums of thread and needle points per cell, and the map averaged from them. Internal to load.

#include "geometry/pose.h"
#include "load/load_map.h"

namespace rapt {

/// Raw sums in tiles over a fixed area; stitches can be added and taken out again. One thread.
class LoadSums {
public:
    /// Room for everything within the box and a tile round it.
    explicit LoadSums(const Box& box);

    /// Adds the records `first` to `last` (one past the end) of a list, as `change` (an isometry)
    /// places them, `sign` times. The needle stands where the records before left it. Places
    /// outside the area are left out. Fails when stopped or too large.
    Status add(const StitchList& list, std::size_t first, std::size_t last,
               const Affine* change = nullptr, float sign = 1, std::stop_token stop = {});

    /// Averages everything anew. The sums are used up, row by row of tiles: their memory is the
    /// map's.
    void averageAll(LoadMap& map);
    /// Averages again what was touched since the last call, into the same map.
    void averageChanged(LoadMap& map, std::vector<Cell>& changed);

private:
    static constexpr int side = LoadMap::tileCells;

    /// A cell's thread length × width in mm², and its penetrations, beside each other: a stitch
    /// brings both to the same place.
    struct RawTile {
        int tx = 0, ty = 0;
        bool touched = true;
        std::vector<float> cells = std::vector<float>(2 * side * side);
    };
    /// A tile with what windows reach of its neighbours, and its sums along rows; used again from
    /// tile to tile.
    struct Work {
        std::vector<float> block, rows;
        Work();
    };

    bool tooLarge() const;
    Status check(const std::stop_token& stop) const;
    std::size_t place(int tx, int ty) const;
    bool isInside(int tx, int ty) const;
    RawTile& tileFor(int tx, int ty);
    const RawTile* rawAt(int tx, int ty) const;
    bool turnTo(int i, int j);
    void addHit(const Stitch& s, float sign);
    void addThread(const Stitch& a, const Stitch& b, float width);
    void prepare(LoadMap& map) const;
    bool gather(int tx, int ty, std::vector<float>& block) const;
    /// The averaged tile; nothing if no thread and no needle point reaches it.
    bool averagedTile(int tx, int ty, Work& work, LoadMap::Tile& tile) const;

    int firstTileX = 0, firstTileY = 0, tilesAcross = 0, tilesDown = 0;
    std::vector<std::int32_t> directory; ///< index into `raw` by tile position, or −1
    std::vector<RawTile> raw;
    float* open = nullptr; ///< cells of the tile at (openX, openY)
    int openX = 0, openY = 0;
    double laidMm = 0;
};

} // namespace rapt
