#include "load/load_sums.h"

#include "load/cell_walk.h"
#include "thread/measures.h"

namespace rapt {
namespace {

constexpr int side = LoadMap::tileCells;
constexpr int paddedSide = side + windowCells - 1;
// 12,000 tiles (a cloth of nearly 8 m² sewn all over) keep the map under 0.5 GiB.
constexpr std::size_t maxTiles = 12'000;
// Thread that would cross more cells than this takes longer than anyone waits.
constexpr double maxThreadMm = 4e7;

/// Sums of 5 × 5 cells round each cell of the tile, times `factor`.
std::vector<float> windowSums(const std::vector<float>& block, float factor) {
    std::vector<float> rows(static_cast<std::size_t>(paddedSide * side));
    for (int y = 0; y < paddedSide; ++y)
        for (int x = 0; x < side; ++x) {
            const float* p = &block[static_cast<std::size_t>(y * paddedSide + x)];
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

void LoadSums::addArea(int i, int j, float area) {
    const int tx = i >> 6;
    const int ty = j >> 6;
    if (tx != cachedX || ty != cachedY || !cachedArea) {
        if (!isInside(tx, ty)) return;
        // A tile's cells stay where they are when the list of tiles grows.
        cachedArea = tileFor(tx, ty).area.data();
        cachedX = tx;
        cachedY = ty;
    }
    cachedArea[((j & (side - 1)) << 6) | (i & (side - 1))] += area;
}

void LoadSums::addHit(const Stitch& s, float sign) {
    const int i = floorDiv(s.x, cellUnits);
    const int j = floorDiv(s.y, cellUnits);
    if (!isInside(i >> 6, j >> 6)) return;
    RawTile& t = tileFor(i >> 6, j >> 6);
    t.hits[static_cast<std::size_t>(((j & (side - 1)) << 6) | (i & (side - 1)))] += sign;
}

void LoadSums::addThread(const Stitch& a, const Stitch& b, float width) {
    const double size = spanMm(a, b);
    if (size == 0) return;
    laidMm += size;
    const double total = size * width;
    eachCellCrossed(a, b, [&](int i, int j, double share) {
        addArea(i, j, static_cast<float>(total * share));
    });
}

const LoadSums::RawTile* LoadSums::rawAt(int tx, int ty) const {
    if (!isInside(tx, ty)) return nullptr;
    const std::int32_t k = directory[place(tx, ty)];
    return k < 0 ? nullptr : &raw[static_cast<std::size_t>(k)];
}

/// The raw values of a tile with two cells of its neighbours all round; false if all are 0.
bool LoadSums::gather(int tx, int ty, std::vector<float> RawTile::*field, Block& block) const {
    std::fill(block.begin(), block.end(), 0.0f);
    bool any = false;
    for (int ny = -1; ny <= 1; ++ny)
        for (int nx = -1; nx <= 1; ++nx) {
            const RawTile* t = rawAt(tx + nx, ty + ny);
            if (!t) continue;
            const int left = std::max(-2, nx * side), right = std::min(side + 2, (nx + 1) * side);
            const int top = std::max(-2, ny * side), bottom = std::min(side + 2, (ny + 1) * side);
            for (int y = top; y < bottom; ++y) {
                const float* from = &(
                    t->*field)[static_cast<std::size_t>((y - ny * side) * side + left - nx * side)];
                float* to = &block[static_cast<std::size_t>((y + 2) * padded + left + 2)];
                float sum = 0;
                for (int x = 0; x < right - left; ++x) sum += to[x] = from[x];
                any = any || sum != 0;
            }
        }
    return any;
}

bool LoadSums::averagedTile(int tx, int ty, LoadMap::Tile& tile) const {
    bool near = false;
    for (int ny = -1; ny <= 1 && !near; ++ny)
        for (int nx = -1; nx <= 1 && !near; ++nx) near = rawAt(tx + nx, ty + ny) != nullptr;
    if (!near) return false;
    Block area(static_cast<std::size_t>(padded * padded));
    Block hits(static_cast<std::size_t>(padded * padded));
    const bool anyArea = gather(tx, ty, &RawTile::area, area);
    const bool anyHits = gather(tx, ty, &RawTile::hits, hits);
    if (!anyArea && !anyHits) return false;
    tile.first = {tx * side, ty * side};
    tile.layers = windowSums(area, static_cast<float>(1 / (windowMm * windowMm)));
    tile.hits = windowSums(hits, static_cast<float>(1 / (windowMm * windowMm)));
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

void LoadSums::average(LoadMap& map) const {
    prepare(map);
    std::size_t crossedCells = 0;
    double crossedSum = 0;
    LoadMap::Tile tile;
    for (int ty = firstTileY; ty < firstTileY + tilesDown; ++ty)
        for (int tx = firstTileX; tx < firstTileX + tilesAcross; ++tx) {
            if (!averagedTile(tx, ty, tile)) continue;
            if (const RawTile* own = rawAt(tx, ty))
                for (std::size_t k = 0; k < tile.layers.size(); ++k)
                    if (own->area[k] > 0) {
                        ++crossedCells;
                        crossedSum += static_cast<double>(tile.layers[k]);
                    }
            map.noteTotals(tile);
            map.directory[place(tx, ty)] = static_cast<std::int32_t>(map.content.size());
            map.content.push_back(std::move(tile));
            tile = {};
        }
    if (crossedCells > 0) map.totals.meanLayers = crossedSum / static_cast<double>(crossedCells);
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
    cachedArea = nullptr;
    LoadMap::Tile tile;
    for (int ty = firstTileY; ty < firstTileY + tilesDown; ++ty)
        for (int tx = firstTileX; tx < firstTileX + tilesAcross; ++tx) {
            if (!wanted[place(tx, ty)]) continue;
            std::int32_t& index = map.directory[place(tx, ty)];
            const bool any = averagedTile(tx, ty, tile);
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
