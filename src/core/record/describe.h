#pragma once
// A record filled from what the job, its plan and its run tell by themselves.

#include "estimate/price.h"
#include "record/stitch_out.h"
#include "run/run_record.h"

namespace rapt {

/// A job as it is sewn.
struct SewnJob {
    const Job& job;
    const std::vector<HoopingList>& lists; ///< of its hoopings; may be empty without a plan
    const Machine& machine;
    const Fabric& fabric;
    const Library& library;
    const ShopRates& shop;
};

/// Everything but what a person says of it: no date, uid, outcome, note, times taken. Measures the
/// load of the whole job. Fails as stitchWhatCan and workOf do.
Result<StitchOut> describeStitchOut(const SewnJob& sewn, StitchCache& cache);

/// Adds what the runs of its hoopings took, for the whole quantity, and met. `lists` are the
/// hoopings.
void addRuns(StitchOut& record, const std::vector<RunRecord>& runs,
             const std::vector<HoopingList>& lists);

} // namespace rapt
