#pragma once
// Every open finding of a job: what `rapt check` prints and the window lists. The parts come in the
// order of their use, so that a window can show each as soon as it is there.

#include "divide/forecast.h"
#include "divide/hooping_lists.h"
#include "job/finding.h"
#include "job/stitching.h"
#include "library/library.h"
#include "load/load_findings.h"
#include "load/load_map.h"
#include "load/remedies.h"
#include "registration/trust_map.h"

#include <stop_token>

namespace rapt {

/// What of a job can be sewn.
struct SewableJob {
    StitchedJob stitched;          ///< without the pieces that cannot be stitched
    std::vector<Finding> problems; ///< one for each of these
};
/// Fails (cancelled) when stopped, and as stitchPlaced does.
Result<SewableJob> stitchWhatCan(const Job& job, StitchCache& cache, std::stop_token stop = {});

/// Findings about load, stitches, cloth and words; remedies that take trying are left open. Fails
/// (cancelled) when stopped.
Result<std::vector<Finding>> judgeJob(const WeighedJob& weighed, StitchCache& cache,
                                      std::stop_token stop = {});

/// Stitches, measures and judges a job anew: what remedies are tried against.
Judge judgeWith(const Fabric& fabric);

/// The lists of the hoopings that are planned, and what is wrong with the plan and its frames.
struct PlannedLists {
    std::vector<HoopingList> lists;
    std::vector<Finding> findings;
    std::vector<JoinForecast> joins;
    std::vector<JoinCheck> checks; ///< the same joins, as far as clampings are registered
};
/// Fails (cancelled) when stopped.
Result<PlannedLists> plannedLists(const Job& job, const Library& library, StitchCache& cache,
                                  std::stop_token stop = {});

/// All of it.
struct CheckedJob {
    StitchedJob stitched;
    LoadMap load;
    std::vector<PieceFacts> facts;
    std::vector<Finding> findings; ///< the worst first; remedies that take trying are left open
};
/// Stitches what can be stitched, measures and judges it. Fails (cannotDo) for an unknown fabric,
/// and (cancelled) when stopped.
Result<CheckedJob> checkJob(const Job& job, const Library& library, StitchCache* cache = nullptr,
                            std::stop_token stop = {});
/// Looks for the remedies that are left open, the worst finding first, until it is stopped.
Status findRemedies(CheckedJob& checked, const Job& job, const Library& library, StitchCache& cache,
                    std::stop_token stop = {});

} // namespace rapt
