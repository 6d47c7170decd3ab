#pragma once
// The stitches of one span of a stitched job as a list of their own.

#include "job/stitching.h"

namespace rapt {

/// In the frame of the job's list, with its threads.
inline StitchList listOf(const StitchedJob& stitched, const PieceSpan& span) {
    StitchList list;
    list.threads = stitched.list.threads;
    list.stitches.assign(stitched.list.stitches.begin() + static_cast<std::ptrdiff_t>(span.first),
                         stitched.list.stitches.begin() + static_cast<std::ptrdiff_t>(span.last));
    return list;
}

} // namespace rapt
