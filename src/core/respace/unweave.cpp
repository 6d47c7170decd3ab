#include "respace/unweave.h"

#include "respace/legs.h"
#include "respace/row_sections.h"

#include <optional>

namespace rapt {
namespace {

// A jump this long that carries on the row before it and the row after it goes over a hole.
constexpr double leastHoleMm = 1.0;
constexpr double sameWayCosine = 0.995;
// So many rows in a row must jump.
constexpr std::size_t leastJumps = 3;
// Legs within 20 degrees of the jumps are rows.
constexpr double rowCosine = 0.94;
// Sections that begin this near to where the last one ended are sewn on.
constexpr double nearMm = 1.5;

std::optional<Vec2> wayOf(Vec2 a, Vec2 b) {
    const double size = distance(a, b);
    if (size < 1e-6) return std::nullopt;
    return (b - a) * (1 / size);
}

/// The way of a jump between two chains that carries on a row; nothing for other jumps.
std::optional<Vec2> overHole(const SewnChain& a, const SewnChain& b) {
    if (a.thread != b.thread || a.points.size() < 2 || b.points.size() < 2 || b.ledIn)
        return std::nullopt;
    const Vec2 from = a.points.back(), to = b.points.front();
    if (distance(from, to) < leastHoleMm) return std::nullopt;
    const auto jump = wayOf(from, to);
    const auto in = wayOf(a.points[a.points.size() - 2], from);
    const auto out = wayOf(to, b.points[1]);
    if (!jump || !in || !out) return std::nullopt;
    if (dot(*jump, *in) < sameWayCosine || dot(*jump, *out) < sameWayCosine) return std::nullopt;
    return jump;
}

/// Puts the rows of some chains that follow each other together by sections.
class Unweaver {
public:
    explicit Unweaver(Vec2 way) : axis(way) {}

    void add(const SewnChain& chain) {
        const auto legs = straightLegs(chain.points, 0, chain.points.size() - 1);
        bool sewnOn = false; // the row piece before ends where this leg begins
        for (const Leg& leg : legs) {
            const double along = dot(leg.way, axis);
            if (std::abs(along) < rowCosine) {
                sewnOn = false;
                continue;
            }
            const bool forth = along > 0;
            if (!pieces.empty() && forth != lastForth) {
                ++row;
                sewnOn = false;
            }
            lastForth = forth;
            if (!sewnOn) pieces.push_back({row, {}});
            for (std::uint32_t i = leg.from + (sewnOn ? 1 : 0); i <= leg.to; ++i)
                pieces.back().points.push_back(chain.points[i]);
            sewnOn = true;
        }
    }

    /// Needle points, a polyline a chain.
    std::vector<std::vector<Vec2>> sections() const {
        std::vector<RowExtent> extents;
        for (const Piece& p : pieces) {
            const double a = dot(p.points.front(), axis), b = dot(p.points.back(), axis);
            extents.push_back({p.row, std::min(a, b), std::max(a, b)});
        }
        const RowSections sorted = sectionsOf(extents);
        std::vector<std::vector<Vec2>> chains;
        for (int s = 0; s < sorted.count; ++s) {
            std::vector<Vec2> points;
            for (std::size_t i = 0; i < pieces.size(); ++i) {
                if (sorted.sectionOf[i] != s) continue;
                // A row may begin with the very point where the last one ended.
                const auto& own = pieces[i].points;
                const bool shared = !points.empty() && points.back() == own.front();
                points.insert(points.end(), own.begin() + (shared ? 1 : 0), own.end());
            }
            if (chains.empty() || distance(chains.back().back(), points.front()) > nearMm)
                chains.emplace_back();
            chains.back().insert(chains.back().end(), points.begin(), points.end());
        }
        return chains;
    }

private:
    struct Piece {
        std::size_t row;
        std::vector<Vec2> points;
    };
    Vec2 axis;
    std::vector<Piece> pieces;
    std::size_t row = 0;
    bool lastForth = true;
};

} // namespace

StitchList unwoven(const StitchList& list) {
    const std::vector<SewnChain> chains = chainsOf(list);
    StitchList result = list;
    result.stitches.clear();
    std::size_t record = 0;
    const auto copyTo = [&](std::size_t end) {
        result.stitches.insert(result.stitches.end(),
                               list.stitches.begin() + static_cast<std::ptrdiff_t>(record),
                               list.stitches.begin() + static_cast<std::ptrdiff_t>(end));
        record = end;
    };
    for (std::size_t first = 0; first < chains.size();) {
        std::size_t last = first;
        std::optional<Vec2> way;
        while (last + 1 < chains.size()) {
            const auto jump = overHole(chains[last], chains[last + 1]);
            if (!jump || (way && std::abs(dot(*way, *jump)) < sameWayCosine)) break;
            if (!way) way = jump;
            ++last;
        }
        if (last - first < leastJumps || chains[first].ledIn) {
            first = std::max(last, first + 1);
            continue;
        }
        copyTo(chains[first].firstRecord);
        Unweaver unweaver(*way);
        for (std::size_t k = first; k <= last; ++k) unweaver.add(chains[k]);
        const std::uint8_t thread = chains[first].thread;
        bool begun = false;
        for (const auto& points : unweaver.sections()) {
            if (begun) {
                Stitch trim = result.stitches.back();
                trim.op = Op::trim;
                result.stitches.push_back(trim);
                result.stitches.push_back(stitchAt(Op::jump, points.front(), thread));
            }
            for (const Vec2& p : points) result.stitches.push_back(stitchAt(Op::stitch, p, thread));
            begun = true;
        }
        record = chains[last].lastRecord;
        first = last + 1;
    }
    copyTo(list.stitches.size());
    return result;
}

} // namespace rapt
