#include "estimate/work.h"

#include "thread/measures.h"

namespace rapt {
namespace {

/// Adds up one list after the other.
class Summing {
public:
    Summing(const JobThreads& t, const Machine& m, const Fabric& f)
        : threads(t), machine(m), fabric(f) {
        for (const Thread& thread : t.threads()) work.threads.push_back({thread});
    }

    void add(const StitchList& list, std::size_t index) {
        bool begins = true; // a thread begins with the next stitch
        eachTimeEvent(
            list, machine, fabric, [&](std::uint8_t number) { return threads.of(index, number); },
            [&](std::size_t thread) { return changeSeconds(thread, machine); }, last,
            [&](const TimeEvent& e) {
                const bool cut = e.kind != TimeEvent::Kind::stitch;
                if (e.kind == TimeEvent::Kind::trim) trim(e);
                if (e.kind == TimeEvent::Kind::change) change(e);
                if (!cut) sew(e, list.stitches[e.record], begins);
                begins = cut;
            });
    }

    Work work;

private:
    void trim(const TimeEvent& e) {
        ++work.trims;
        work.seconds.trims += e.seconds;
    }
    void change(const TimeEvent& e) {
        ++work.threadChanges;
        work.coneChanges += *last >= static_cast<std::size_t>(machine.needles);
        work.seconds.threadChanges += e.seconds;
    }
    void sew(const TimeEvent& e, const Stitch& s, bool begins) {
        ThreadNeed& need = work.threads[*last];
        const double length = e.from ? spanMm(*e.from, s) : 0;
        const double ends = begins ? 2 * threadEndMm : 0; // what begins ends as well
        ++need.stitches;
        ++work.stitches;
        need.topMm += length + 2 * fabric.thicknessMm + ends;
        need.bobbinMm += length + ends;
        work.bobbinMm += length + ends;
        need.sewingSeconds += e.seconds;
        work.seconds.sewing += e.seconds;
    }

    const JobThreads& threads;
    const Machine& machine;
    const Fabric& fabric;
    std::optional<std::size_t> last; ///< thread of the stitch before, also of the list before
};

int clampingsIn(const std::vector<Hooping>& hoopings) {
    int count = 0;
    for (std::size_t i = 0; i < hoopings.size(); ++i)
        count += i == 0 || hoopings[i].clamping != hoopings[i - 1].clamping;
    return count;
}

} // namespace

JobThreads::JobThreads(const std::vector<HoopingList>& lists) : number(lists.size()) {
    for (std::size_t k = 0; k < lists.size(); ++k) {
        std::array<bool, 256> known{};
        for (const Stitch& s : lists[k].list.stitches) {
            if (s.op != Op::stitch || known[s.thread]) continue;
            known[s.thread] = true;
            const Thread* declared = lists[k].list.find(s.thread);
            const Thread thread = declared ? *declared : defaultThread(s.thread);
            const auto same = std::find_if(all.begin(), all.end(),
                                           [&](const Thread& t) { return t.sameThread(thread); });
            number[k][s.thread] = static_cast<std::size_t>(same - all.begin());
            if (same == all.end()) all.push_back(thread);
        }
    }
}

double changeSeconds(std::size_t thread, const Machine& machine) {
    return thread < static_cast<std::size_t>(machine.needles) ? machine.threadChangeSeconds
                                                              : machine.coneChangeSeconds;
}

HandlingBefore handlingBefore(const std::vector<Hooping>& hoopings, std::size_t hooping,
                              const Machine& machine) {
    const bool same = hooping > 0 && hoopings[hooping].clamping == hoopings[hooping - 1].clamping;
    if (same) return {machine.positionSeconds, 0};
    return {machine.hoopingSeconds, clampingsIn(hoopings) > 1 ? machine.registrationSeconds : 0};
}

Result<Work> workOf(const std::vector<Hooping>& hoopings, const std::vector<HoopingList>& lists,
                    const Machine& machine, const Fabric& fabric, const Library& library) {
    const JobThreads threads(lists);
    Summing sum(threads, machine, fabric);
    for (std::size_t i = 0; i < lists.size(); ++i) {
        sum.add(lists[i].list, i);
        const HandlingBefore before = handlingBefore(hoopings, i, machine);
        sum.work.seconds.clampings += before.clamping;
        sum.work.seconds.registrations += before.registration;
        if (i > 0 && hoopings[i].clamping == hoopings[i - 1].clamping) continue;
        const auto hoop = library.hoop(hoopings[i].hoop);
        if (!hoop) return hoop.error();
        sum.work.stabilizerCm2 +=
            hoop->outerWidthMm * hoop->outerHeightMm / 100 * fabric.stabilizerLayers;
    }
    return std::move(sum.work);
}

} // namespace rapt
