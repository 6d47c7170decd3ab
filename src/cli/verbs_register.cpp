// fit, panel: where hoopings really are, and how the machine is told.

#include "cli/output.h"
#include "cli/planned.h"
#include "cli/run.h"

#include "base/number.h"
#include "formats/observations_file.h"
#include "registration/correction.h"
#include "registration/needle_targets.h"
#include "registration/panel_steps.h"
#include "registration/points_csv.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

ordered_json residualsJson(const std::vector<PointPair>& points, const RigidFit& fit,
                           std::optional<std::size_t> left) {
    ordered_json list = ordered_json::array();
    std::size_t k = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (left && *left == i) continue;
        list.push_back(
            {{"name", points[i].name}, {"dx", fit.residuals[k].x}, {"dy", fit.residuals[k].y}});
        ++k;
    }
    return list;
}

Outcome fitCsv(const std::string& path, double sigma) {
    const auto points = readPointsFile(path);
    if (!points) return points.error();
    if (!(sigma > 0 && sigma < 100)) return cannotDo("--sigma must be over 0 and under 100 mm");
    const auto report = fitPoints(*points, sigma);
    if (!report) return report.error().inside(path);
    const RigidFit& f = report->fit;
    Answer answer;
    ordered_json& j = answer.json;
    j = {{"translation", pointJson(f.translation)},
         {"rotation_deg", f.rotationDeg},
         {"rms_mm", f.rmsMm},
         {"scale", report->scale}};
    j["square_error_deg"] =
        report->squareErrorDeg ? ordered_json(*report->squareErrorDeg) : ordered_json(nullptr);
    j["residuals"] = residualsJson(*points, f, {});
    j["suspect"] =
        report->suspect ? ordered_json((*points)[*report->suspect].name) : ordered_json(nullptr);
    j["without_suspect"] = nullptr;
    if (report->withoutSuspect) {
        const RigidFit& w = *report->withoutSuspect;
        j["without_suspect"] = {{"translation", pointJson(w.translation)},
                                {"rotation_deg", w.rotationDeg},
                                {"rms_mm", w.rmsMm},
                                {"residuals", residualsJson(*points, w, report->suspect)}};
    }
    j["verdict"] = nameOf(report->verdict);
    j["text"] = report->text;
    answer.text = report->text + "\n";
    for (std::size_t i = 0; i < points->size(); ++i)
        answer.text += fmt::format("  {:<10} {:+.3f} {:+.3f} mm\n", (*points)[i].name,
                                   f.residuals[i].x, f.residuals[i].y);
    return answer;
}

struct FitArguments {
    std::string path;
    double sigma = defaultPlacingSigmaMm;
    std::vector<std::string> at;
    std::string model = "rigid";
};

std::optional<Vec2> placeOf(const std::string& text) {
    const std::size_t comma = text.find(',');
    if (comma == std::string::npos || text.find(',', comma + 1) != std::string::npos)
        return std::nullopt;
    const auto x = parseNumber(std::string_view(text).substr(0, comma));
    const auto y = parseNumber(std::string_view(text).substr(comma + 1));
    return x && y ? std::optional(Vec2{*x, *y}) : std::nullopt;
}

ordered_json motionJson(const MotionFit& fit, const std::vector<Observation>& observations,
                        std::optional<std::size_t> left) {
    ordered_json residuals = ordered_json::array();
    for (std::size_t i = 0; i < observations.size(); ++i)
        if (left != i)
            residuals.push_back({{"name", observations[i].name},
                                 {"dx", fit.residuals[i].x},
                                 {"dy", fit.residuals[i].y}});
    return {{"translation", pointJson(fit.translation)},
            {"rotation_deg", fit.rotationDeg},
            {"rms_mm", fit.rmsMm},
            {"residuals", residuals}};
}

ordered_json covarianceJson(const MotionFit& fit) {
    ordered_json rows = ordered_json::array();
    const auto n = static_cast<std::size_t>(fit.model == MotionModel::rigid     ? 3
                                            : fit.model == MotionModel::stretch ? 5
                                                                                : 6);
    for (std::size_t i = 0; i < n; ++i) {
        rows.push_back(ordered_json::array());
        for (std::size_t k = 0; k < n; ++k) rows[i].push_back(fit.covariance[i * n + k]);
    }
    return rows;
}

