#include "learn/lessons.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double leastNews = 0.05;                    ///< smaller changes are not worth a word
constexpr std::size_t leastGaps = 8, leastPlaces = 3; ///< gaps, of so many stitch-outs
constexpr std::size_t leastTimes = 5;

struct LoadMeasure {
    const char *kind, *title, *unit;
    std::optional<double> StitchOut::*load;
    double Fabric::*limit;
};
constexpr LoadMeasure measures[] = {
    {"layers", "most layers", "layers", &StitchOut::peakLayers, &Fabric::maxLayers},
    {"hits", "most hits", "hits/mm²", &StitchOut::peakHits, &Fabric::maxHits},
};

/// Whether the load made trouble; nothing where the record does not tell.
std::optional<bool> troubleOf(const StitchOut& r) {
    if (r.outcome.empty()) return std::nullopt;
    if (r.outcome == "good") return false;
    return mayBeOfLoad(r.cause) ? std::optional(true) : std::nullopt;
}

std::string whyNotSettled(const LimitFit& fit) {
    const std::size_t fine = fit.cases - fit.troubles;
    if (fit.cases < 15)
        return fmt::format("{} of the 15 stitch-outs that it takes at least", fit.cases);
    if (fit.troubles < 4)
        return fmt::format("only {} of {} made trouble: the limit is not reached", fit.troubles,
                           fit.cases);
    if (fine < 4) return fmt::format("only {} of {} came out well", fine, fit.cases);
    return fmt::format("{} of {} made trouble, at light loads as at heavy ones", fit.troubles,
                       fit.cases);
}

void judge(Lesson& lesson, double value, bool settled) {
    lesson.isSettled = settled;
    if (settled) lesson.learnt = value;
    lesson.isNews = settled && std::abs(value / lesson.house - 1) > leastNews &&
                    (lesson.house < lesson.interval.low || lesson.house > lesson.interval.high);
}

Lesson limitLesson(const std::vector<StitchOut>& records, const Fabric& fabric,
                   const LoadMeasure& m, double& evidence) {
    std::vector<LoadCase> cases;
    for (const StitchOut& r : records) {
        const auto trouble = troubleOf(r);
        if (r.fabric == fabric.id && trouble && r.*m.load)
            cases.push_back({*(r.*m.load), *trouble});
    }
    const double house = fabric.*m.limit;
    const LimitFit fit = fitLimit(cases, house);
    Lesson lesson{m.kind, fabric.id, fabric.name + ": " + m.title, m.unit, house, house};
    lesson.cases = fit.cases;
    lesson.interval = fit.interval;
    judge(lesson, fit.value, fit.isSettled);
    evidence = fit.evidence;
    lesson.evidence =
        fit.isSettled ? fmt::format("{} of {} stitch-outs made trouble, from about {:.1f} {} on",
                                    fit.troubles, fit.cases, fit.value, m.unit)
                      : whyNotSettled(fit);
    return lesson;
}

double shareOf(const StitchOut& r) {
    const double d = r.drawInMm.value_or(0);
    if (r.predictedJoinMm && r.placingSigmaMm && *r.placingSigmaMm > 0 && *r.predictedJoinMm > d)
        return (*r.predictedJoinMm * *r.predictedJoinMm - d * d) /
               (*r.placingSigmaMm * *r.placingSigmaMm);
    // Two axes; by datum lines both sides err, in a chain only the later one.
    return r.method == "chain" ? 2 : 4;
}

std::vector<MeasuredJoins> joinsIn(const std::vector<StitchOut>& records, const std::string& method,
                                   std::vector<std::string>& fabrics) {
    std::vector<MeasuredJoins> joins;
    for (const StitchOut& r : records) {
        if (r.gapsMm.empty() || (!method.empty() && r.method != method)) continue;
        auto it = std::find(fabrics.begin(), fabrics.end(), r.fabric);
        if (it == fabrics.end()) it = fabrics.insert(fabrics.end(), r.fabric);
        joins.push_back({static_cast<std::size_t>(it - fabrics.begin()), r.gapsMm, shareOf(r),
                         r.drawInMm.value_or(0)});
    }
    return joins;
}

bool enough(const std::vector<MeasuredJoins>& joins, const MeanFit& sigma) {
    return joins.size() >= leastPlaces && sigma.cases >= leastGaps;
}

void placingLessons(const std::vector<StitchOut>& records, const Library& library,
                    std::vector<Lesson>& lessons) {
    for (const char* method : {"datum", "chain"}) {
        std::vector<std::string> fabrics;
        const auto joins = joinsIn(records, method, fabrics);
        const auto fit = fitPlacing(joins, fabrics.size());
        if (!fit) continue;
        const double house = library.practice.placingSigmaMm();
        Lesson lesson{"placing", method, fmt::format("Placing by {}", method), "mm", house, house};
        lesson.cases = fit->sigma.cases;
        lesson.interval = fit->sigma.interval;
        judge(lesson, fit->sigma.value, enough(joins, fit->sigma));
        lesson.evidence =
            fmt::format("{} gaps measured at the joins of {} stitch-outs{}", fit->sigma.cases,
                        joins.size(), lesson.isSettled ? "" : "; it takes 8 gaps of 3 at least");
        lessons.push_back(std::move(lesson));
    }
}

