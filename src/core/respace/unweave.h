#pragma once
// Fills that are sewn row by row over a hole. Internal to respacing.

#include "respace/stretches.h"
#include "thread/origin.h"

namespace rapt {

/// Where a fill jumps over a hole in row after row, the rows on both sides are put together: first
/// the rows before the hole, then all on one side of it, then all on the other, with one cut
/// between. The stitches are the same; only then can they be recognised as fills. Other lists come
/// back as they are.
TracedList unwoven(const StitchList& list);

} // namespace rapt
