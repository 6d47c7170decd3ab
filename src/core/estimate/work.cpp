#include "estimate/work.h"

#include "estimate/timing.h"
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
        std::size_t seen = 0;
        bool begins = true; // a thread begins with the next stitch
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = list.stitches[i];
            for (; seen < i; ++seen)
                if (list.stitches[seen].op == Op::trim) begins = trim();
            const std::size_t thread = threads.of(index, s.thread);
            if (last && *last != thread) change(thread);
            begins |= last != thread;
            last = thread;
            sew(thread, from, s, begins);
            begins = false;
        });
        for (; seen < list.stitches.size(); ++seen)
            if (list.stitches[seen].op == Op::trim) trim();
    }

    Work work;

private:
    bool trim() {
        ++work.trims;
        work.seconds.trims += machine.trimSeconds;
        return true;
    }
    void change(std::size_t thread) {
        ++work.threadChanges;
        work.coneChanges += thread >= static_cast<std::size_t>(machine.needles);
        work.seconds.threadChanges += changeSeconds(thread, machine);
    }
    void sew(std::size_t thread, const Stitch* from, const Stitch& s, bool begins) {
        ThreadNeed& need = work.threads[thread];
        const double length = from ? spanMm(*from, s) : 0;
        const double ends = begins ? 2 * threadEndMm : 0; // what begins ends as well
        const double seconds = stitchSecondsAfter(from, s, machine, fabric);
        ++need.stitches;
        ++work.stitches;
        need.topMm += length + 2 * fabric.thicknessMm + ends;
        need.bobbinMm += length + ends;
        work.bobbinMm += length + ends;
        need.sewingSeconds += seconds;
        work.seconds.sewing += seconds;
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

double stitchSecondsAfter(const Stitch* from, const Stitch& stitch, const Machine& machine,
                          const Fabric& fabric) {
    const bool sewn = from && from->op == Op::stitch;
    return stitchSeconds(sewn ? spanMm(*from, stitch) : 0, machine, fabric);
}

std::vector<float> secondsUpTo(const StitchList& list, const Machine& machine,
                               const Fabric& fabric) {
    std::vector<float> seconds;
    double now = 0;
    std::size_t seen = 0;
    int thread = -1;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        for (; seen < i; ++seen)
            if (list.stitches[seen].op == Op::trim) now += machine.trimSeconds;
        if (thread >= 0 && thread != list.stitches[i].thread) now += machine.threadChangeSeconds;
        thread = list.stitches[i].thread;
        now += stitchSecondsAfter(from, list.stitches[i], machine, fabric);
        seconds.push_back(static_cast<float>(now));
    });
    return seconds;
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