void drawInLessons(const std::vector<StitchOut>& records, const std::string& method,
                   const Library& library, std::vector<Lesson>& lessons) {
    std::vector<std::string> fabrics;
    const auto joins = joinsIn(records, method, fabrics);
    const auto fit = fitPlacing(joins, fabrics.size());
    // With one fabric alone, gaps do not tell placing from drawing in.
    if (!fit || fabrics.size() < 2) return;
    for (std::size_t g = 0; g < fabrics.size(); ++g) {
        const auto fabric = library.fabric(fabrics[g]);
        if (!fabric) continue;
        const double house = fabric->pullMm / 2;
        const auto places = static_cast<std::size_t>(std::count_if(
            joins.begin(), joins.end(), [&](const MeasuredJoins& j) { return j.group == g; }));
        const auto known = std::find_if(lessons.begin(), lessons.end(), [&](const Lesson& l) {
            return l.kind == "draw-in" && l.subject == fabrics[g];
        });
        if (known != lessons.end() && known->cases >= fit->drawIn[g].cases) continue;
        if (known != lessons.end()) lessons.erase(known);
        Lesson lesson{"draw-in", fabrics[g], fabric->name + ": draw-in at a join",
                      "mm",      house,      house};
        lesson.cases = fit->drawIn[g].cases;
        lesson.interval = fit->drawIn[g].interval;
        judge(lesson, fit->drawIn[g].value, places >= leastPlaces && lesson.cases >= leastGaps);
        lesson.evidence = fmt::format("{} gaps of {} stitch-outs, against those on other cloth",
                                      lesson.cases, places);
        lessons.push_back(std::move(lesson));
    }
}

std::vector<double> factorsIn(const std::vector<StitchOut>& records, const std::string& machine) {
    std::vector<double> factors;
    for (const StitchOut& r : records)
        if ((machine.empty() || r.machine == machine) && r.secondsEstimated && r.secondsTaken &&
            *r.secondsEstimated > 0 && *r.secondsTaken > 0)
            factors.push_back(*r.secondsTaken / *r.secondsEstimated);
    return factors;
}

void timeLessons(const std::vector<StitchOut>& records, const Library& library,
                 std::vector<Lesson>& lessons) {
    for (const Machine& m : library.machines) {
        const auto fit = factorOf(factorsIn(records, m.id));
        if (!fit) continue;
        Lesson lesson{"time", m.id, m.name + ": time taken", "× estimate", 1, 1};
        lesson.cases = fit->cases;
        lesson.interval = fit->interval;
        judge(lesson, fit->value, fit->cases >= leastTimes);
        lesson.evidence = fmt::format("{} stitch-outs whose time was taken", fit->cases);
        lessons.push_back(std::move(lesson));
    }
}

void setupLesson(const std::vector<StitchOut>& records, const ShopRates& shop,
                 std::vector<Lesson>& lessons) {
    std::vector<double> over;
    for (const StitchOut& r : records)
        if (r.labourMinutes && r.labourMinutesEstimated)
            over.push_back(*r.labourMinutes - *r.labourMinutesEstimated);
    const auto fit = meanOf(over);
    if (!fit || shop.setupMinutes <= 0) return;
    Lesson lesson{"setup",          "", "Price: setting up a job", "min", shop.setupMinutes,
                  shop.setupMinutes};
    lesson.cases = fit->cases;
    lesson.interval = {std::max(0.0, shop.setupMinutes + fit->interval.low),
                       std::max(0.0, shop.setupMinutes + fit->interval.high)};
    judge(lesson, std::max(0.0, shop.setupMinutes + fit->value), fit->cases >= leastTimes);
    lesson.evidence =
        fmt::format("a person's minutes of {} stitch-outs against the estimate's", fit->cases);
    lessons.push_back(std::move(lesson));
}

} // namespace

std::vector<Lesson> limitLessons(const std::vector<StitchOut>& records, const Fabric& fabric) {
    std::vector<Lesson> lessons;
    std::vector<double> evidence;
    for (const LoadMeasure& m : measures)
        lessons.push_back(limitLesson(records, fabric, m, evidence.emplace_back()));
    // Layers and hits rise together; trouble has one of them as its cause.
    for (std::size_t k = 0; k < lessons.size(); ++k) {
        Lesson& lesson = lessons[k];
        const Lesson& other = lessons[1 - k];
        if (!lesson.isSettled || !other.isSettled || evidence[k] >= evidence[1 - k]) continue;
        lesson.isSettled = lesson.isNews = false;
        lesson.learnt = lesson.house;
        lesson.evidence = fmt::format("{} explain the trouble better", other.unit);
    }
    return lessons;
}

std::vector<Lesson> lessonsOf(const std::vector<StitchOut>& records, const Library& library,
                              const ShopRates& shop) {
    std::vector<Lesson> lessons;
    for (const Fabric& fabric : library.fabrics)
        for (Lesson& lesson : limitLessons(records, fabric))
            if (lesson.cases > 0) lessons.push_back(std::move(lesson));
    placingLessons(records, library, lessons);
    for (const char* method : {"datum", "chain"}) drawInLessons(records, method, library, lessons);
    timeLessons(records, library, lessons);
    setupLesson(records, shop, lessons);
    std::stable_sort(lessons.begin(), lessons.end(),
                     [](const Lesson& a, const Lesson& b) { return a.isNews > b.isNews; });
    return lessons;
}

std::optional<MeanFit> placingOf(const std::vector<StitchOut>& records) {
    std::vector<std::string> fabrics;
    const auto joins = joinsIn(records, "", fabrics);
    const auto fit = fitPlacing(joins, fabrics.size());
    return fit && enough(joins, fit->sigma) ? std::optional(fit->sigma) : std::nullopt;
}

std::optional<MeanFit> timeFactorOf(const std::vector<StitchOut>& records) {
    const auto fit = factorOf(factorsIn(records, ""));
    return fit && fit->cases >= leastTimes ? fit : std::nullopt;
}

} // namespace rapt
