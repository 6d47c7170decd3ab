#pragma once
// Playing a stitch-out: from times to stitches and back, and steps between them.

#include "estimate/timing.h"

namespace rapt {

/// A place in the stitch-out: how many records of the joined list are done. 0 is before the first,
/// the list's size after the last.
using Playhead = std::size_t;

/// The place after so many seconds; within one thread run every stitch takes as long.
Playhead placeAt(const TimeLine& time, const StitchList& list, double seconds);
/// Seconds up to a place.
double secondsAt(const TimeLine& time, const StitchList& list, Playhead place);

/// How far one step goes.
enum class PlayStep { stitch, run, change };
/// The next place (or the one before) at a stitch, at the begin of a thread run of a piece, at a
/// thread change; the end (or the start) if there is none.
Playhead stepFrom(const TimeLine& time, const StitchList& list, Playhead place, PlayStep step,
                  bool forward);

/// The run that a place is in; −1 before the first stitch.
int runAt(const TimeLine& time, Playhead place);

/// How many stitches are done.
std::size_t stitchesDone(const StitchList& list, Playhead place);

} // namespace rapt
