#pragma once
// One stitch list a hooping, in its field frame: what is handed to the machine.

#include "divide/division.h"

namespace rapt {

/// The thread of the basting crosses at the marks of later clampings, sewn last.
inline constexpr const char* witnessThreadName = "Witness basting";

/// What one hooping sews.
struct HoopingList {
    StitchList list; ///< field frame
    std::size_t stitches = 0;
    Box extents; ///< of the penetrations, field frame
};

/// The lists of all hoopings, in order; of those that were begun the list that was kept then.
/// Fails (cannotDo) when the plan no longer belongs to the
/// job: no plan, a piece or a part of it in none or in two hoopings, or a penetration outside its
/// field; the error says what to plan again. Fails (cancelled) when stopped.
Result<std::vector<HoopingList>> hoopingLists(const Job& job, const Library& library,
                                              StitchCache* cache = nullptr,
                                              std::stop_token stop = {});

/// What the first `count` hoopings of a plan sew, in the cloth frame.
StitchList sewnOnCloth(const std::vector<Hooping>& hoopings, const std::vector<HoopingList>& lists,
                       std::size_t count);

/// `hooping-01.stitch.csv` for the first (counted from 1).
std::string hoopingFileName(std::size_t number);

/// Files that an export of so many hoopings would replace although they bear no mark of this job.
std::vector<std::string> foreignFiles(const Job& job, std::size_t hoopings,
                                      const std::string& folder);

/// Writes all lists into a folder, replacing an earlier export of the same job there: of other
/// hoopings' files only what that job wrote goes. Hoopings without a stitch (sewn before) have no
/// file. Gives the file names.
Result<std::vector<std::string>>
exportHoopings(const Job& job, const std::vector<HoopingList>& lists, const std::string& folder);

} // namespace rapt
