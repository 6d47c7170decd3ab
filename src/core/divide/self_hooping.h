#pragma once
// A job that fits one frame needs no planning: it is hooped by itself.

#include "divide/division.h"

namespace rapt {

/// The job with one hooping, the middle of its extents in the middle of the field: in the smallest
/// frame that it owns and its machine takes, or owning none, the smallest of the library. Turned
/// only where it fits no other way and the frame allows it. Nothing if it fits none whole; a job
/// with hoopings comes back as it is. Fails as stitchJob does, and for a job without stitches
/// (cannotDo).
Result<std::optional<Job>> hoopedByItself(const Job& job, const Library& library,
                                          StitchCache& cache, std::stop_token stop = {});

/// As above, or the reason with what to do: `rapt divide`.
Result<Job> hoopedOrReason(const Job& job, const Library& library, StitchCache& cache,
                           std::stop_token stop = {});

} // namespace rapt
