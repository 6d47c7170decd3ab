#include "cli/planned.h"

#include "divide/self_hooping.h"
#include "divide/sewn_hoopings.h"
#include "formats/job_file.h"
#include "job/edit.h"
#include "job/sewn_lock.h"
#include "registration/correction.h"

#include <fmt/format.h>

namespace rapt::cli {
namespace {

Status divideNow(Planned& planned, StitchCache& cache) {
    DivideOptions options;
    options.hoops = planned.library.hoops;
    if (!planned.job.brief.hoops.empty()) {
        const auto owned = hoopsFor(planned.job, {}, planned.library);
        if (!owned) return owned.error();
        options.hoops = *owned;
    }
    const auto division = divideIntoHoopings(planned.job, cache, options, planned.library);
    if (!division) return division.error();
    planned.job = setHoopings(division->hoopings, division->predictedJoinRmsMm, division->cuts)
                      .change(planned.job);
    planned.dividedNow = true;
    return done();
}

Status fillIn(Planned& planned, const std::string& machine, bool mayDivide) {
    const auto found =
        planned.library.machine(machine.empty() ? planned.job.brief.machine : machine);
    if (!found) return found.error();
    planned.machine = *found;
    const auto fabric = planned.library.fabric(planned.job.brief.fabric);
    if (!fabric) return fabric.error();
    planned.fabric = *fabric;
    StitchCache cache;
    if (!machine.empty() && planned.job.hoopings.empty()) planned.job.brief.machine = machine;
    if (planned.job.hoopings.empty()) {
        auto hooped = hoopedByItself(planned.job, planned.library, cache);
        if (!hooped) return hooped.error();
        if (*hooped) {
            planned.job = std::move(**hooped);
        } else if (!mayDivide) {
            return hoopedOrReason(planned.job, planned.library, cache).error();
        } else if (const Status divided = divideNow(planned, cache); !divided) {
            return divided;
        }
    }
    if (planned.job.hoopings.empty()) return cannotDo("the job has no stitches");
    auto lists = hoopingLists(planned.job, planned.library, &cache);
    if (lists)
        lists =
            correctedLists(planned.job, std::move(*lists), planned.library, Corrected::ifChosen);
    if (!lists) return lists.error();
    planned.lists = std::move(*lists);
    return done();
}

} // namespace

Result<Job> jobToChange(const std::string& path) {
    auto job = readJobFile(path);
    if (!job || std::none_of(job->hoopings.begin(), job->hoopings.end(),
                             [](const Hooping& h) { return h.sewn > 0; }))
        return job;
    const auto lib = library();
    if (!lib) return lib.error();
    StitchCache cache;
    job = withSewnListsKept(std::move(*job), *lib, cache);
    if (!job) return job.error().inside(path);
    return job;
}

Status writeChanged(const std::string& out, const Job& before, const Job& after,
                    const std::string& path) {
    if (const auto error = changesSewn(before, after)) return error->inside(path);
    return writeJobFile(out, after);
}

Result<Planned> plannedJob(const std::string& path, const std::string& machine, bool mayDivide) {
    auto job = readJobFile(path);
    if (!job) return job.error();
    auto lib = library();
    if (!lib) return lib.error();
    Planned planned;
    planned.job = std::move(*job);
    planned.library = std::move(*lib);
    const Status filled = fillIn(planned, machine, mayDivide);
    if (!filled) return filled.error().inside(path);
    return planned;
}

Status hasHooping(const Planned& planned, int hooping, const std::string& path) {
    const auto count = static_cast<int>(planned.lists.size());
    if (hooping >= 1 && hooping <= count) return done();
    return cannotDo(fmt::format("there is no hooping {}; the job has {}", hooping, count), {},
                    path);
}

} // namespace rapt::cli
