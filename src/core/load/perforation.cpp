#include "load/perforation.h"

#include "thread/measures.h"

#include <bitset>
#include <numbers>
#include <unordered_map>

namespace rapt {
namespace {

constexpr int directions = 24;
constexpr double reachMm = perforationLengthMm / 2;
constexpr double cellMm = reachMm;
constexpr std::size_t holesMost = static_cast<std::size_t>(perforationLengthMm / holeMm) + 1;

/// Needle points sorted into cells of the strip's half length.
class PointGrid {
public:
    explicit PointGrid(const StitchList& list) {
        walkStitches(list.stitches, [&](std::size_t i, const Stitch*) {
            const Vec2 p = list.stitches[i].at();
            cells[keyOf(p)].push_back(p);
            all.push_back(p);
        });
    }

    template<class Visit>
    void near(Vec2 p, Visit visit) const {
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx) {
                const auto it = cells.find(keyOf({p.x + dx * cellMm, p.y + dy * cellMm}));
                if (it == cells.end()) continue;
                for (const Vec2& q : it->second) visit(q);
            }
    }

    std::vector<Vec2> all;

private:
    static std::uint64_t keyOf(Vec2 p) {
        const auto i = static_cast<std::int32_t>(std::floor(p.x / cellMm));
        const auto j = static_cast<std::int32_t>(std::floor(p.y / cellMm));
        return static_cast<std::uint64_t>(static_cast<std::uint32_t>(i)) << 32 |
               static_cast<std::uint32_t>(j);
    }

    std::unordered_map<std::uint64_t, std::vector<Vec2>> cells;
};

/// The densest line through a needle point.
PerforatedLine densestThrough(const PointGrid& grid, Vec2 p) {
    static const auto ways = [] {
        std::array<Vec2, directions> w;
        for (int k = 0; k < directions; ++k) {
            const double a = k * std::numbers::pi / directions;
            w[static_cast<std::size_t>(k)] = {std::cos(a), std::sin(a)};
        }
        return w;
    }();
    // Places along each way that are holes of their own.
    std::array<std::bitset<holesMost>, directions> holes{};
    grid.near(p, [&](Vec2 q) {
        const Vec2 d = q - p;
        if (dot(d, d) > reachMm * reachMm) return;
        for (std::size_t k = 0; k < directions; ++k)
            if (std::abs(cross(ways[k], d)) <= perforationWidthMm / 2)
                holes[k].set(static_cast<std::size_t>((dot(ways[k], d) + reachMm) / holeMm));
    });
    const auto best =
        std::max_element(holes.begin(), holes.end(),
                         [](const auto& a, const auto& b) { return a.count() < b.count(); });
    return {p, 180.0 * static_cast<double>(best - holes.begin()) / directions,
            static_cast<double>(best->count()) / perforationLengthMm};
}

} // namespace

std::vector<PerforatedLine> perforatedLines(const StitchList& list, double limitPerMm,
                                            std::stop_token stop) {
    const PointGrid grid(list);
    std::vector<PerforatedLine> over;
    for (const Vec2& p : grid.all) {
        if (stop.stop_requested()) return {};
        const PerforatedLine line = densestThrough(grid, p);
        if (line.hitsPerMm > limitPerMm) over.push_back(line);
    }
    std::stable_sort(over.begin(), over.end(),
                     [](const auto& a, const auto& b) { return a.hitsPerMm > b.hitsPerMm; });
    std::vector<PerforatedLine> worst;
    for (const PerforatedLine& line : over) {
        const bool apart = std::none_of(worst.begin(), worst.end(), [&](const auto& w) {
            return distance(w.at, line.at) < perforationLengthMm;
        });
        if (apart) worst.push_back(line);
    }
    return worst;
}

} // namespace rapt
