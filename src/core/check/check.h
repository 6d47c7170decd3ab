#pragma once
// Every open finding of a job: what `rapt check` prints and the window lists.

#include "job/finding.h"
#include "job/stitching.h"
#include "library/library.h"
#include "load/load_map.h"
#include "load/piece_facts.h"

#include <stop_token>

namespace rapt {

/// What is derived from a job for judging it.
struct CheckedJob {
    StitchedJob stitched; ///< without the pieces that cannot be stitched
    LoadMap load;
    std::vector<PieceFacts> facts;
    std::vector<Finding> findings; ///< stops first
};

/// Stitches what can be stitched, measures and judges it. Pieces that cannot be stitched become
/// findings. Fails (cannotDo) for an unknown fabric and when stopped.
Result<CheckedJob> checkJob(const Job& job, const Library& library, StitchCache* cache = nullptr,
                            std::stop_token stop = {});

} // namespace rapt
