// info, load, resize: questions about one design (load also about a job).

#include "cli/output.h"
#include "cli/planned.h"
#include "cli/run.h"

#include "base/file_io.h"
#include "check/check.h"
#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "job/groups.h"
#include "job/stitching.h"
#include "load/map_picture.h"
#include "load/remedies.h"
#include "place/sizing.h"
#include "respace/respace.h"
#include "thread/resize.h"

#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <memory>
#include <set>

namespace rapt::cli {
namespace {

Outcome info(const std::string& path) {
    const Result<StitchList> list = readStitchFile(path);
    if (!list) return list.error();
    const Measures m = measure(*list);
    Answer answer;
    answer.json["name"] = list->name;
    addMeasures(answer.json, m);
    answer.text = measuresText(list->name.empty() ? path : list->name, m);
    return answer;
}

struct LoadArguments {
    std::string path;
    std::string fabric;
    std::string map;
    bool remedies = false;
};

/// A job, or a job made of the one design; the fabric asked for replaces the brief's.
Result<Job> jobToWeigh(const LoadArguments& a) {
    Result<DesignOrJob> input = readDesignOrJob(a.path);
    if (!input) return input.error();
    Job job =
        input->job ? std::move(*input->job) : jobOfDesign(*input->design, "design.stitch.csv");
    if (!a.fabric.empty()) job.brief.fabric = a.fabric;
    return job;
}

nlohmann::ordered_json limitsJson(const Fabric& f) {
    return {{"max_layers", f.maxLayers}, {"max_hits_per_mm2", f.maxHits}, {"source", f.source}};
}

Outcome load(const LoadArguments& a) {
    const Result<Job> job = jobToWeigh(a);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    const Result<Fabric> fabric = lib->fabric(job->brief.fabric);
    if (!fabric) return fabric.error();
    const Result<StitchedJob> stitched = stitchJob(*job);
    if (!stitched) return stitched.error().inside(a.path);
    const Result<LoadMap> map = LoadMap::measure(stitched->list);
    if (!map) return map.error().inside(a.path);
    const Measures m = measure(stitched->list);
    const auto facts = pieceFacts(*job, *stitched, *map);
    const WeighedJob weighed{*job, *stitched, *map, facts, *fabric};
    auto findings = loadFindings(weighed);
    std::stable_sort(findings.begin(), findings.end(), worseThan);
    StitchCache cache;
    if (a.remedies) findRemedies(weighed, findings, cache, judgeWith(*fabric));
    if (!a.map.empty()) {
        const auto png =
            encodePng(loadPicture(*map, LoadKind::layers, limitsOf(*fabric, job->cloth)));
        if (!png) return png.error();
        const Status written = writeWholeFile(a.map, *png);
        if (!written) return written.error();
    }
    const LoadSummary& s = map->summary();
    Answer answer;
    answer.json = {{"cell_mm", cellMm},
                   {"window_mm", windowMm},
                   {"peak_layers", s.peakLayers},
                   {"peak_layers_at", pointJson(s.peakLayersAt)},
                   {"mean_layers", s.meanLayers},
                   {"peak_hits_per_mm2", s.peakHits},
                   {"peak_hits_at", pointJson(s.peakHitsAt)},
                   {"short_stitches", m.shortStitches},
                   {"long_stitches", m.longStitches},
                   {"fabric", fabric->id},
                   {"limits", limitsJson(*fabric)},
                   {"findings", findingsJson(findings)}};
    answer.text =
        fmt::format(
            "{} on {}: peak {:.2f} layers (takes {:.1f}), mean {:.2f}, peak {:.1f} hits per "
            "mm² (takes {:.1f}), {} short and {} long stitches\n",
            job->name, fabric->name, s.peakLayers, fabric->maxLayers, s.meanLayers, s.peakHits,
            fabric->maxHits, m.shortStitches, m.longStitches) +
        findingsText(findings);
    return answer;
}

struct ResizeArguments {
    std::string path;
    ResizeRequest request;
    std::string keep = "spacing";
    std::optional<double> spacing;
    double sharePercent = 100;
    std::optional<std::string> group;
    std::string out;

