// relieve and order: what can be done about thread that piles up, and about needless changes.

#include "cli/output.h"
#include "cli/planned.h"
#include "cli/run.h"

#include "job/edit_weigh.h"
#include "job/sewn_lock.h"
#include "load/load_map.h"
#include "sequence/job_order.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

struct RelieveArguments {
    std::string path;
    std::optional<double> tuckMm;
    double coverLayers = Relief{}.coverLayers;
    std::string out;
};

Outcome relieve(const RelieveArguments& a) {
    const Result<Job> job = jobToChange(a.path);
    if (!job) return job.error();
    Relief relief;
    relief.coverLayers = a.coverLayers;
    if (a.tuckMm) {
        relief.tuckMm = *a.tuckMm;
    } else {
        const Result<Library> lib = library();
        if (!lib) return lib.error();
        const Result<Fabric> fabric = lib->fabric(job->brief.fabric);
        if (!fabric) return Error{fabric.error()}.inside(a.path);
        relief.tuckMm = fabric->tuckMm;
    }
    Job whole = *job;
    for (Piece& p : whole.pieces) p.relief.reset();
    std::vector<std::string> ids = idsOf(*job);
    const std::set<std::string> sewn = sewnPieces(*job);
    std::erase_if(ids, [&](const std::string& id) { return sewn.contains(id); });
    const Job relieved = setRelief(ids, relief).change(*job);
    StitchCache cache;
    const auto before = stitchJob(whole, &cache), after = stitchJob(relieved, &cache);
    if (!before) return Error{before.error()}.inside(a.path);
    if (!after) return Error{after.error()}.inside(a.path);
    const auto mapBefore = LoadMap::measure(before->list), mapAfter = LoadMap::measure(after->list);
    if (!mapBefore) return Error{mapBefore.error()}.inside(a.path);
    if (!mapAfter) return Error{mapAfter.error()}.inside(a.path);
    Answer answer;
    nlohmann::ordered_json pieces = nlohmann::ordered_json::array();
    std::size_t removed = 0;
    for (const Piece& p : job->pieces) {
        const std::size_t was = stitchesOfPiece(*before, p.id), is = stitchesOfPiece(*after, p.id);
        const std::size_t gone = was > is ? was - is : 0;
        removed += gone;
        pieces.push_back({{"id", p.id}, {"removed", gone}});
    }
    const Status written = writeChanged(a.out, *job, relieved, a.path);
    if (!written) return written.error();
    answer.json = {{"removed_stitches", removed},
                   {"peak_layers_before", mapBefore->summary().peakLayers},
                   {"peak_layers_after", mapAfter->summary().peakLayers},
                   {"tuck_mm", relief.tuckMm},
                   {"pieces", pieces}};
    answer.text =
        fmt::format("{} stitches left out below later pieces, peak {:.2f} → {:.2f} layers; "
                    "the pieces stay linked and can be made whole again\n",
                    removed, mapBefore->summary().peakLayers, mapAfter->summary().peakLayers);
    return answer;
}

struct OrderArguments {
    std::string path;
    JobOrderOptions options;
    bool whole = false;
    std::string out;
};

Outcome order(const OrderArguments& a) {
    const Result<Job> job = jobToChange(a.path);
    if (!job) return job.error();
    JobOrderOptions options = a.options;
    options.split = !a.whole;
    const auto ordered = orderJob(*job, options);
    if (!ordered) return Error{ordered.error()}.inside(a.path);
    const Status written = writeChanged(a.out, *job, ordered->job, a.path);
    if (!written) return written.error();
    Answer answer;
    answer.json = {{"thread_changes_before", ordered->changesBefore},
                   {"thread_changes_after", ordered->changesAfter},
                   {"lower_bound", ordered->lowerBound},
                   {"travel_before_mm", ordered->travelBeforeMm},
                   {"travel_after_mm", ordered->travelAfterMm},
                   {"split", ordered->split}};
    answer.text = fmt::format("{} → {} thread changes ({}), {:.0f} → {:.0f} mm of travel\n",
                              ordered->changesBefore, ordered->changesAfter,
                              ordered->changesAfter == ordered->lowerBound
                                  ? "proved fewest"
                                  : fmt::format("at least {} are needed", ordered->lowerBound),
                              ordered->travelBeforeMm, ordered->travelAfterMm);
    return answer;
}

} // namespace

void addWeighVerbs(Run& run) {
    auto r = std::make_shared<RelieveArguments>();
    CLI::App* verb = run.addVerb("relieve", "Leave out stitching that later pieces hide",
                                 [r] { return relieve(*r); });
    verb->add_option("JOB", r->path, "job")->required();
    verb->add_option("--tuck", r->tuckMm, "mm that stay below the edge (by default the fabric's)")
        ->check(CLI::Range(0.0, 10.0));
    verb->add_option("--cover", r->coverLayers, "layers from which a cover hides")
        ->check(CLI::Range(0.1, 10.0));
    verb->add_option("-o", r->out, "job to write")->required();

    auto o = std::make_shared<OrderArguments>();
    verb = run.addVerb("order", "Fewest thread changes, then shortest travel",
                       [o] { return order(*o); });
    verb->add_option("JOB", o->path, "job")->required();
    verb->add_option("--trim-over", o->options.trimOverMm, "moves longer than this get a trim, mm")
        ->check(CLI::Range(0.0, 1000.0));
    verb->add_flag("--whole", o->whole, "never take a piece apart by thread");
    verb->add_option("-o", o->out, "job to write")->required();
}

} // namespace rapt::cli
