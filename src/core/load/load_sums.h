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

    /// Averages everything anew.
    void average(LoadMap& map) const;
    /// Averages again what was touched since the last call, into the same map.
    void averageChanged(LoadMap& map, std::vector<Cell>& changed);

private:
    static constexpr int side = LoadMap::tileCells;
    static constexpr int padded = side + windowCells - 1;
    using Block = std::vector<float>;

    /// Thread length × width in mm², and penetrations.
    struct RawTile {
        int tx = 0, ty = 0;
        bool touched = true;
        std::vector<float> area = std::vector<float>(side * side);
        std::vector<float> hits = std::vector<float>(side * side);
    };

    bool tooLarge() const;
    Status check(const std::stop_token& stop) const;
    std::size_t place(int tx, int ty) const;
    bool isInside(int tx, int ty) const;
    RawTile& tileFor(int tx, int ty);
    const RawTile* rawAt(int tx, int ty) const;
    void addArea(int i, int j, float area);
    void addHit(const Stitch& s, float sign);
    void addThread(const Stitch& a, const Stitch& b, float width);
    void prepare(LoadMap& map) const;
    bool gather(int tx, int ty, std::vector<float> RawTile::*field, Block& block) const;
    /// The averaged tile; nothing if no thread and no needle point reaches it.
    bool averagedTile(int tx, int ty, LoadMap::Tile& tile) const;

    int firstTileX = 0, firstTileY = 0, tilesAcross = 0, tilesDown = 0;
    std::vector<std::int32_t> directory; ///< index into `raw` by tile position, or −1
    std::vector<RawTile> raw;
    float* cachedArea = nullptr;
    int cachedX = 0, cachedY = 0;
    double laidMm = 0;
};

} // namespace rapt
