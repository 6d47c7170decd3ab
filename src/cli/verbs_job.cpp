// stitch, check, template, demo: a whole job.

#include "cli/output.h"
#include "cli/run.h"

#include "base/deadline.h"
#include "base/file_io.h"
#include "base/paths.h"
#include "check/check.h"
#include "formats/demo_jobs.h"
#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "sheets/template_pdf.h"

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

struct TemplateArguments {
    std::string path;
    std::string out;
    std::string paper = "a4";
    bool mirror = false, outline = false, chart = false;
    double grid = 0, cut = 0;
};

Outcome makeTemplateFile(const TemplateArguments& a) {
    const Result<DesignOrJob> input = readDesignOrJob(a.path);
    if (!input) return input.error();
    TemplateContent content;
    StitchList stitches;
    if (input->job) {
        Result<StitchedJob> stitched = stitchJob(*input->job);
        if (!stitched) return stitched.error().inside(a.path);
        stitches = std::move(stitched->list);
        const Result<Library> lib = library();
        if (!lib) return lib.error();
        content = templateOf(*input->job, stitches, *lib);
    } else {
        stitches = *input->design;
        content.title = stitches.name.empty() ? "Design" : stitches.name;
        content.stitches = &stitches;
    }
    const TemplateOptions options{a.mirror,
                                  a.paper == "letter" ? Paper::letter : Paper::a4,
                                  dataFolder() + "/faces",
                                  a.outline ? TemplateLook::outline : TemplateLook::thread,
                                  a.grid,
                                  a.cut,
                                  a.chart};
    const auto document = makeTemplate(content, options);
    if (!document) {
        const Error& e = document.error();
        return e.file.empty() ? e.inside(a.path) : e;
    }
    const Status written = writeWholeFile(a.out, document->pdf);
    if (!written) return written.error();
    Answer answer;
    answer.json["pages"] = document->pages;
    answer.text = fmt::format("{}: {} page{} at true scale\n", a.out, document->pages,
                              document->pages == 1 ? "" : "s");
    return answer;
}

Outcome demo(const std::string& folder) {
    const auto jobs = writeDemoJobs(dataFolder() + "/demo", folder);
    if (!jobs) return jobs.error();
    Answer answer;
    answer.json["jobs"] = *jobs;
    for (const std::string& name : *jobs) answer.text += name + "\n";
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

    auto t = std::make_shared<TemplateArguments>();
    verb = run.addVerb("template", "A true-scale template as PDF",
                       [t] { return makeTemplateFile(*t); });
    verb->add_option("DESIGN|JOB", t->path, "stitch list or job")->required();
    verb->add_option("-o", t->out, "PDF to write")->required();
    verb->add_flag("--mirror", t->mirror, "left and right change places");
    verb->add_flag("--outline", t->outline, "the line round the stitching instead of its thread");
    verb->add_flag("--chart", t->chart, "a page of all threads with their swatches");
    verb->add_option("--grid", t->grid, "lines at this distance, mm")
        ->check(CLI::Range(1.0, 500.0));
    verb->add_option("--cut", t->cut, "a line to cut along, so far from the stitching, mm")
        ->check(CLI::Range(0.5, 100.0));
    verb->add_option("--paper", t->paper, "a4 or letter")->check(CLI::IsMember({"a4", "letter"}));

    verb = run.addVerb("demo", "Writes the demo jobs", [out] { return demo(*out); });
    verb->add_option("-o", *out, "folder to write to")->required();
}

} // namespace rapt::cli
