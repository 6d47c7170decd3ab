#pragma once
// Hoopings that were sewn, in whole or up to a stitch: their lists are kept, and what is left of
// them.

#include "divide/hooping_lists.h"
#include "job/edit.h"

namespace rapt {

/// A hooping (counted from 1) is sewn up to so many penetrations, `allSewn` for all of them; its
/// list is kept as it is. With 0 it is not sewn after all.
Edit markSewn(int hooping, std::size_t upTo, const HoopingList& list);

/// The job with the list of every hooping that was begun kept in it, so that nothing that changes
/// elsewhere changes them. Fails as hoopingLists does.
Result<Job> withSewnListsKept(Job job, const Library& library, StitchCache& cache);

/// The list that a hooping kept, or nothing. Fails (badInput) with the member's name.
Result<std::optional<StitchList>> keptList(const Job& job, const Hooping& hooping);

/// True if something of a hooping (from 0) is still to be sewn.
bool isOpen(const Job& job, const std::vector<HoopingList>& lists, std::size_t hooping);

/// The lists without what is sewn, in the same order; empty ones for what is sewn whole. Thread
/// goes on where it ended, tied.
std::vector<HoopingList> openLists(const Job& job, std::vector<HoopingList> lists);

} // namespace rapt
