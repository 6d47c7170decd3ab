#include "sequence/overlaps.h"

#include "load/load_map.h"
#include "relieve/cover.h"
#include "respace/stretches.h"

namespace rapt {
namespace {

// Outlines that overlap by less only touch.
constexpr double touchMm = 0.2;
// Any satin or fill counts, however open.
constexpr double leastLayers = 0.05;
constexpr double stepMm = 0.1;

std::uint64_t keyOf(Vec2 p) {
    const Cell c = cellAt(p);
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(c.i)) << 32 |
           static_cast<std::uint32_t>(c.j);
}

void addCells(Vec2 a, Vec2 b, std::vector<std::uint64_t>& cells) {
    const int steps = std::max(1, static_cast<int>(std::ceil(distance(a, b) / stepMm)));
    for (int k = 0; k <= steps; ++k) {
        const std::uint64_t key = keyOf(lerp(a, b, static_cast<double>(k) / steps));
        if (cells.empty() || cells.back() != key) cells.push_back(key);
    }
}

void sortOnce(std::vector<std::uint64_t>& cells) {
    std::sort(cells.begin(), cells.end());
    cells.erase(std::unique(cells.begin(), cells.end()), cells.end());
}

bool share(const std::vector<std::uint64_t>& a, const std::vector<std::uint64_t>& b) {
    auto i = a.begin();
    auto j = b.begin();
    while (i != a.end() && j != b.end()) {
        if (*i == *j) return true;
        *i < *j ? ++i : ++j;
    }
    return false;
}

} // namespace

SewnGround groundOf(const StitchList& list) {
    SewnGround ground;
    ground.cover = offsetContours(denseCover(list, leastLayers), -touchMm / 2);
    for (const SewnChain& chain : recogniseStretches(list))
        for (const SewnStretch& s : chain.stretches)
            for (std::size_t i = s.first; i <= s.last; ++i) {
                const std::size_t next = std::min(i + 1, s.last);
                ground.box.add(chain.points[i]);
                addCells(chain.points[i], chain.points[next], ground.cells);
                // What leads to and fro inside a fill is covered by its outline.
                if (!s.isBand() && !s.under)
                    addCells(chain.points[i], chain.points[next], ground.runs);
            }
    sortOnce(ground.cells);
    sortOnce(ground.runs);
    return ground;
}

bool overlap(const SewnGround& a, const SewnGround& b) {
    if (!a.box.overlaps(b.box)) return false;
    if (!a.cover.empty() && !b.cover.empty() && boundsOf(a.cover).overlaps(boundsOf(b.cover)) &&
        areaOf(intersectionOf(a.cover, b.cover)) > 0)
        return true;
    return share(a.runs, b.cells) || share(b.runs, a.cells);
}

} // namespace rapt
