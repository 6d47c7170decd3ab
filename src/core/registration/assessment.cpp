#include "registration/assessment.h"

#include "registration/needle_targets.h"

#include "registration/proposals.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double levels[] = {0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.65, 0.8, 1, 1.5, 2, 3, 5, 8};
constexpr std::size_t mostContours = 6;

/// What one more card or point is worth.
double nextSigma(const Registration& r, const Library& library) {
    for (const Observation& o : r.observations)
        if (o.by == "card") return cardOnMarkSigmaMm;
    return library.practice.placingSigmaMm();
}

void contour(Assessment& a) {
    std::vector<double> found;
    for (const double level : levels)
        if (level < a.trust.worst && std::any_of(a.trust.values.begin(), a.trust.values.end(),
                                                 [&](double v) { return v < level; }))
            found.push_back(level);
    if (found.size() > mostContours) found.resize(mostContours);
    for (const double level : found) a.contours.push_back({level, a.trust.contour(level)});
}

} // namespace

Result<Assessment> assess(const Job& job, int hooping, const std::vector<HoopingList>& lists,
                          const std::vector<JoinForecast>& joins, const Library& library) {
    const Registration* r = job.registration(hooping);
    if (!r) return cannotDo("this hooping is not registered");
    auto report = fitOf(*r);
    if (!report) return report.error();
    const auto index = static_cast<std::size_t>(hooping) - 1;
    const Hooping& h = job.hoopings[index];
    const auto hoop = library.hoop(h.hoop);
    if (!hoop) return hoop.error();
    Assessment a;
    a.report = std::move(*report);
    a.limitMm = job.brief.joinLimitMm;
    const TrustGround ground = trustGround(job, hooping, lists, library);
    const MotionFit& fit = a.report.fit;
    const Box field = Box::centredAt({0, 0}, hoop->widthMm, hoop->heightMm);
    a.trust = trustMap(fit, ground, field);
    contour(a);
    if (index < lists.size() && !lists[index].extents.empty()) {
        if (const auto motion = correctionOf(job, hooping)) {
            a.miss = fieldMiss(lists[index].list, *motion, *hoop, fieldToFrame(h));
            if (const auto machine = library.machine(job.brief.machine))
                a.panel = panelSteps(designBox(lists[index].list), *motion, *machine);
        }
        constexpr const char* names[] = {"far left", "far right", "near right", "near left"};
        const auto corners = lists[index].extents.corners();
        for (std::size_t k = 0; k < 4; ++k)
            a.places.push_back({names[k], corners[k], trustAt(fit, ground, corners[k])});
    }
    const Affine toField = h.pose.affine().inverse();
    const PlacingNoise noise = placingNoise(job, methodOf(job.hoopings), library);
    for (const JoinCheck& j : checkJoins(job, joins, noise)) {
        if (j.join.earlier != index && j.join.later != index) continue;
        const Vec2 at = toField(j.join.at);
        a.joins.push_back(j);
        a.places.push_back({fmt::format("join {}–{}", j.join.earlier + 1, j.join.later + 1), at,
                            trustAt(fit, ground, at)});
    }
    std::stable_sort(a.places.begin(), a.places.end(),
                     [](const auto& x, const auto& y) { return x.errorMm > y.errorMm; });
    std::vector<Vec2> wanted;
    for (const Assessment::Place& p : a.places) wanted.push_back(p.at);
    const bool wide = !a.places.empty() && a.places.front().errorMm > a.limitMm;
    // A join that gapes for the other hooping's sake is not mended here.
    const bool open = std::any_of(a.joins.begin(), a.joins.end(), [](const JoinCheck& j) {
        return !j.held && j.earlierKnown && j.laterKnown;
    });
    if (wide || open) a.advice = bestNextPlace(fit, ground, field, wanted, nextSigma(*r, library));
    return a;
}

} // namespace rapt
