#pragma once
// Thread runs: what is sewn with one thread before the next change.

#include "thread/stitch_list.h"

#include <vector>

namespace rapt {

/// A design cut where its thread changes; each list begins with a jump, in the frame of the design.
std::vector<StitchList> runsOf(const StitchList& list);

/// The design without some of its runs, counted from 1; a trim and a jump lead from run to run.
StitchList withoutRuns(const StitchList& list, const std::vector<int>& leftOut);

} // namespace rapt
