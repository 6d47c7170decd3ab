#pragma once
// What ground the thread of a few stitches covers, on a raster of 0.1 mm. Internal to lettering.

#include "geometry/vec2.h"

#include <cstdint>
#include <vector>

namespace rapt {

/// How many stitches lie over each place. One thread.
class ThreadCover {
public:
    /// Room for stitches inside the area. A place counts as covered up to `reachMm` from the middle
    /// of a thread: bare slits narrower than a thread close by themselves.
    ThreadCover(const Box& area, double reachMm);

    /// Thread from a to b.
    void add(Vec2 a, Vec2 b);
    /// Takes a stitch away again; gives the area in mm² over which now fewer than `least` others
    /// lie.
    double remove(Vec2 a, Vec2 b, int least = 1);

private:
    static constexpr int tileSide = 64;
    static constexpr double pxPerMm = 10;
    struct Tile {
        std::uint16_t counts[tileSide * tileSide] = {};
    };
    template<class Visit>
    void eachPixel(Vec2 a, Vec2 b, Visit visit);
    std::uint16_t& countAt(int x, int y);

    Vec2 origin;
    double reachPx;
    int tilesAcross = 0, tilesDown = 0;
    std::vector<std::int32_t> directory; ///< index of a tile, or -1
    std::vector<Tile> tiles;
};

} // namespace rapt
