#pragma once
// What can be counted and measured on a stitch list (docs/measures.md).

#include "thread/stitch_list.h"

#include <optional>

namespace rapt {

/// Calls `visit(index, from)` for every stitch (penetration), in order; `from` points to the record
/// where the needle stood before, or is null for the first stitch, which lays no thread. Trims and
/// stops do not move the needle, whatever coordinates they carry.
template<class Visit>
void walkStitches(const std::vector<Stitch>& stitches, Visit visit) {
    const Stitch* needle = nullptr;
    bool first = true;
    for (std::size_t i = 0; i < stitches.size(); ++i) {
        const Stitch& s = stitches[i];
        if (s.op == Op::stitch) {
            visit(i, first ? nullptr : needle);
            first = false;
            needle = &s;
        } else if (s.op == Op::jump) {
            needle = &s;
        }
    }
}

/// Length in mm of the thread between two records.
inline double spanMm(const Stitch& a, const Stitch& b) {
    const double dx = static_cast<double>(b.x) - a.x;
    const double dy = static_cast<double>(b.y) - a.y;
    return std::sqrt(dx * dx + dy * dy) / unitsPerMm;
}

/// Stitches and length of one thread.
struct ThreadUse {
    Thread thread;
    std::size_t stitches = 0;
    double lengthMm = 0;
};

/// What `rapt info` reports.
struct Measures {
    std::size_t stitches = 0;
    std::size_t jumps = 0;
    std::size_t trims = 0;
    std::size_t stops = 0;
    std::size_t threadChanges = 0; ///< stitches whose thread differs from the stitch before
    std::size_t shortStitches = 0; ///< over 0, under 0.50 mm
    std::size_t longStitches = 0;  ///< over 7.0 mm
    double longestMm = 0;
    double lengthMm = 0; ///< thread laid on top of the cloth
    Box extents;         ///< box of the penetrations; empty without any
    std::vector<ThreadUse> threads;
};

/// Counts and lengths (docs/measures.md).
Measures measure(const StitchList& list);

/// Box of the penetrations in mm.
Box extentsOf(const StitchList& list);

/// Distance between neighbouring fill rows, or between satin penetrations on one side, read off
/// bare needle points: the median over fills and satins, weighted by thread length. Straight
/// stretches are rows; two neighbouring rows that run against each other and overlap sideways
/// give one reading. Empty if there is no fill and no satin.
std::optional<double> medianRowSpacing(const StitchList& list);

} // namespace rapt
