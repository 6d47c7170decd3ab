#pragma once
// A list as stitches that follow each other without a move, a stop or another thread between.

#include "thread/stitch_list.h"

#include <optional>

namespace rapt {

/// Stitches of one thread in following records.
struct Sequence {
    std::size_t first = 0, last = 0; ///< records; one past the end
    /// The place of the jump from which thread is laid to the first of them, if it is another one.
    std::optional<Vec2> ledInFrom;
    bool cutBefore = false, cutAfter = false; ///< a list end, a trim or another thread is there
};

/// All stitches of a list, in order.
std::vector<Sequence> sequencesOf(const StitchList& list);

} // namespace rapt
