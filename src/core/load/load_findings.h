#pragma once
// Findings about thread load and stitch lengths, with causes and remedies.

#include "job/finding.h"
#include "job/stitching.h"
#include "load/limits.h"

#include <stop_token>

namespace rapt {

struct LoadFindingsOptions {
    bool remedies = true;        ///< work out remedies; each tries the changed job once
    std::size_t mostPerKind = 6; ///< worse ones first; the rest is counted in a note
};

/// What is wrong with the load of a stitched job on a fabric. `job` gives names and scales; for a
/// bare design pass the job made of it.
std::vector<Finding> loadFindings(const Job& job, const StitchedJob& stitched, const LoadMap& map,
                                  const Fabric& fabric, const LoadFindingsOptions& options = {},
                                  std::stop_token stop = {});

} // namespace rapt
