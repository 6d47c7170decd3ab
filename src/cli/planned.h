#pragma once
// A job ready to be sewn, as the verbs of the stitch-out need it.

#include "cli/run.h"

#include "divide/hooping_lists.h"

namespace rapt::cli {

/// A job with its hoopings and their lists.
struct Planned {
    Job job;
    Library library;
    Machine machine;
    Fabric fabric;
    std::vector<HoopingList> lists; ///< moved where the person chose the correction
    bool dividedNow = false;        ///< it had no plan
};

/// Reads a job that is changed and written: what is sewn of it is kept first. Fails as reading and
/// stitching do.
Result<Job> jobToChange(const std::string& path);

/// Writes what became of such a job. Fails (cannotDo) if that changes what is sewn.
Status writeChanged(const std::string& out, const Job& before, const Job& after,
                    const std::string& path);

/// Reads a job; one without a plan that fits one frame is hooped by itself, another is divided as
/// `divide` does where `mayDivide`, else it is an error that names `divide`. `machine` is an id, or
/// empty for the job's own.
Result<Planned> plannedJob(const std::string& path, const std::string& machine, bool mayDivide);

/// Fails (cannotDo) for a number that no hooping has.
Status hasHooping(const Planned& planned, int hooping, const std::string& path);

} // namespace rapt::cli
