#pragma once
// Thread runs: what is sewn with one thread before the next change. Runs are counted from 1.

#include "thread/origin.h"

#include <vector>

namespace rapt {

/// The number of the run that each record belongs to. Trims after its last stitch belong to a run,
/// and so do moves within it, whatever thread they are labelled with; jumps and stops before its
/// first stitch lead to it.
std::vector<int> runNumbers(const StitchList& list);

/// A design cut where its thread changes; each list begins with a jump, in the frame of the design.
std::vector<TracedList> runsOf(const StitchList& list);

/// The design without some of its runs; a trim and a jump lead from run to run.
TracedList withoutRuns(const StitchList& list, const std::vector<int>& leftOut);

/// For every run of a list that was made of another: the number of the run of the other that it
/// was. 0 for one that is new.
std::vector<int> originalRuns(const TracedList& made, const StitchList& input);

} // namespace rapt
