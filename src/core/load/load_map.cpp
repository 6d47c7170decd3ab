#include "load/load_map.h"

#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr int side = LoadMap::tileCells;
constexpr std::int32_t cellUnits = static_cast<std::int32_t>(cellMm * unitsPerMm + 0.5);
static_assert(cellUnits * 10 == 4 * unitsPerMm);
// 12,000 tiles (a cloth of nearly 8 m² sewn all over) keep the map under 0.5 GiB.
constexpr std::size_t maxTiles = 12'000;
// Thread that would cross more cells than this takes longer than anyone waits.
constexpr double maxThreadMm = 4e7;

int floorDiv(int a, int b) { return a >= 0 ? a / b : -((-a + b - 1) / b); }

/// Raw sums of one tile: thread length × width in mm², and penetrations.
struct RawTile {
    int tx = 0, ty = 0;
    std::vector<float> area = std::vector<float>(side * side);
    std::vector<float> hits = std::vector<float>(side * side);
};

} // namespace

Cell cellAt(Vec2 mm) {
    return {static_cast<int>(std::floor(mm.x / cellMm)),
            static_cast<int>(std::floor(mm.y / cellMm))};
}

class LoadMapBuilder {
public:
    explicit LoadMapBuilder(LoadMap& m) : map(m) {}

    Status run(const StitchList& list, std::stop_token stop) {
        const Box box = reachOf(list);
        if (box.empty()) return done();
        layOut(box);
        const auto widths = widthTable(list);
        std::size_t count = 0;
        Status state = done();
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = list.stitches[i];
            if (!state) return;
            if (from) addThread(*from, s, widths[s.thread]);
            addHit(s);
            if (tooLarge() || ++count % 4096 == 0) state = check(stop);
        });
        if (state) state = check(stop);
        if (state) average();
        return state;
    }

