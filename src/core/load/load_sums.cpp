#include "load/load_sums.h"

#include "load/cell_walk.h"
#include "thread/measures.h"

#include <array>
#include <bit>

namespace rapt {
namespace {

constexpr int side = LoadMap::tileCells;
constexpr int paddedSide = side + windowCells - 1;
// 12,000 tiles (a cloth of nearly 8 m² sewn all over) keep the map under 0.5 GiB.
constexpr std::size_t maxTiles = 12'000;
// Thread that would cross more cells than this takes longer than anyone waits.
constexpr double maxThreadMm = 4e7;

/// Floats of a row of cells: a tile's, and with two cells more on each side.
constexpr int rowFloats = 2 * side, paddedFloats = 2 * paddedSide;

/// Place of a cell's two values in its tile, row by row.
inline std::size_t cellInTile(int i, int j) {
    return static_cast<std::size_t>((j & (side - 1)) * rowFloats + 2 * (i & (side - 1)));
}

/// The mean of the layers in the cells of a tile that thread crosses.
struct CrossedCells {
    double sum = 0;
    std::int64_t count = 0;

    void add(const std::vector<float>& raw, const std::vector<float>& layers) {
        // Column by column: what does not wait for the cell before is quick.
        std::array<float, side> sums{};
        std::array<std::int32_t, side> counts{};
        for (int y = 0; y < side; ++y) {
            const float* own = &raw[static_cast<std::size_t>(y * rowFloats)];
            const float* layer = &layers[static_cast<std::size_t>(y * side)];
            for (std::size_t x = 0; x < side; ++x) {
                const bool crossed = own[2 * x] > 0;
                sums[x] += crossed ? layer[x] : 0.0f;
                counts[x] += crossed;
            }
        }
        for (std::size_t x = 0; x < side; ++x) {
            sum += static_cast<double>(sums[x]);
            count += counts[x];
        }
    }
};

} // namespace

LoadSums::LoadSums(const Box& box) {
    if (box.empty()) return;
    const Cell low = cellAt({box.minX, box.minY});
    const Cell high = cellAt({box.maxX, box.maxY});
    // One tile more on each side, for windows that reach past the stitching.
    firstTileX = floorDiv(low.i, side) - 1;
    firstTileY = floorDiv(low.j, side) - 1;
    tilesAcross = floorDiv(high.i, side) + 2 - firstTileX;
    tilesDown = floorDiv(high.j, side) + 2 - firstTileY;
    directory.assign(static_cast<std::size_t>(tilesAcross) * static_cast<std::size_t>(tilesDown),
                     -1);
}

Status LoadSums::add(const StitchList& list, std::size_t first, std::size_t last,
                     const Affine* change, float sign, std::stop_token stop) {
    const auto widths = widthTable(list);
    Status state = done();
    Stitch needle, here;
    bool stands = false, sewn = false;
    // The needle stands where the records before left it.
    for (std::size_t i = first; i-- > 0 && !sewn;) {
        const Stitch& s = list.stitches[i];
        if (s.op != Op::stitch && s.op != Op::jump) continue;
        if (!stands) needle = change ? stitchAt(s.op, (*change)(s.at()), s.thread) : s;
        stands = true;
        sewn = s.op == Op::stitch;
    }
    for (std::size_t i = first; i < last; ++i) {
        here = list.stitches[i];
        if (here.op != Op::stitch && here.op != Op::jump) continue;
        if (change) here = stitchAt(here.op, (*change)(here.at()), here.thread);
        if (here.op == Op::stitch) {
            if (stands && sewn) addThread(needle, here, sign * widths[here.thread]);
            addHit(here, sign);
            sewn = true;
            if (tooLarge() || i % 4096 == 0) state = check(stop);
            if (!state) return state;
        }
        needle = here;
        stands = true;
    }
    return check(stop);
}

bool LoadSums::tooLarge() const { return raw.size() > maxTiles || laidMm > maxThreadMm; }

Status LoadSums::check(const std::stop_token& stop) const {
    if (stop.stop_requested()) return cancelled();
    if (tooLarge())
        return cannotDo("this layout is too large for a load map; the most is about 8 m² of "
                        "stitching and 40 km of thread, so measure it in parts");
    return done();
}

std::size_t LoadSums::place(int tx, int ty) const {
    return static_cast<std::size_t>(ty - firstTileY) * static_cast<std::size_t>(tilesAcross) +
           static_cast<std::size_t>(tx - firstTileX);
}

bool LoadSums::isInside(int tx, int ty) const {
    return tx >= firstTileX && ty >= firstTileY && tx < firstTileX + tilesAcross &&
           ty < firstTileY + tilesDown;
}

LoadSums::RawTile& LoadSums::tileFor(int tx, int ty) {
    std::int32_t& index = directory[place(tx, ty)];
    if (index < 0) {
        index = static_cast<std::int32_t>(raw.size());
        raw.emplace_back().tx = tx;
        raw.back().ty = ty;
    }
    RawTile& tile = raw[static_cast<std::size_t>(index)];
    tile.touched = true;
    return tile;
}

/// Makes the tile at a cell the one that is added to; false outside the area.
inline bool LoadSums::turnTo(int i, int j) {
    const int tx = i >> 6, ty = j >> 6;
    if (tx == openX && ty == openY && open) return true;
    if (!isInside(tx, ty)) return false;
    // A tile's cells stay where they are when the list of tiles grows.
    RawTile& tile = tileFor(tx, ty);
    open = tile.cells.data();
    openX = tx;
    openY = ty;
    return true;
}

void LoadSums::addHit(const Stitch& s, float sign) {
    const int i = floorDiv(s.x, cellUnits);
    const int j = floorDiv(s.y, cellUnits);
    if (turnTo(i, j)) open[cellInTile(i, j) + 1] += sign;
}

void LoadSums::addThread(const Stitch& a, const Stitch& b, float width) {
    const double size = spanMm(a, b);
    if (size == 0) return;
    laidMm += size;
    const double total = size * width;
    eachCellCrossed(a, b, [&](int i, int j, double share) {
        if (turnTo(i, j)) open[cellInTile(i, j)] += static_cast<float>(total * share);
    });
}

const LoadSums::RawTile* LoadSums::rawAt(int tx, int ty) const {
    if (!isInside(tx, ty)) return nullptr;
    const std::int32_t k = directory[place(tx, ty)];
    return k < 0 ? nullptr : &raw[static_cast<std::size_t>(k)];
}

LoadSums::Work::Work()
    : block(static_cast<std::size_t>(paddedSide * paddedFloats)),
      rows(static_cast<std::size_t>(paddedSide * rowFloats)) {}

/// The raw values of a tile with two cells of its neighbours all round; false if all are 0.
bool LoadSums::gather(int tx, int ty, std::vector<float>& block) const {
    std::fill(block.begin(), block.end(), 0.0f);
    bool any = false;
    for (int ny = -1; ny <= 1; ++ny)
        for (int nx = -1; nx <= 1; ++nx) {
            const RawTile* t = rawAt(tx + nx, ty + ny);
            if (!t) continue;
            const int left = std::max(-2, nx * side), right = std::min(side + 2, (nx + 1) * side);
            const int top = std::max(-2, ny * side), bottom = std::min(side + 2, (ny + 1) * side);
            for (int y = top; y < bottom; ++y) {
                const float* from = &t->cells[cellInTile(left, y)];
                float* to =
                    &block[static_cast<std::size_t>((y + 2) * paddedFloats + 2 * (left + 2))];
                std::uint32_t bits = 0;
                for (int x = 0; x < 2 * (right - left); ++x)
                    bits |= std::bit_cast<std::uint32_t>(to[x] = from[x]);
                any = any || bits != 0;
            }
        }
    return any;
}

bool LoadSums::averagedTile(int tx, int ty, Work& work, LoadMap::Tile& tile) const {
    bool near = false;
    for (int ny = -1; ny <= 1 && !near; ++ny)
        for (int nx = -1; nx <= 1 && !near; ++nx) near = rawAt(tx + nx, ty + ny) != nullptr;
    if (!near || !gather(tx, ty, work.block)) return false;
    tile.first = {tx * side, ty * side};
    tile.layers.resize(static_cast<std::size_t>(side * side));
    tile.hits.resize(tile.layers.size());
    // Sums of 5 × 5 cells round each: along the rows, then down the columns.
    for (int y = 0; y < paddedSide; ++y) {
        const float* p = &work.block[static_cast<std::size_t>(y * paddedFloats)];
        float* sum = &work.rows[static_cast<std::size_t>(y * rowFloats)];
        for (int x = 0; x < rowFloats; ++x)
            sum[x] = p[x] + p[x + 2] + p[x + 4] + p[x + 6] + p[x + 8];
    }
    constexpr auto share = static_cast<float>(1 / (windowMm * windowMm));
    for (int y = 0; y < side; ++y) {
        const float* p = &work.rows[static_cast<std::size_t>(y * rowFloats)];
        std::array<float, rowFloats> sum;
        for (int x = 0; x < rowFloats; ++x)
            sum[static_cast<std::size_t>(x)] =
                share * (p[x] + p[x + rowFloats] + p[x + 2 * rowFloats] + p[x + 3 * rowFloats] +
                         p[x + 4 * rowFloats]);
        float* layers = &tile.layers[static_cast<std::size_t>(y * side)];
        float* hits = &tile.hits[static_cast<std::size_t>(y * side)];
        for (std::size_t x = 0; x < side; ++x) {
            layers[x] = sum[2 * x];
            hits[x] = sum[2 * x + 1];
        }
    }
    return true;
}

void LoadSums::prepare(LoadMap& map) const {
    map.content.clear();
    map.totals = {};
    map.firstTileX = firstTileX;
    map.firstTileY = firstTileY;
    map.tilesAcross = tilesAcross;
    map.tilesDown = tilesDown;
    map.directory.assign(directory.size(), -1);
}

void LoadSums::averageAll(LoadMap& map) {
    prepare(map);
    CrossedCells crossed;
    Work work;
    for (int ty = firstTileY; ty < firstTileY + tilesDown; ++ty)
        for (int tx = firstTileX; tx < firstTileX + tilesAcross; ++tx) {
            // Nothing reaches back to the tile above and left of this one's neighbours.
            if (isInside(tx - 2, ty - 1))
                if (const std::int32_t past = directory[place(tx - 2, ty - 1)]; past >= 0)
                    raw[static_cast<std::size_t>(past)].cells = {};
            LoadMap::Tile tile;
            if (!averagedTile(tx, ty, work, tile)) continue;
            if (const RawTile* own = rawAt(tx, ty)) crossed.add(own->cells, tile.layers);
            map.noteTotals(tile);
            map.directory[place(tx, ty)] = static_cast<std::int32_t>(map.content.size());
            map.content.push_back(std::move(tile));
        }
    if (crossed.count > 0) map.totals.meanLayers = crossed.sum / static_cast<double>(crossed.count);
}

void LoadSums::averageChanged(LoadMap& map, std::vector<Cell>& changed) {
    changed.clear();
    if (map.directory.size() != directory.size()) prepare(map);
    std::vector<bool> wanted(directory.size(), false);
    for (RawTile& t : raw) {
        if (!t.touched) continue;
        t.touched = false;
        // A window reaches into the tiles all round.
        for (int ny = -1; ny <= 1; ++ny)
            for (int nx = -1; nx <= 1; ++nx)
                if (isInside(t.tx + nx, t.ty + ny)) wanted[place(t.tx + nx, t.ty + ny)] = true;
    }
    // The next stitch must mark its tile again.
    open = nullptr;
    LoadMap::Tile tile;
    Work work;
    for (int ty = firstTileY; ty < firstTileY + tilesDown; ++ty)
        for (int tx = firstTileX; tx < firstTileX + tilesAcross; ++tx) {
            if (!wanted[place(tx, ty)]) continue;
            std::int32_t& index = map.directory[place(tx, ty)];
            const bool any = averagedTile(tx, ty, work, tile);
            if (!any && index < 0) continue;
            if (!any) {
                tile.first = {tx * side, ty * side};
                tile.layers.assign(static_cast<std::size_t>(side * side), 0);
                tile.hits = tile.layers;
            }
            if (index < 0) {
                index = static_cast<std::int32_t>(map.content.size());
                map.content.emplace_back();
            }
            changed.push_back(tile.first);
            map.content[static_cast<std::size_t>(index)] = std::move(tile);
            tile = {};
        }
    map.totals = {};
    for (const LoadMap::Tile& t : map.content) map.noteTotals(t);
}

} // namespace rapt
