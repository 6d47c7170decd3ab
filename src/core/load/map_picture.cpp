#include "load/map_picture.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr int wantedPixelsPerCell = 4;
constexpr int maxSide = 4000;

struct Colour {
    std::uint8_t r, g, b;
};

Colour colourOf(double ratio) {
    if (ratio <= 0) return {255, 255, 255};
    if (ratio < 0.5) return {214, 228, 226};
    if (ratio < 0.8) return {150, 190, 190};
    if (ratio <= 1.0) return {240, 196, 96};
    if (ratio < 1.25) return {205, 92, 52};
    return {140, 28, 30};
}

/// Cells of the map's box that hold a value.
struct CellBox {
    int left = 0, top = 0, right = -1, bottom = -1;
};

CellBox usedCells(const LoadMap& map) {
    CellBox box{INT32_MAX, INT32_MAX, INT32_MIN, INT32_MIN};
    for (const LoadMap::Tile& t : map.tiles())
        for (std::size_t k = 0; k < t.layers.size(); ++k) {
            if (t.layers[k] <= 0 && t.hits[k] <= 0) continue;
            const int i = t.first.i + static_cast<int>(k) % LoadMap::tileCells;
            const int j = t.first.j + static_cast<int>(k) / LoadMap::tileCells;
            box = {std::min(box.left, i), std::min(box.top, j), std::max(box.right, i),
                   std::max(box.bottom, j)};
        }
    return box;
}

} // namespace

Image loadPicture(const LoadMap& map, LoadKind kind, const LoadLimits& limits) {
    const CellBox box = usedCells(map);
    if (box.right < box.left) {
        Image blank(1, 1, 3);
        std::fill(blank.pixels.begin(), blank.pixels.end(), std::uint8_t{255});
        return blank;
    }
    const int wide = box.right - box.left + 1;
    const int high = box.bottom - box.top + 1;
    const int longest = std::max(wide, high);
    const int pixels = std::clamp(maxSide / longest, 1, wantedPixelsPerCell);
    const int skip = (longest + maxSide - 1) / maxSide; // cells a pixel on very large maps
    const double limit = kind == LoadKind::layers ? limits.maxLayers : limits.maxHits;
    const auto ratioAt = [&](int i, int j) {
        const Cell c{i, j};
        const double value = kind == LoadKind::layers ? map.layers(c) : map.hits(c);
        return value / (limit * limits.factorAt(c.centre()));
    };
    Image image(wide / skip * pixels + pixels, high / skip * pixels + pixels, 3);
    for (int y = 0; y < image.height; ++y)
        for (int x = 0; x < image.width; ++x) {
            const int i = box.left + x / pixels * skip;
            const int j = box.top + y / pixels * skip;
            const double ratio = ratioAt(i, j);
            Colour c = colourOf(ratio);
            const bool over = ratio > 1;
            const bool left = x % pixels == 0 && (ratioAt(i - skip, j) > 1) != over;
            const bool top = y % pixels == 0 && (ratioAt(i, j - skip) > 1) != over;
            if (left || top) c = {29, 42, 51};
            std::uint8_t* p = image.at(x, y);
            p[0] = c.r;
            p[1] = c.g;
            p[2] = c.b;
        }
    return image;
}

} // namespace rapt
