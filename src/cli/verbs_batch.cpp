// batch, border: many items of one layout, a motif repeated to an exact length.

#include "cli/output.h"
#include "cli/run.h"

#include "border/border.h"
#include "divide/batch.h"
#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "thread/measures.h"

#include <filesystem>
#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

struct BatchArguments {
    std::string path;
    BatchRequest request;
    std::vector<std::string> hoops;
};

Outcome batch(const BatchArguments& a) {
    const Result<Job> job = readJobFile(a.path);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    std::vector<Hoop> hoops = lib->hoops;
    if (!a.hoops.empty() || !job->brief.hoops.empty()) {
        const auto some = hoopsFor(*job, a.hoops, *lib);
        if (!some) return some.error().inside(a.path);
        hoops = *some;
    }
    const auto offers = planBatch(*job, hoops, *lib, a.request);
    if (!offers) return offers.error().inside(a.path);
    Answer answer;
    ordered_json list = ordered_json::array();
    for (const BatchOffer& o : *offers) {
        list.push_back(
            {{"hoop", o.hoop},
             {"per_clamping", o.perClamping()},
             {"clampings", o.clampings},
             {"left_over", o.leftOver},
             {"stabilizer_cm2", o.stabilizerCm2},
             {"seconds", o.seconds},
             {"last_in", o.lastIn.empty() ? ordered_json(nullptr) : ordered_json(o.lastIn)},
             {"last_saves_cm2", o.lastSavesCm2}});
        answer.text += fmt::format(
            "{:<20} {:>3} at once, hooped {:>3} ×, {} left over, {:.0f} cm² "
            "of stabilizer, {:.0f} min{}\n",
            o.hoop, o.perClamping(), o.clampings, o.leftOver, o.stabilizerCm2, o.seconds / 60,
            o.lastIn.empty() ? std::string()
                             : fmt::format("; the last one in {} saves {:.0f} "
                                           "cm²",
                                           o.lastIn, o.lastSavesCm2));
    }
    answer.json["hoops"] = list;
    return answer;
}

struct BorderArguments {
    std::string path;
    BorderRequest request;
    std::string corner = "block";
    std::string out;
};

Result<StitchList> motifOf(const std::string& path) {
    auto read = readDesignOrJob(path);
    if (!read) return read.error();
    if (read->design) return std::move(*read->design);
    auto stitched = stitchJob(*read->job);
    if (!stitched) return stitched.error().inside(path);
    return std::move(stitched->list);
}

Outcome border(BorderArguments a) {
    a.request.corner = a.corner == "open" ? BorderCorner::open : BorderCorner::block;
    const auto motif = motifOf(a.path);
    if (!motif) return motif.error();
    const auto plan = planBorder(extentsOf(*motif), a.request);
    if (!plan) return plan.error().inside(a.path);
    const auto job = borderJob(*motif, "designs/motif.stitch.csv", a.request);
    if (!job) return job.error().inside(a.path);
    const Status written = writeJobFile(a.out, *job);
    if (!written) return written.error();
    const bool frame = a.request.heightMm.has_value();
    const auto second = [frame](auto value) {
        return frame ? ordered_json(value) : ordered_json(nullptr);
    };
    Answer answer;
    answer.json["repeats"] = {ordered_json(plan->along), second(plan->down)};
    answer.json["unit_mm"] = {ordered_json(plan->alongMm), second(plan->downMm)};
    answer.json["scale"] = {ordered_json(plan->scaleAlong), second(plan->scaleDown),
                            ordered_json(plan->scaleAcross)};
    answer.text =
        frame
            ? fmt::format("{} motifs of {:.2f} mm on a long side, {} of {:.2f} mm on a high one\n",
                          plan->along, plan->alongMm, plan->down, plan->downMm)
            : fmt::format("{} motifs of {:.2f} mm\n", plan->along, plan->alongMm);
    return answer;
}

} // namespace

void addBatchVerbs(Run& run) {
    auto b = std::make_shared<BatchArguments>();
    CLI::App* verb =
        run.addVerb("batch", "How many items fit each frame at once", [b] { return batch(*b); });
    verb->add_option("JOB", b->path, "job: the layout of one item")->required();
    verb->add_option("--quantity", b->request.quantity, "how many items")->required();
    verb->add_option("--gap", b->request.gapMm, "between items in mm (4)");
    verb->add_option("--hoop", b->hoops, "hoop id; may be given more than once")
        ->expected(1)
        ->take_all();

    auto r = std::make_shared<BorderArguments>();
    verb = run.addVerb("border", "A motif repeated to an exact length or round an exact size",
                       [r] { return border(*r); });
    verb->add_option("MOTIF", r->path, "stitch list (or job)")->required();
    verb->add_option("--length", r->request.lengthMm, "length, or outer width, in mm")->required();
    verb->add_option("--height", r->request.heightMm, "outer height in mm: a frame");
    verb->add_option("--strip", r->request.stripMm, "width of the strip in mm")->required();
    verb->add_option("--corner", r->corner, "block or open")
        ->check(CLI::IsMember({"block", "open"}));
    verb->add_option("-o", r->out, "job to write")->required();
}

} // namespace rapt::cli
