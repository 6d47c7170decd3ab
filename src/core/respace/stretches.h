#pragma once
// What bare needle points were once made as: satins, fills, runs, ties. Read from the points alone,
// in the piece frame, in millimetres.

#include "thread/stitch_list.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace rapt {

/// What a stretch was recognised as.
enum class StretchKind {
    satin,       ///< single stitches to and fro between two sides
    fill,        ///< parallel rows side by side, turned at an outline
    run,         ///< one line of stitches, also to and fro
    repeatedRun, ///< every stitch of a line sewn an odd number of times before the next
    tie,         ///< a few tiny stitches on the spot
    unknown,     ///< none of these
};
/// Its stable name.
const char* nameOf(StretchKind kind);

/// One crossing of a satin or one row of a fill: from point `from` to point `to` of its chain.
struct SewnRow {
    std::uint32_t from = 0, to = 0;
};

/// Neighbouring stretches share the point between them.
struct SewnStretch {
    StretchKind kind = StretchKind::run;
    std::size_t first = 0, last = 0; ///< points of the chain, both included
    std::vector<SewnRow> rows;       ///< of satins and fills, in order; every other one runs back
    int passes = 1;                  ///< of a repeated run
    bool under = false;              ///< lies below a later satin or fill of its thread
    double spacingMm = 0;            ///< row spacing or pitch (docs/measures.md); 0 for the others

    /// True for what has rows.
    bool isBand() const { return kind == StretchKind::satin || kind == StretchKind::fill; }
    /// Distance of neighbouring rows or crossings of a band: half a satin's pitch.
    double rowDistanceMm() const { return kind == StretchKind::satin ? spacingMm / 2 : spacingMm; }
};

/// Stitches without a cut between them, in one thread.
struct SewnChain {
    std::size_t firstRecord = 0, lastRecord = 0; ///< of the list; one past the end
    std::uint8_t thread = 1;
    /// The first point is the place of a jump from which thread is laid, without a penetration.
    bool ledIn = false;
    std::vector<Vec2> points;
    std::vector<SewnStretch> stretches; ///< cover all points, in order

    /// The record of the list that is a point; −1 for the place of the jump that leads in.
    std::int64_t recordOf(std::size_t point) const {
        if (!ledIn) return static_cast<std::int64_t>(firstRecord + point);
        return point == 0 ? -1 : static_cast<std::int64_t>(firstRecord + point - 1);
    }
    /// Where a row begins.
    Vec2 rowFrom(const SewnRow& row) const { return points[row.from]; }
    /// Where a row ends.
    Vec2 rowTo(const SewnRow& row) const { return points[row.to]; }
};

/// Cuts a list into chains at its jumps, trims, stops and thread changes, without reading them.
std::vector<SewnChain> chainsOf(const StitchList& list);

/// The same, and reads what each stretch is. Every stitch of the list is in exactly one chain.
std::vector<SewnChain> recogniseStretches(const StitchList& list);

} // namespace rapt
