#pragma once
// Edits of threads: recolouring and joining.

#include "job/edit.h"
#include "thread/palette.h"

namespace rapt {

/// One thread for another in these pieces (their outlines too), or in the whole job for no ids.
/// Stops of a design that stood at a change which is none any more go with it.
Edit recolour(std::vector<std::string> ids, const Thread& from, const Thread& to);

/// Every thread of the job becomes the owned one that looks most like it (colourDifference), of its
/// own weight where there is one.
Edit useOwnedThreads(const Palette& palette);

/// Threads that look alike (colourDifference at most `most`) and have the same weight become the
/// one that is sewn first: stops that follow each other then need no change.
Edit joinLikeThreads(double most);

/// Every thread run of a piece as a piece of its own, in one group and in the same repeat: copies
/// are then sewn thread by thread, not copy by copy. The outline stays with the first. A piece of
/// one run stays as it is.
Edit splitByThread(const std::string& id);

/// The threads of the job in order of first use, without stitching it; outlines included.
std::vector<Thread> threadsOf(const Job& job);
/// In the order of first use.
std::vector<Thread> threadsOf(const Piece& piece);

} // namespace rapt
