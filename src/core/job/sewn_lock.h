#pragma once
// What is sewn stays sewn: pieces of hoopings that were begun are not changed any more.

#include "base/result.h"
#include "job/job.h"

#include <set>

namespace rapt {

/// Ids, also of copies and outlines, of everything in hoopings that were begun.
std::set<std::string> sewnIds(const Job& job);

/// Ids of the job's pieces that are sewn, in whole or in part.
std::set<std::string> sewnPieces(const Job& job);

/// Why a job must not become another one: a hooping that was begun is gone or stands elsewhere, or
/// what it sews differs (its place in the order, its name and its lock are free). Nothing if what
/// is sewn stays, or is said not to be sewn after all.
std::optional<Error> changesSewn(const Job& before, const Job& after);

} // namespace rapt
