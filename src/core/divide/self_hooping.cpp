#include "divide/self_hooping.h"

#include "divide/frames.h"
#include "job/edit.h"

#include <fmt/format.h>

namespace rapt {
namespace {

/// Frames that may be used, the smallest field first.
std::vector<Hoop> framesFor(const Job& job, const Library& library) {
    std::vector<Hoop> hoops;
    if (job.brief.hoops.empty())
        hoops = library.hoops;
    else
        for (const std::string& id : job.brief.hoops)
            if (const auto hoop = library.hoop(id)) hoops.push_back(*hoop);
    if (const auto machine = library.machine(job.brief.machine))
        std::erase_if(hoops, [&](const Hoop& h) { return !frameProblem(h, *machine).empty(); });
    std::stable_sort(hoops.begin(), hoops.end(), [](const Hoop& a, const Hoop& b) {
        return a.widthMm * a.heightMm < b.widthMm * b.heightMm;
    });
    return hoops;
}

/// The hooping that planning makes for this frame alone, moved so that the middles meet.
std::optional<Hooping> centredIn(const Job& job, StitchCache& cache, const Hoop& hoop,
                                 const Library& library, Vec2 middle, std::stop_token stop) {
    DivideOptions options{{hoop}};
    options.mayPart = options.mayCut = false;
    options.mostHoopings = 1;
    const auto division = divideIntoHoopings(job, cache, options, library, std::move(stop));
    if (!division || division->hoopings.size() != 1) return std::nullopt;
    Hooping h = division->hoopings.front();
    const Vec2 by = middle - Vec2{h.pose.x, h.pose.y};
    for (Pose* pose : {&h.frame, &h.pose}) {
        pose->x += by.x;
        pose->y += by.y;
    }
    for (Mark& mark : h.marks) mark.at = mark.at + by;
    return h;
}

} // namespace

Result<std::optional<Job>> hoopedByItself(const Job& job, const Library& library,
                                          StitchCache& cache, std::stop_token stop) {
    if (!job.hoopings.empty()) return std::optional(job);
    const auto stitched = stitchJob(job, &cache, stop);
    if (!stitched) return stitched.error();
    Polyline places;
    for (const Stitch& s : stitched->list.stitches)
        if (s.op == Op::stitch) places.push_back(s.at());
    if (places.empty()) return cannotDo("the job has no stitches");
    const Box box = boundsOf(places);
    for (const bool level : {true, false})
        for (Hoop hoop : framesFor(job, library)) {
            if (stop.stop_requested()) return cancelled();
            // Level first: what fits as it lies is not turned.
            std::erase_if(hoop.turns, [level](double turn) { return (turn == 0) != level; });
            if (hoop.turns.empty() || hoop.slide) continue;
            const double turn = hoop.turns.front();
            Polyline inField;
            for (const Vec2& p : places) inField.push_back(turned(p - box.centre(), -turn));
            if (!holds(hoop, inField)) continue;
            auto hooping = centredIn(job, cache, hoop, library, box.centre(), stop);
            if (!hooping) continue;
            return std::optional(setHoopings({*hooping}, 0, {}).change(job));
        }
    return std::optional<Job>();
}

Result<Job> hoopedOrReason(const Job& job, const Library& library, StitchCache& cache,
                           std::stop_token stop) {
    auto hooped = hoopedByItself(job, library, cache, std::move(stop));
    if (!hooped) return hooped.error();
    if (*hooped) return std::move(**hooped);
    return cannotDo(job.brief.hoops.empty()
                        ? "it fits no frame whole; divide it first (rapt divide)"
                        : "it fits none of the frames that it owns whole; divide it first (rapt "
                          "divide)");
}

} // namespace rapt
