#include "standins/sewing_run.h"

namespace rapt::standins {
namespace {

/// Longer than any list takes.
constexpr double everSeconds = 1e12;

void sewHooping(SewingHead& head, std::size_t hooping, const SewingRequest& request,
                SewingLog& log) {
    const double start = log.seconds;
    std::vector<SewnStitch> sewn;
    while (!head.isDone()) {
        sewn.clear();
        const auto stop = head.advance(everSeconds, sewn);
        for (const SewnStitch& s : sewn)
            log.lines.push_back({start + s.seconds, hooping, s.number});
        if (!stop) continue;
        log.events.push_back({start + head.seconds(), hooping, head.sewn(), *stop});
        const Resume resume = resumeAfter(head.list(), head.penetrations(), head.sewn(), *stop);
        log.resumed.push_back({hooping, head.sewn(), resume.overlap});
        if (*stop == StopKind::bobbinEmpty) head.fillBobbin();
        head.wait(mendingSeconds(*stop, request.machine));
        head.goTo(resume.from);
    }
    log.seconds = start + head.seconds();
}

} // namespace

SewingSetup setupFor(const SewingRequest& request, const JobThreads& threads, std::size_t hooping) {
    SewingSetup setup;
    setup.list = std::make_shared<const StitchList>(request.lists[hooping].list);
    setup.machine = request.machine;
    setup.fabric = request.fabric;
    for (const Stitch& s : setup.list->stitches)
        if (s.op == Op::stitch) setup.threadOf[s.thread] = threads.of(hooping, s.thread);
    setup.faults = request.faults;
    setup.seed = request.seed * 1'000'003 + hooping;
    return setup;
}

SewingLog sewJob(const SewingRequest& request) {
    const JobThreads threads(request.lists);
    SewingLog log;
    std::optional<std::size_t> on;
    for (std::size_t i = 0; i < request.lists.size(); ++i) {
        if (request.only && *request.only != i) continue;
        if (request.lists[i].stitches == 0) continue; // sewn before
        const HandlingBefore before = handlingBefore(request.hoopings, i, request.machine);
        log.seconds += before.clamping + before.registration;
        SewingSetup setup = setupFor(request, threads, i);
        setup.threadBefore = on;
        SewingHead head(std::move(setup));
        sewHooping(head, i, request, log);
        on = head.threadOn();
    }
    return log;
}

} // namespace rapt::standins
