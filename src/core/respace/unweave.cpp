#include "respace/unweave.h"

#include "respace/legs.h"
#include "respace/row_sections.h"
#include "thread/ties.h"

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

/// The points of a chain that are rows along a way, with the short steps between them: from its
/// beginning on (`atEnd` false), or up to its end. The number of the other end of that stretch.
std::uint32_t rowsReach(const SewnChain& chain, Vec2 way, bool atEnd) {
    const auto legs = straightLegs(chain.points, 0, chain.points.size() - 1);
    std::uint32_t reached = atEnd ? static_cast<std::uint32_t>(chain.points.size() - 1) : 0;
    for (std::size_t k = 0; k < legs.size(); ++k) {
        const Leg& leg = atEnd ? legs[legs.size() - 1 - k] : legs[k];
        const bool row = std::abs(dot(leg.way, way)) >= rowCosine;
        const double size = distance(chain.points[leg.from], chain.points[leg.to]);
        if (!row && size > nearMm) break;
        // A step that leads away from the rows belongs to what follows.
        if (row) reached = atEnd ? leg.from : leg.to;
    }
    return reached;
}

/// Puts the rows of some chains that follow each other together by sections.
class Unweaver {
public:
    explicit Unweaver(Vec2 way) : axis(way) {}

    /// The points from `from` to `to` of a chain, rows and steps.
    void add(const SewnChain& chain, std::uint32_t from, std::uint32_t to) {
        bool sewnOn = false; // the row piece before ends where this leg begins
        for (const Leg& leg : straightLegs(chain.points, from, to)) {
            const double along = dot(leg.way, axis);
            const bool isRow = std::abs(along) >= rowCosine;
            const bool forth = along > 0;
            if (isRow && !pieces.empty() && forth != lastForth) {
                ++row;
                sewnOn = false;
            }
            if (isRow) lastForth = forth;
            if (!sewnOn && (isRow || pieces.empty())) pieces.push_back({row, {}, {}});
            Piece& piece = pieces.back();
            // The end of a step is the beginning of what it leads to.
            for (std::uint32_t i = leg.from; i < leg.to + (isRow ? 1 : 0); ++i) {
                const std::int64_t record = chain.recordOf(i);
                if (record == lastRecord) continue; // where legs meet
                lastRecord = record;
                piece.points.push_back(chain.points[i]);
                piece.records.push_back(static_cast<std::size_t>(record));
            }
            if (piece.points.empty()) pieces.pop_back();
            sewnOn = isRow;
        }
    }

    /// Records, a chain each.
    std::vector<std::vector<std::size_t>> sections() const {
        std::vector<RowExtent> extents;
        for (const Piece& p : pieces) {
            const double a = dot(p.points.front(), axis), b = dot(p.points.back(), axis);
            extents.push_back({p.row, std::min(a, b), std::max(a, b)});
        }
        const RowSections sorted = sectionsOf(extents);
        std::vector<std::vector<std::size_t>> chains;
        Vec2 end;
        for (int s = 0; s < sorted.count; ++s) {
            bool begins = true;
            for (std::size_t i = 0; i < pieces.size(); ++i) {
                if (sorted.sectionOf[i] != s) continue;
                const Piece& p = pieces[i];
                if (chains.empty() || (begins && distance(end, p.points.front()) > nearMm))
                    chains.emplace_back();
                begins = false;
                chains.back().insert(chains.back().end(), p.records.begin(), p.records.end());
                end = p.points.back();
            }
        }
        return chains;
    }

private:
    struct Piece {
        std::size_t row;
        std::vector<Vec2> points;
        std::vector<std::size_t> records;
    };
    Vec2 axis;
    std::vector<Piece> pieces;
    std::size_t row = 0;
    std::int64_t lastRecord = -1;
    bool lastForth = true;
};

/// Chains that follow each other and jump over a hole, row by row.
struct Woven {
    std::size_t first = 0, last = 0; ///< chains
    Vec2 way;
};

std::vector<Woven> wovenIn(const StitchList& list, const std::vector<SewnChain>& chains) {
    const auto waits = [&](std::size_t chain) { // a stop before it must stay where it is
        for (std::size_t i = chains[chain - 1].lastRecord; i < chains[chain].firstRecord; ++i)
            if (list.stitches[i].op == Op::stop) return true;
        return false;
    };
    std::vector<Woven> all;
    for (std::size_t first = 0; first < chains.size();) {
        std::size_t last = first;
        std::optional<Vec2> way;
        while (last + 1 < chains.size()) {
            const auto jump = overHole(chains[last], chains[last + 1]);
            if (!jump || (way && std::abs(dot(*way, *jump)) < sameWayCosine)) break;
            if (waits(last + 1)) break;
            if (!way) way = jump;
            // A chain between two jumps is nothing but rows.
            if (last > first &&
                rowsReach(chains[last], *way, false) + 1 < chains[last].points.size())
                break;
            ++last;
        }
        if (last - first < leastJumps || chains[first].ledIn) {
            first = std::max(last, first + 1);
            continue;
        }
        all.push_back({first, last, *way});
        first = last + 1;
    }
    return all;
}

} // namespace

TracedList unwoven(const StitchList& list) {
    const std::vector<SewnChain> chains = chainsOf(list);
    const std::vector<Woven> woven = wovenIn(list, chains);
    if (woven.empty()) return tracedWhole(list);
    TracedList result = tracedLike(list);
    std::size_t record = 0;
    const auto copyTo = [&](std::size_t end) {
        for (; record < end; ++record) result.keep(list.stitches[record], record);
    };
    const auto moveTo = [&](Vec2 p) {
        const Stitch last = result.stitches.back();
        result.make({last.x, last.y, Op::trim, last.thread}, NewRecord::move);
        result.make(stitchAt(Op::jump, p, last.thread), NewRecord::move);
    };
    for (const Woven& w : woven) {
        // What comes before the rows in the first chain, and after them in the last, stays.
        const std::uint32_t from = rowsReach(chains[w.first], w.way, true);
        const std::uint32_t to = rowsReach(chains[w.last], w.way, false);
        copyTo(static_cast<std::size_t>(chains[w.first].recordOf(from)));
        Unweaver unweaver(w.way);
        for (std::size_t k = w.first; k <= w.last; ++k)
            unweaver.add(chains[k], k == w.first ? from : 0,
                         k == w.last ? to
                                     : static_cast<std::uint32_t>(chains[k].points.size() - 1));
        bool begun = false;
        for (const auto& section : unweaver.sections()) {
            if (begun) moveTo(list.stitches[section.front()].at());
            for (const std::size_t r : section) result.keep(list.stitches[r], r);
            begun = true;
        }
        const auto end = static_cast<std::size_t>(chains[w.last].recordOf(to));
        if (end + 1 < chains[w.last].lastRecord && result.stitches.back() != list.stitches[end])
            moveTo(list.stitches[end].at());
        record = end + 1;
        copyTo(chains[w.last].lastRecord);
    }
    copyTo(list.stitches.size());
    return tieMadeEnds(list, result);
}

} // namespace rapt
