// divide, export, sewn: hoopings, their lists, and what of them is done.

#include "cli/output.h"
#include "cli/planned.h"
#include "cli/run.h"

#include "divide/hooping_lists.h"
#include "divide/near_miss.h"
#include "divide/self_hooping.h"
#include "divide/sewn_hoopings.h"
#include "formats/job_file.h"
#include "job/edit.h"
#include "job/hooping_name.h"
#include "registration/correction.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

struct DivideArguments {
    std::string path;
    std::vector<std::string> hoops;
    std::string method = "datum";
    std::string out;
    double margin = 0, seconds = 6;
    std::optional<double> sigma;
    int most = 0;
    bool whole = false, straight = false, nearMisses = false;
};

ordered_json poseJson(const Pose& pose) {
    return {{"x", pose.x},
            {"y", pose.y},
            {"rotation_deg", pose.rotationDeg},
            {"mirror", false},
            {"scale", {1, 1}}};
}

ordered_json marksJson(const std::vector<Mark>& marks) {
    ordered_json list = ordered_json::array();
    for (const Mark& m : marks) list.push_back({{"name", m.name}, {"x", m.at.x}, {"y", m.at.y}});
    return list;
}

ordered_json hoopingJson(const Hooping& h, const HoopingList& list, std::size_t index) {
    ordered_json parts = ordered_json::array();
    for (const PieceParts& p : h.parts)
        parts.push_back({{"piece", p.piece}, {"numbers", p.numbers}});
    return {{"index", index},
            {"hoop", h.hoop},
            {"clamping", h.clamping},
            {"position", h.position},
            {"pose", poseJson(h.pose)},
            {"frame_pose", poseJson(h.frame)},
            {"pieces", h.pieces},
            {"parts", parts},
            {"stitches", list.stitches},
            {"extents_mm", boxJson(list.extents)},
            {"marks", marksJson(h.marks)}};
}

Result<DivideOptions> optionsOf(const DivideArguments& a, const Job& job, const Library& lib) {
    DivideOptions options;
    const auto hoops = hoopsFor(job, a.hoops, lib);
    if (!hoops) return hoops.error();
    options.hoops = *hoops;
    options.method = a.method == "chain"  ? Method::chain
                     : a.method == "turn" ? Method::turn
                                          : Method::datum;
    if (!(a.margin >= 0 && a.margin < 500)) return cannotDo("--margin must be 0 to 500 mm");
    if (a.sigma && !(*a.sigma > 0 && *a.sigma < 100))
        return cannotDo("--sigma must be over 0 and under 100 mm");
    if (!(a.seconds > 0)) return cannotDo("--seconds must be over 0");
    options.marginMm = a.margin;
    options.placingSigmaMm = a.sigma;
    options.seconds = a.seconds;
    options.mostHoopings = a.most;
    options.mayPart = !a.whole;
    options.mayCut = !a.whole;
    options.straightCuts = a.straight;
    return options;
}

std::string counted(std::size_t n, const char* what) {
    return fmt::format("{} {}{}", n, what, n == 1 ? "" : "s");
}

std::string divisionText(const Division& d) {
    std::string text =
        fmt::format("{}, the cloth is hooped {} ({}), joins predicted to {:.2f} mm RMS\n",
                    counted(d.hoopings.size(), "hooping"), timesText(d.clampings),
                    d.provenMinimal ? "no plan needs fewer"
                                    : fmt::format("it takes at least {} hoopings, {}", d.lowerBound,
                                                  timesText(d.lowerBoundClampings)),
                    d.predictedJoinRmsMm);
    for (std::size_t i = 0; i < d.hoopings.size(); ++i) {
        const Hooping& h = d.hoopings[i];
        text += fmt::format(
            "  {}  {}position {}  {}  centre x {:.1f}, y {:.1f} mm, "
            "turned {:g}°, {}{}\n",
            i + 1, i > 0 && h.clamping == d.hoopings[i - 1].clamping ? "not hooped anew, " : "",
            h.position, h.hoop, h.pose.x, h.pose.y, h.pose.rotationDeg,
            counted(h.pieces.size(), "piece"), h.parts.empty() ? "" : ", some in parts");
    }
    for (const Cut& c : d.cuts) text += fmt::format("  {} is cut\n", c.piece);
    return text;
}

Outcome divide(const DivideArguments& a) {
    const Result<Job> job = jobToChange(a.path);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    const auto options = optionsOf(a, *job, *lib);
    if (!options) return options.error().inside(a.path);
    StitchCache cache;
    const auto division = divideIntoHoopings(*job, cache, *options, *lib);
    if (!division) return division.error().inside(a.path);
    const Job planned =
        setHoopings(division->hoopings, division->predictedJoinRmsMm, division->cuts).change(*job);
    Answer answer;
    ordered_json list = ordered_json::array();
    if (!planned.hoopings.empty()) {
        const auto lists = hoopingLists(planned, *lib, &cache);
        if (!lists) return lists.error().inside(a.path);
        for (std::size_t i = 0; i < lists->size(); ++i)
            list.push_back(hoopingJson(planned.hoopings[i], (*lists)[i], i + 1));
    }
    const Status written = writeChanged(a.out, *job, planned, a.path);
    if (!written) return written.error();
    answer.json = {{"hoopings", list},
                   {"clampings", division->clampings},
                   {"lower_bound", division->lowerBound},
                   {"lower_bound_clampings", division->lowerBoundClampings},
                   {"proven_minimal", division->provenMinimal},
                   {"cut_pieces", division->cutPieces()},
                   {"predicted_join_rms_mm", division->predictedJoinRmsMm}};
    answer.text = divisionText(*division);
    if (!a.nearMisses) return answer;
    answer.json["near_misses"] = ordered_json::array();
    for (const NearMiss& m : nearMisses(*job, cache, *options, *lib, *division)) {
        answer.json["near_misses"].push_back({{"text", m.text}, {"clampings", m.clampings}});
        answer.text += m.text + "\n";
    }
    return answer;
}