private:
    /// The box of everything thread touches: penetrations and the places it is laid from.
    static Box reachOf(const StitchList& list) {
        Box box;
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            if (from) box.add(from->at());
            box.add(list.stitches[i].at());
        });
        return box;
    }

    void layOut(const Box& box) {
        const Cell low = cellAt({box.minX, box.minY});
        const Cell high = cellAt({box.maxX, box.maxY});
        // One tile more on each side, for windows that reach past the stitching.
        map.firstTileX = floorDiv(low.i, side) - 1;
        map.firstTileY = floorDiv(low.j, side) - 1;
        map.tilesAcross = floorDiv(high.i, side) + 2 - map.firstTileX;
        map.tilesDown = floorDiv(high.j, side) + 2 - map.firstTileY;
        map.directory.assign(static_cast<std::size_t>(map.tilesAcross) *
                                 static_cast<std::size_t>(map.tilesDown),
                             -1);
    }

    bool tooLarge() const { return raw.size() > maxTiles || laidMm > maxThreadMm; }

    Status check(const std::stop_token& stop) const {
        if (stop.stop_requested()) return cannotDo("cancelled");
        if (tooLarge())
            return cannotDo("this layout is too large for a load map; the most is about 8 m² of "
                            "stitching and 40 km of thread, so measure it in parts");
        return done();
    }

    std::int32_t& slot(int tx, int ty) {
        return map.directory[static_cast<std::size_t>(ty - map.firstTileY) *
                                 static_cast<std::size_t>(map.tilesAcross) +
                             static_cast<std::size_t>(tx - map.firstTileX)];
    }

    RawTile& tileFor(int tx, int ty) {
        std::int32_t& index = slot(tx, ty);
        if (index < 0) {
            index = static_cast<std::int32_t>(raw.size());
            raw.emplace_back().tx = tx;
            raw.back().ty = ty;
        }
        return raw[static_cast<std::size_t>(index)];
    }

    void addArea(int i, int j, float area) {
        const int tx = i >> 6;
        const int ty = j >> 6;
        if (tx != cachedX || ty != cachedY || !cachedArea) {
            // A tile's cells stay where they are when the list of tiles grows.
            cachedArea = tileFor(tx, ty).area.data();
            cachedX = tx;
            cachedY = ty;
        }
        cachedArea[((j & (side - 1)) << 6) | (i & (side - 1))] += area;
    }

    void addHit(const Stitch& s) {
        const int i = floorDiv(s.x, cellUnits);
        const int j = floorDiv(s.y, cellUnits);
        RawTile& t = tileFor(i >> 6, j >> 6);
        t.hits[static_cast<std::size_t>(((j & (side - 1)) << 6) | (i & (side - 1)))] += 1.0f;
    }

    /// Shares a stitch among the cells it crosses, walking from one grid line to the next
    /// (Amanatides and Woo 1987).
    void addThread(const Stitch& a, const Stitch& b, float width) {
        const double size = spanMm(a, b);
        if (size == 0) return;
        laidMm += size;
        const double total = size * width;
        int i = floorDiv(a.x, cellUnits);
        int j = floorDiv(a.y, cellUnits);
        const double dx = static_cast<double>(b.x) - a.x;
        const double dy = static_cast<double>(b.y) - a.y;
        const int stepX = dx > 0 ? 1 : -1;
        const int stepY = dy > 0 ? 1 : -1;
        const double never = 2.0;
        const double deltaX = dx != 0 ? cellUnits / std::abs(dx) : never;
        const double deltaY = dy != 0 ? cellUnits / std::abs(dy) : never;
        const auto firstLine = [](int cell, int step, std::int32_t from, double d) {
            const double line = static_cast<double>(cell + (step > 0 ? 1 : 0)) * cellUnits;
            return d != 0 ? (line - from) / d : 2.0;
        };
        double nextX = firstLine(i, stepX, a.x, dx);
        double nextY = firstLine(j, stepY, a.y, dy);
        double t = 0;
        while (true) {
            const double next = std::min({nextX, nextY, 1.0});
            // What rounding leaves beside a grid line or corner is not a crossing.
            if (next - t > 1e-9) addArea(i, j, static_cast<float>(total * (next - t)));
            if (next > 1.0 - 1e-9) return;
            t = next;
            if (nextX <= nextY) {
                i += stepX;
                nextX += deltaX;
            } else {
                j += stepY;
                nextY += deltaY;
            }
        }
    }

    void average() {
        const std::vector<std::int32_t> rawIndex = map.directory;
        std::fill(map.directory.begin(), map.directory.end(), -1);
        for (int ty = map.firstTileY; ty < map.firstTileY + map.tilesDown; ++ty)
            for (int tx = map.firstTileX; tx < map.firstTileX + map.tilesAcross; ++tx)
                averageTile(rawIndex, tx, ty);
        if (crossedCells > 0)
            map.totals.meanLayers = crossedSum / static_cast<double>(crossedCells);
    }

    const RawTile* rawAt(const std::vector<std::int32_t>& index, int tx, int ty) const {
        const int x = tx - map.firstTileX;
        const int y = ty - map.firstTileY;
        if (x < 0 || y < 0 || x >= map.tilesAcross || y >= map.tilesDown) return nullptr;
        const std::int32_t k =
            index[static_cast<std::size_t>(y) * static_cast<std::size_t>(map.tilesAcross) +
                  static_cast<std::size_t>(x)];
        return k < 0 ? nullptr : &raw[static_cast<std::size_t>(k)];
    }

    static constexpr int padded = side + windowCells - 1;
    using Block = std::vector<float>;

    /// The raw values of a tile with two cells of its neighbours all round; false if all are 0.
    bool gather(const std::vector<std::int32_t>& index, int tx, int ty,
                std::vector<float> RawTile::*field, Block& block) const {
        std::fill(block.begin(), block.end(), 0.0f);
        bool any = false;
        for (int ny = -1; ny <= 1; ++ny)
            for (int nx = -1; nx <= 1; ++nx) {
                const RawTile* t = rawAt(index, tx + nx, ty + ny);
                if (!t) continue;
                const int left = std::max(-2, nx * side),
                          right = std::min(side + 2, (nx + 1) * side);
                const int top = std::max(-2, ny * side),
                          bottom = std::min(side + 2, (ny + 1) * side);
                for (int y = top; y < bottom; ++y) {
                    const float* from = &(t->*field)[static_cast<std::size_t>(
                        (y - ny * side) * side + left - nx * side)];
                    float* to = &block[static_cast<std::size_t>((y + 2) * padded + left + 2)];
                    float sum = 0;
                    for (int x = 0; x < right - left; ++x) sum += to[x] = from[x];
                    any = any || sum != 0;
                }
            }
        return any;
    }

    /// Sums of 5 × 5 cells round each cell of the tile, times `factor`.
    static std::vector<float> windowSums(const Block& block, float factor) {
        std::vector<float> rows(static_cast<std::size_t>(padded * side));
        for (int y = 0; y < padded; ++y)
            for (int x = 0; x < side; ++x) {
                const float* p = &block[static_cast<std::size_t>(y * padded + x)];
                rows[static_cast<std::size_t>(y * side + x)] = p[0] + p[1] + p[2] + p[3] + p[4];
            }
        std::vector<float> sums(static_cast<std::size_t>(side * side));
        for (int y = 0; y < side; ++y)
            for (int x = 0; x < side; ++x) {
                const float* p = &rows[static_cast<std::size_t>(y * side + x)];
                sums[static_cast<std::size_t>(y * side + x)] =
                    factor * (p[0] + p[side] + p[2 * side] + p[3 * side] + p[4 * side]);
            }
        return sums;
    }

    void averageTile(const std::vector<std::int32_t>& index, int tx, int ty) {
        bool near = false;
        for (int ny = -1; ny <= 1 && !near; ++ny)
            for (int nx = -1; nx <= 1 && !near; ++nx)
                near = rawAt(index, tx + nx, ty + ny) != nullptr;
        if (!near) return;
        Block area(static_cast<std::size_t>(padded * padded));
        Block hits(static_cast<std::size_t>(padded * padded));
        const bool anyArea = gather(index, tx, ty, &RawTile::area, area);
        const bool anyHits = gather(index, tx, ty, &RawTile::hits, hits);
        if (!anyArea && !anyHits) return;
        LoadMap::Tile tile;
        tile.first = {tx * side, ty * side};
        tile.layers = windowSums(area, static_cast<float>(1 / (windowMm * windowMm)));
        tile.hits = windowSums(hits, static_cast<float>(1 / (windowMm * windowMm)));
        noteTotals(tile, rawAt(index, tx, ty));
        slot(tx, ty) = static_cast<std::int32_t>(map.content.size());
        map.content.push_back(std::move(tile));
    }

    void noteTotals(const LoadMap::Tile& tile, const RawTile* own) {
        const auto cell = [&](std::size_t k) {
            return Cell{tile.first.i + static_cast<int>(k % side),
                        tile.first.j + static_cast<int>(k / side)};
        };
        for (std::size_t k = 0; k < tile.layers.size(); ++k) {
            if (tile.layers[k] > map.totals.peakLayers) {
                map.totals.peakLayers = tile.layers[k];
                map.totals.peakLayersAt = cell(k).centre();
            }
            if (tile.hits[k] > map.totals.peakHits) {
                map.totals.peakHits = tile.hits[k];
                map.totals.peakHitsAt = cell(k).centre();
            }
            if (own && own->area[k] > 0) {
                ++crossedCells;
                crossedSum += tile.layers[k];
            }
        }
    }

    LoadMap& map;
    std::vector<RawTile> raw;
    float* cachedArea = nullptr;
    int cachedX = 0, cachedY = 0;
    double laidMm = 0;
    std::size_t crossedCells = 0;
    double crossedSum = 0;
};

Result<LoadMap> LoadMap::measure(const StitchList& list, std::stop_token stop) {
    LoadMap map;
    const Status state = LoadMapBuilder(map).run(list, stop);
    if (!state) return state.error();
    return map;
}

double LoadMap::valueOf(Cell c, std::vector<float> Tile::*field) const {
    const int x = floorDiv(c.i, tileCells) - firstTileX;
    const int y = floorDiv(c.j, tileCells) - firstTileY;
    if (x < 0 || y < 0 || x >= tilesAcross || y >= tilesDown) return 0;
    const std::int32_t index =
        directory[static_cast<std::size_t>(y) * static_cast<std::size_t>(tilesAcross) +
                  static_cast<std::size_t>(x)];
    if (index < 0) return 0;
    const Tile& t = content[static_cast<std::size_t>(index)];
    return (t.*field)[static_cast<std::size_t>((c.j & (tileCells - 1)) * tileCells +
                                               (c.i & (tileCells - 1)))];
}

} // namespace rapt
