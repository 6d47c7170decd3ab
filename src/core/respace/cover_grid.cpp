#include "respace/cover_grid.h"

namespace rapt {
namespace {

constexpr double cellMm = 1.0;
// Rows farther apart than this let what is below them be seen.
constexpr double openSpacingMm = 1.2;
// So much of a stretch must be covered.
constexpr double coveredShare = 0.8;
// More cells than this are not worth the memory: larger ones serve as well.
constexpr double mostCells = 4e6;

/// The cells that a band of the thread lies on.
class CoverGrid {
public:
    explicit CoverGrid(const Box& b) : box(b) {
        cell = cellMm;
        while ((box.width() / cell + 2) * (box.height() / cell + 2) > mostCells) cell *= 2;
        columns = static_cast<std::size_t>(box.width() / cell) + 1;
        taken.assign(columns * (static_cast<std::size_t>(box.height() / cell) + 1), 0);
    }

    std::uint8_t& at(Vec2 p) {
        return taken[static_cast<std::size_t>((p.y - box.minY) / cell) * columns +
                     static_cast<std::size_t>((p.x - box.minX) / cell)];
    }

    /// Calls `visit` with points along a line, one or two in every cell.
    template<class Visit>
    void along(Vec2 a, Vec2 b, Visit visit) const {
        const int steps = std::max(1, static_cast<int>(distance(a, b) / (cell * 0.6)));
        for (int k = 0; k <= steps; ++k) visit(lerp(a, b, static_cast<double>(k) / steps));
    }

private:
    Box box;
    double cell = 1;
    std::size_t columns = 1;
    std::vector<std::uint8_t> taken;
};

void markThread(std::vector<SewnChain>& chains, std::uint8_t thread) {
    Box box;
    for (const SewnChain& chain : chains)
        if (chain.thread == thread)
            for (const Vec2& p : chain.points) box.add(p);
    CoverGrid grid(box);
    // From the last stretch back: whoever comes later is already there.
    for (auto chain = chains.rbegin(); chain != chains.rend(); ++chain) {
        if (chain->thread != thread) continue;
        for (auto s = chain->stretches.rbegin(); s != chain->stretches.rend(); ++s) {
            std::size_t seen = 0, covered = 0;
            for (std::size_t i = s->first; i < s->last; ++i)
                grid.along(chain->points[i], chain->points[i + 1], [&](Vec2 p) {
                    ++seen;
                    covered += grid.at(p) != 0;
                });
            s->under =
                seen > 0 && static_cast<double>(covered) > coveredShare * static_cast<double>(seen);
            if (!s->isBand() || s->under || s->rowDistanceMm() > openSpacingMm) continue;
            for (const SewnRow& row : s->rows)
                grid.along(chain->rowFrom(row), chain->rowTo(row), [&](Vec2 p) { grid.at(p) = 1; });
        }
    }
}

} // namespace

void markUnderlay(std::vector<SewnChain>& chains) {
    bool used[256] = {};
    for (const SewnChain& chain : chains) {
        if (used[chain.thread]) continue;
        used[chain.thread] = true;
        markThread(chains, chain.thread);
    }
}

} // namespace rapt