Outcome fitJson(const FitArguments& a) {
    const auto observations = readObservationsFile(a.path);
    if (!observations) return observations.error();
    const MotionModel model = a.model == "stretch" ? MotionModel::stretch
                              : a.model == "skew"  ? MotionModel::skew
                                                   : MotionModel::rigid;
    const auto report = fitObservations(*observations, model);
    if (!report) return report.error().inside(a.path);
    Answer answer;
    ordered_json& j = answer.json;
    j = motionJson(report->fit, *observations, {});
    j["scale"] = orNull(report->scale);
    j["square_error_deg"] = orNull(report->squareErrorDeg);
    j["suspect"] = report->suspect ? ordered_json((*observations)[*report->suspect].name)
                                   : ordered_json(nullptr);
    j["without_suspect"] = report->withoutSuspect
                               ? motionJson(*report->withoutSuspect, *observations, report->suspect)
                               : ordered_json(nullptr);
    j["verdict"] = nameOf(report->verdict);
    j["text"] = report->text;
    j["covariance"] = covarianceJson(report->fit);
    if (model != MotionModel::rigid) j["stretch"] = {report->fit.stretchX, report->fit.stretchY};
    j["trust"] = ordered_json::array();
    answer.text = report->text + "\n";
    for (const std::string& text : a.at) {
        const Vec2 at = *placeOf(text);
        const double sigma = report->fit.sigmaAt(at);
        j["trust"].push_back({{"at", pointJson(at)}, {"sigma_mm", sigma}});
        answer.text += fmt::format("  at {:g}, {:g}: {:.2f} mm\n", at.x, at.y, sigma);
    }
    return answer;
}

Outcome fit(const FitArguments& a) {
    const bool json = a.path.size() >= 5 && a.path.ends_with(".json");
    return json ? fitJson(a) : fitCsv(a.path, a.sigma);
}

struct PanelArguments {
    std::string path, machine;
    int hooping = 1;
};

Outcome panel(const PanelArguments& a) {
    const auto planned = plannedJob(a.path, a.machine, false);
    if (!planned) return planned.error();
    if (const Status there = hasHooping(*planned, a.hooping, a.path); !there) return there.error();
    StitchCache cache;
    const auto lists = hoopingLists(planned->job, planned->library, &cache); // as planned
    if (!lists) return lists.error().inside(a.path);
    const AppliedCorrection found = appliedCorrection(planned->job, a.hooping);
    if (!found.isKnown())
        return cannotDo(found.state == CorrectionState::unfit ? found.problem.reason
                        : found.state == CorrectionState::outdated
                            ? "what was seen of this hooping belongs to another plan"
                            : "nothing was seen of this hooping yet",
                        {}, a.path);
    const Box design = designBox((*lists)[static_cast<std::size_t>(a.hooping) - 1].list);
    const PanelSteps steps = panelSteps(design, found.motion, planned->machine);
    Answer answer;
    answer.json = {{"hooping", a.hooping},
                   {"machine", planned->machine.id},
                   {"about", pointJson(design.empty() ? Vec2{} : design.centre())},
                   {"turn_steps", steps.turn},
                   {"turn_deg", steps.turnDeg},
                   {"right_steps", steps.right},
                   {"towards_steps", steps.towards},
                   {"step_mm", planned->machine.panelStepMm},
                   {"left_mm", steps.leftMm},
                   {"left_deg", steps.leftDeg},
                   {"text", steps.text}};
    answer.text = "With the list as it was planned: " + steps.text + "\n";
    return answer;
}

} // namespace

void addRegisterVerbs(Run& run) {
    auto f = std::make_shared<FitArguments>();
    CLI::App* verb =
        run.addVerb("fit", "The correction from planned to seen", [f] { return fit(*f); });
    verb->add_option("FILE", f->path,
                     "CSV: name,plan_x,plan_y,seen_x,seen_y; or observations (.json)")
        ->required();
    verb->add_option("--sigma", f->sigma, "placing noise of the CSV's points per axis, mm (0.3)");
    verb->add_option("--at", f->at, "a place X,Y of the plan whose error is asked for (JSON only)")
        ->expected(1)
        ->take_all()
        ->check([](const std::string& text) {
            return placeOf(text) ? std::string()
                                 : fmt::format("'{}' is no place; give X,Y in millimetres", text);
        });
    verb->add_option("--model", f->model, "rigid, stretch or skew (JSON only; rigid)")
        ->check(CLI::IsMember({"rigid", "stretch", "skew"}));

    auto p = std::make_shared<PanelArguments>();
    verb = run.addVerb("panel", "A registered hooping's correction in steps of the machine's panel",
                       [p] { return panel(*p); });
    verb->add_option("JOB", p->path, "job with a registered hooping")->required();
    verb->add_option("--hooping", p->hooping, "which, from 1");
    verb->add_option("--machine", p->machine, "id (the job's)");
}

} // namespace rapt::cli