    bool ofJob() const { return path.ends_with(".rapt"); }
};

nlohmann::ordered_json stretchesJson(const RespaceReport& r) {
    nlohmann::ordered_json at = nlohmann::ordered_json::array();
    for (const Vec2& p : r.unknownAt) at.push_back(pointJson(p));
    return {{"satins", r.satins},
            {"fills", r.fills},
            {"runs", r.runs},
            {"ties", r.ties},
            {"underlays", r.underlays},
            {"unrecognised", r.unknown},
            {"unrecognised_stitches", r.unknownStitches},
            {"unrecognised_at", at}};
}

Result<Respaced> keptStitches(const StitchList& list, ScaleFactors factors) {
    Result<StitchList> moved = resizeKeepingStitches(list, factors);
    if (!moved) return moved.error();
    return Respaced{tracedWhole(std::move(*moved)), surveyStretches(list)};
}

Outcome resizeAnswer(const StitchList& before, const Respaced& resized, ScaleFactors f) {
    const StitchList& after = resized.list;
    const auto mapBefore = LoadMap::measure(before);
    const auto mapAfter = LoadMap::measure(after);
    if (!mapBefore) return mapBefore.error();
    if (!mapAfter) return mapAfter.error();
    const Measures a = measure(before);
    const Measures b = measure(after);
    Answer answer;
    answer.json = {{"scale", {f.x, f.y}},
                   {"stitches_before", a.stitches},
                   {"stitches_after", b.stitches},
                   {"row_spacing_before_mm", orNull(medianRowSpacing(before))},
                   {"row_spacing_after_mm", orNull(medianRowSpacing(after))},
                   {"peak_layers_before", mapBefore->summary().peakLayers},
                   {"peak_layers_after", mapAfter->summary().peakLayers},
                   {"extents_mm", boxJson(b.extents)},
                   {"stretches", stretchesJson(resized.report)}};
    answer.text = fmt::format(
        "{:.1f} × {:.1f} mm became {:.1f} × {:.1f} mm; {} stitches, peak {:.2f} → {:.2f} layers\n",
        a.extents.width(), a.extents.height(), b.extents.width(), b.extents.height(), b.stitches,
        mapBefore->summary().peakLayers, mapAfter->summary().peakLayers);
    if (resized.report.unknown > 0)
        answer.text += fmt::format("{} stitches were not recognised and scaled as they are\n",
                                   resized.report.unknownStitches);
    return answer;
}

/// All pieces of a job, or those of a group, sized as one.
Outcome resizeJob(const ResizeArguments& a, const Job& job) {
    std::vector<std::string> ids;
    if (a.group) {
        const auto group = findGroup(job, *a.group);
        if (!group) return group.error().inside(a.path);
        ids = piecesIn(job, *group);
    } else {
        for (const Piece& p : job.pieces) ids.push_back(p.id);
    }
    if (ids.empty()) return cannotDo("the job has no pieces", {}, a.path);
    const auto sized = sizedAsOne(job, ids, a.request);
    if (!sized) return sized.error().inside(a.path);
    const Status written = writeChanged(a.out, job, sized->edit.change(job), a.path);
    if (!written) return written.error();
    Answer answer;
    answer.json = {{"scale", sized->factor},
                   {"extents_before_mm", boxJson(sized->before)},
                   {"extents_after_mm", boxJson(sized->after)},
                   {"pieces", ids.size()}};
    answer.text = fmt::format("{} pieces, {:.2f} × {:.2f} mm became {:.2f} × {:.2f} mm\n",
                              ids.size(), sized->before.width(), sized->before.height(),
                              sized->after.width(), sized->after.height());
    return answer;
}

Outcome resize(const ResizeArguments& a) {
    Result<DesignOrJob> input = readDesignOrJob(a.path);
    if (!input) return input.error();
    if (input->job) return resizeJob(a, *input->job);
    const StitchList* list = &*input->design;
    const auto factors = scaleFactors(a.request, extentsOf(*list));
    if (!factors) return Error{factors.error()}.inside(a.path);
    const bool afresh = a.keep == "spacing" || a.spacing;
    RespaceOptions options;
    options.spacingMm = a.spacing;
    options.spacingShare = a.sharePercent / 100;
    if (a.keep == "stitches") options.spacingShare = 0;
    const Result<Respaced> resized =
        afresh ? respace(*list, *factors, options) : keptStitches(*list, *factors);
    if (!resized) return resized.error().inside(a.path);
    Outcome answer = resizeAnswer(*list, *resized, *factors);
    if (!answer) return answer;
    const Status written = writeWholeFile(a.out, formatStitchCsv(resized->list));
    if (!written) return written.error();
    return answer;
}

} // namespace

void addDesignVerbs(Run& run) {
    auto path = std::make_shared<std::string>();
    run.addVerb("info", "What a design holds: stitches, threads, size",
                [path] { return info(*path); })
        ->add_option("DESIGN", *path, "stitch list")
        ->required();

    auto weigh = std::make_shared<LoadArguments>();
    CLI::App* verb = run.addVerb("load", "Thread load against what the fabric takes",
                                 [weigh] { return load(*weigh); });
    verb->add_option("DESIGN|JOB", weigh->path, "stitch list or job")->required();
    verb->add_option("--fabric", weigh->fabric, "fabric id (by default the job's)");
    verb->add_option("--map", weigh->map, "write the map as a PNG picture");
    verb->add_flag("--remedies", weigh->remedies, "look for what can be done about each finding");

    auto r = std::make_shared<ResizeArguments>();
    verb = run.addVerb("resize", "A design, a job or a group of it at another size",
                       [r] { return resize(*r); });
    verb->add_option("DESIGN|JOB", r->path, "stitch list, or a job (.rapt)")->required();
    verb->add_option("--group", r->group, "of a job: only the pieces of that group");
    verb->add_option("--scale", r->request.scale, "factor for both sides");
    verb->add_option("--width", r->request.widthMm, "new width in mm");
    verb->add_option("--height", r->request.heightMm, "new height in mm");
    const std::vector<CLI::Option*> ofDesigns{
        verb->add_flag("--free", r->request.free, "let the proportion change"),
        verb->add_option("--keep", r->keep, "spacing or stitches")
            ->check(CLI::IsMember({"spacing", "stitches"})),
        verb->add_option("--spacing", r->spacing, "new row spacing in mm"),
        verb->add_option("--share", r->sharePercent, "percent of the spacing that is kept")
            ->check(CLI::Range(0.0, 100.0))};
    verb->add_option("-o", r->out, "stitch list or job to write")->required();
    verb->parse_complete_callback([r, ofDesigns] {
        if (!r->ofJob() && r->group)
            throw CLI::ValidationError("--group", "names a group of a job; a design has none");
        for (const CLI::Option* option : ofDesigns)
            if (r->ofJob() && option->count() > 0)
                throw CLI::ValidationError(option->get_name(),
                                           "is for designs; the pieces of a job are sized as one, "
                                           "each by its own way of keeping");
    });
}

} // namespace rapt::cli
