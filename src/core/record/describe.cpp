#include "record/describe.h"

#include "check/check.h"
#include "divide/forecast.h"
#include "job/edit_lettering.h"
#include "load/limits.h"
#include "registration/correction.h"
#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

double excessOf(const LoadMap& map, const LoadLimits& limits) {
    double sum = 0;
    for (const OverloadedPatch& p : overloadedPatches(map, LoadKind::layers, limits))
        sum += p.excess;
    return sum;
}

Status addLoad(StitchOut& r, const SewnJob& s, StitchCache& cache) {
    const auto sewable = stitchWhatCan(s.job, cache);
    if (!sewable) return sewable.error();
    const StitchList& list = sewable->stitched.list;
    const auto map = LoadMap::measure(list);
    if (!map) return map.error();
    r.peakLayers = map->summary().peakLayers;
    r.peakHits = map->summary().peakHits;
    r.excess = excessOf(*map, limitsOf(s.fabric, s.job.cloth));
    const Measures m = measure(list);
    r.widthMm = m.extents.width();
    r.heightMm = m.extents.height();
    r.stitches = static_cast<double>(m.stitches);
    return done();
}

void addPlan(StitchOut& r, const SewnJob& s) {
    const auto& hoopings = s.job.hoopings;
    r.hoopings = static_cast<double>(hoopings.size());
    if (hoopings.empty()) return;
    const auto hoop = s.library.hoop(hoopings.front().hoop);
    r.frame = hoop ? hoop->name : hoopings.front().hoop;
    if (hoopings.size() < 2) return;
    const Method method = methodOf(hoopings);
    r.method = nameOf(method);
    r.predictedJoinMm = s.job.predictedJoinRmsMm;
    const PlacingNoise noise = placingNoise(s.job, method, s.library);
    r.placingSigmaMm = noise.markMm;
    r.drawInMm = noise.drawInMm;
}

std::string waysOf(const Registration& registration) {
    std::vector<std::string> ways;
    for (const Observation& o : registration.observations)
        if (!o.leftOut && std::find(ways.begin(), ways.end(), o.by) == ways.end())
            ways.push_back(o.by);
    return fmt::format("{}", fmt::join(ways, " "));
}

void addRegistrations(StitchOut& r, const Job& job) {
    for (const Registration& registration : job.registrations) {
        const auto report = fitOf(registration);
        if (!report) continue;
        r.found.push_back({registration.hooping, waysOf(registration), report->fit.rmsMm,
                           report->fit.rotationDeg, report->scale.value_or(1)});
    }
}

std::vector<PartSeconds> partsOf(const TimeParts& t, double n) {
    return {{"sewing", t.sewing * n},
            {"thread_changes", t.threadChanges * n},
            {"trims", t.trims * n},
            {"clampings", t.clampings * n},
            {"registrations", t.registrations * n}};
}

Status addWork(StitchOut& r, const SewnJob& s) {
    const auto work = workOf(s.job.hoopings, s.lists, s.machine, s.fabric, s.library);
    if (!work) return work.error();
    const double n = std::max(1, s.job.brief.quantity);
    for (const ThreadNeed& t : work->threads)
        r.threads.push_back({formatRgb(t.thread.color), t.thread.name, t.topMm * n / 1000});
    r.bobbinM = work->bobbinMm * n / 1000;
    r.stabilizerCm2 = work->stabilizerCm2 * n;
    // By house values: a factor that was learnt from records must not be learnt from itself.
    const double house = s.machine.timeFactor > 0 ? n / s.machine.timeFactor : n;
    r.estimated = partsOf(work->seconds, house);
    r.secondsEstimated = work->seconds.total() * house;
    const Price price = priceOf(*work, s.job.brief, s.job.brief.quantity, s.machine, s.shop);
    r.labourMinutesEstimated =
        s.shop.labourPerHour > 0 ? price.cost.labour / s.shop.labourPerHour * 60 : 0;
    r.cost = price.cost.total();
    r.price = price.price;
    r.currency = s.shop.currency;
    return done();
}

} // namespace

Result<StitchOut> describeStitchOut(const SewnJob& s, StitchCache& cache) {
    StitchOut r;
    r.job = s.job.name;
    r.jobId = s.job.identity.text;
    r.customer = s.job.brief.item;
    r.fabric = s.fabric.id;
    r.cloth =
        fmt::format("{} {:g} × {:g} mm", s.fabric.name, s.job.cloth.widthMm, s.job.cloth.heightMm);
    r.stabilizer = s.fabric.stabilizerLayers > 1
                       ? fmt::format("{} × {}", s.fabric.stabilizerLayers, s.fabric.stabilizer)
                       : s.fabric.stabilizer;
    r.topper = s.fabric.topper;
    r.needle = s.fabric.needle;
    r.machine = s.machine.id;
    r.speed = std::min(s.machine.topSpeed, s.fabric.topSpeed);
    r.quantity = std::max(1, s.job.brief.quantity);
    for (const LetteringRecord& l : letteringRecords(s.job))
        r.lettering.push_back({l.text, l.face, l.capHeightMm});
    const Status load = addLoad(r, s, cache);
    if (!load) return load.error();
    addPlan(r, s);
    addRegistrations(r, s.job);
    if (!s.lists.empty())
        if (const Status work = addWork(r, s); !work) return work.error();
    return r;
}

void addRuns(StitchOut& r, const std::vector<RunRecord>& runs,
             const std::vector<HoopingList>& lists) {
    double seconds = 0;
    for (const RunRecord& run : runs) {
        const auto index = static_cast<std::size_t>(run.hooping - 1);
        if (index >= lists.size()) continue;
        seconds += run.seconds;
        const StitchList& list = lists[index].list;
        const Penetrations points(list);
        const auto map = LoadMap::measure(list);
        for (const RunEvent& e : run.events) {
            const std::size_t last = std::min(e.sewn, points.count());
            const double layers =
                map && last > 0 ? map->layers(cellAt(list.stitches[points.record(last - 1)].at()))
                                : 0;
            r.events.push_back({run.hooping, e.sewn, nameOf(e.kind), layers});
        }
    }
    if (seconds <= 0) return;
    // The estimate is for all items; the run that was recorded stands for each of them.
    seconds *= std::max(1.0, r.quantity.value_or(1));
    // The machine's own time; what hands take between hoopings is not in its record.
    r.taken = {{"sewing", seconds}};
    for (const PartSeconds& p : r.estimated)
        if (p.part == "clampings" || p.part == "registrations") seconds += p.seconds;
    r.secondsTaken = seconds;
}

} // namespace rapt
