// stitch, check, demo: a whole job.

#include "cli/output.h"
#include "cli/run.h"

#include "base/deadline.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "check/check.h"
#include "formats/demo_jobs.h"
#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "record/record_csv.h"
#include "standins/year_of_records.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

Outcome stitch(const std::string& path, const std::string& out) {
    const Result<Job> job = readJobFile(path);
    if (!job) return job.error();
    const Result<StitchedJob> stitched = stitchJob(*job);
    if (!stitched) return stitched.error().inside(path);
    const Status written = writeWholeFile(out, formatStitchCsv(stitched->list));
    if (!written) return written.error();
    const Measures m = measure(stitched->list);
    Answer answer;
    answer.json["name"] = job->name;
    addMeasures(answer.json, m);
    answer.text = measuresText(job->name, m);
    return answer;
}

Outcome check(const std::string& path, double seconds) {
    const Result<Job> job = readJobFile(path);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    StitchCache cache;
    Result<CheckedJob> checked = checkJob(*job, *lib, &cache);
    if (!checked) return checked.error().inside(path);
    const Deadline deadline(seconds);
    const Status sought = findRemedies(*checked, *job, *lib, cache, deadline.token());
    if (!sought) return sought.error().inside(path);
    Answer answer;
    answer.json["findings"] = findingsJson(checked->findings);
    answer.text = findingsText(checked->findings);
    answer.openStop = anyStop(checked->findings);
    return answer;
}

constexpr std::size_t recordsOfTheYear = 320;

Outcome demo(const std::string& folder) {
    const auto jobs = writeDemoJobs(dataFolder() + "/demo", folder);
    if (!jobs) return jobs.error();
    const auto lib = library();
    if (!lib) return lib.error();
    const std::string year = "year-of-records.csv";
    const Status written = writeWholeFile(
        folder + "/" + year,
        formatRecordsCsv(standins::yearOfRecords("2026-11-27", recordsOfTheYear, 2026, *lib)));
    if (!written) return written.error();
    Answer answer;
    answer.json["jobs"] = *jobs;
    answer.json["records"] = year;
    for (const std::string& name : *jobs) answer.text += name + "\n";
    answer.text += year + "\n";
    return answer;
}

} // namespace

void addJobVerbs(Run& run) {
    auto in = std::make_shared<std::string>();
    auto out = std::make_shared<std::string>();
    CLI::App* verb = run.addVerb("stitch", "The whole job as one stitch list in the cloth frame",
                                 [in, out] { return stitch(*in, *out); });
    verb->add_option("JOB", *in, "job")->required();
    verb->add_option("-o", *out, "stitch list to write")->required();

    auto seconds = std::make_shared<double>(5);
    verb = run.addVerb("check", "Every open finding of a job",
                       [in, seconds] { return check(*in, *seconds); });
    verb->add_option("JOB", *in, "job")->required();
    verb->add_option("--seconds", *seconds, "how long remedies are looked for (5)")
        ->check(CLI::Range(0.0, 3600.0));

    verb = run.addVerb("demo", "Writes the demo jobs", [out] { return demo(*out); });
    verb->add_option("-o", *out, "folder to write to")->required();
}

} // namespace rapt::cli
