#pragma once
// How long sewing takes: each stitch at the speed its length allows, and what a person does.

#include "library/library.h"
#include "thread/stitch_list.h"

#include <vector>

namespace rapt {

/// Seconds for one stitch: full speed up to the machine's length, then slower in proportion; never
/// faster than the fabric allows.
double stitchSeconds(double lengthMm, const Machine& machine, const Fabric& fabric);

/// One stretch of the time line: stitches of one thread in one piece.
struct ThreadRun {
    std::uint8_t thread = 1;
    std::string piece;
    std::size_t first = 0; ///< index of its first stitch record
    std::size_t stitches = 0;
    double startSeconds = 0;
    double seconds = 0;
    bool changeBefore = false; ///< a thread change stands before it
};

/// Seconds by piece and thread, in order.
struct TimeLine {
    std::vector<ThreadRun> runs;
    double totalSeconds = 0; ///< without hoopings
    std::size_t stitches = 0;
    std::size_t threadChanges = 0;
};

struct PieceSpan;
/// The times of a list on a machine and a cloth.
TimeLine timeLineOf(const StitchList& list, const std::vector<PieceSpan>& spans,
                    const Machine& machine, const Fabric& fabric);

/// `1 h 12 min`, `38 min`, `45 s`.
std::string formatDuration(double seconds);

} // namespace rapt