struct ExportArguments {
    std::string path, folder;
    bool corrected = false, open = false;
};

Outcome exportAll(const ExportArguments& a) {
    const auto& [path, folder, corrected, open] = a;
    Result<Job> job = readJobFile(path);
    if (!job) return job.error();
    const Result<Library> lib = library();
    if (!lib) return lib.error();
    StitchCache cache;
    if (job->hoopings.empty()) {
        job = hoopedOrReason(*job, *lib, cache);
        if (!job) return job.error().inside(path);
    }
    auto lists = hoopingLists(*job, *lib, &cache);
    if (lists && corrected) lists = correctedLists(*job, std::move(*lists), *lib);
    if (!lists) return lists.error().inside(path);
    if (open) lists = openLists(*job, std::move(*lists));
    const auto names = exportHoopings(*job, *lists, folder);
    if (!names) return names.error();
    Answer answer;
    answer.json["files"] = *names;
    auto name = names->begin();
    for (std::size_t i = 0; i < lists->size(); ++i) {
        if ((*lists)[i].stitches == 0) continue;
        const bool moved =
            corrected &&
            appliedCorrection(*job, static_cast<int>(i) + 1).isSewn(Corrected::unlessRefused);
        answer.text += fmt::format("{}  {} stitches{}\n", *name++, (*lists)[i].stitches,
                                   moved ? ", corrected" : "");
    }
    return answer;
}

struct SewnArguments {
    std::string path, out;
    int hooping = 1;
    std::size_t stitches = 0; ///< 0: all of them
    bool notSewn = false;
};

Outcome sewn(const SewnArguments& a) {
    const auto planned = plannedJob(a.path, {}, false);
    if (!planned) return planned.error();
    if (const Status there = hasHooping(*planned, a.hooping, a.path); !there) return there.error();
    StitchCache cache;
    const auto lists = hoopingLists(planned->job, planned->library, &cache);
    if (!lists) return lists.error().inside(a.path);
    const HoopingList& list = (*lists)[static_cast<std::size_t>(a.hooping - 1)];
    if (a.stitches > list.stitches)
        return cannotDo(fmt::format("hooping {} has {} stitches", a.hooping, list.stitches), {},
                        a.path);
    const std::size_t upTo = a.notSewn ? 0 : a.stitches > 0 ? a.stitches : allSewn;
    const Job marked = markSewn(a.hooping, upTo, list).change(planned->job);
    const Status written = writeJobFile(a.out, marked);
    if (!written) return written.error();
    const std::size_t done = std::min(upTo, list.stitches);
    Answer answer;
    answer.json = {{"hooping", a.hooping}, {"stitches", list.stitches}, {"sewn", done}};
    answer.text = fmt::format("hooping {}: {} of {} stitches are sewn and stay\n", a.hooping, done,
                              list.stitches);
    return answer;
}

} // namespace

void addHoopingVerbs(Run& run) {
    auto d = std::make_shared<DivideArguments>();
    CLI::App* verb =
        run.addVerb("divide", "Hoopings in the order they are sewn", [d] { return divide(*d); });
    verb->add_option("JOB", d->path, "job")->required();
    verb->add_option("--hoop", d->hoops, "hoop id; may be given more than once")
        ->expected(1)
        ->take_all();
    verb->add_option("--method", d->method, "datum, chain or turn")
        ->check(CLI::IsMember({"datum", "chain", "turn"}));
    verb->add_option("--margin", d->margin, "kept free along the field's edge, mm");
    verb->add_option("--most", d->most, "most hoopings that are allowed");
    verb->add_option("--seconds", d->seconds, "time for the search (6)");
    verb->add_option("--sigma", d->sigma,
                     "placing noise of a mark per axis in mm (0.3, or what was learnt)");
    verb->add_flag("--whole", d->whole, "neither part nor cut any piece");
    verb->add_flag("--near-misses", d->nearMisses, "look for small changes that save hooping once");
    verb->add_flag("--straight", d->straight, "straight cuts where something must be cut");
    verb->add_option("-o", d->out, "job to write")->required();

    auto e = std::make_shared<ExportArguments>();
    verb = run.addVerb("export", "One stitch list a hooping", [e] { return exportAll(*e); });
    verb->add_option("JOB", e->path, "job with hoopings")->required();
    verb->add_flag("--corrected", e->corrected,
                   "registered hoopings moved and turned by their fit");
    verb->add_flag("--open", e->open, "only what is not sewn yet");
    verb->add_option("-o", e->folder, "folder to write to")->required();

    auto s = std::make_shared<SewnArguments>();
    verb = run.addVerb("sewn", "Says that a hooping is sewn: it stays as it is from then on",
                       [s] { return sewn(*s); });
    verb->add_option("JOB", s->path, "job with hoopings")->required();
    verb->add_option("--hooping", s->hooping, "which, from 1")->required();
    verb->add_option("--stitches", s->stitches, "so many, from the first (all)");
    verb->add_flag("--not", s->notSewn, "it is not sewn after all");
    verb->add_option("-o", s->out, "job to write")->required();
}

} // namespace rapt::cli
