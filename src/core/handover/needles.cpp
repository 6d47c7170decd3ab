#include "handover/needles.h"

#include "thread/measures.h"

#include <fmt/format.h>
#include <limits>

namespace rapt {
namespace {

constexpr std::size_t never = std::numeric_limits<std::size_t>::max();

/// Follows the steps with the cones on the needles.
class Following {
public:
    Following(const std::vector<ThreadStep>& s, const Needles& now) : steps(s), needles(now) {
        lastUse.assign(now.size(), never);
        for (std::size_t n = 0; n < now.size(); ++n)
            left.push_back(now[n] ? now[n]->leftM : std::nullopt);
    }

    Result<NeedlePlan> run() {
        plan.start = needles;
        for (std::size_t k = 0; k < steps.size(); ++k) {
            std::size_t needle = holding(steps[k].thread);
            if (needle == never) {
                needle = victim(k);
                if (needle == never)
                    return cannotDo(fmt::format(
                        "{} is on no needle and all needles are kept as they are; free one",
                        steps[k].thread.name));
                change(k, needle);
            }
            use(k, needle);
        }
        return std::move(plan);
    }

private:
    std::size_t holding(const Thread& thread) const {
        for (std::size_t n = 0; n < needles.size(); ++n)
            if (needles[n] && needles[n]->thread.sameThread(thread)) return n;
        return never;
    }
    std::size_t nextUse(const Thread& thread, std::size_t from) const {
        for (std::size_t k = from; k < steps.size(); ++k)
            if (steps[k].thread.sameThread(thread)) return k;
        return never;
    }
    /// Its cone was not sewn with since the hooping of step k began.
    bool restsIn(std::size_t needle, std::size_t k) const {
        return lastUse[needle] == never || steps[lastUse[needle]].hooping != steps[k].hooping;
    }
    /// An empty needle; else the one whose thread is needed again latest, among these one that can
    /// be changed before the hooping begins.
    std::size_t victim(std::size_t k) const {
        std::size_t best = never, bestUse = 0;
        for (std::size_t n = 0; n < needles.size(); ++n) {
            if (!needles[n]) return n;
            if (needles[n]->fixed) continue;
            const std::size_t use = nextUse(needles[n]->thread, k);
            const bool later = best == never || use > bestUse;
            if (later || (use == bestUse && restsIn(n, k) && !restsIn(best, k))) {
                best = n;
                bestUse = use;
            }
        }
        return best;
    }
    void change(std::size_t k, std::size_t needle) {
        const bool before = restsIn(needle, k);
        const ConeChange made{static_cast<int>(needle) + 1, steps[k].thread, steps[k].hooping,
                              before ? 0 : steps[k].first, needles[needle].has_value()};
        plan.changes.push_back(made);
        needles[needle] = Cone{steps[k].thread, std::nullopt, false};
        left[needle] = std::nullopt;
        if (before && steps[k].hooping == steps.front().hooping)
            plan.start[needle] = needles[needle];
    }
    void use(std::size_t k, std::size_t needle) {
        plan.needleOf.push_back(static_cast<int>(needle) + 1);
        lastUse[needle] = k;
        if (!left[needle]) return;
        const double had = *left[needle];
        *left[needle] -= steps[k].topM;
        if (had < 0 || *left[needle] >= 0) return;
        double needed = 0;
        for (std::size_t i = 0; i < steps.size(); ++i)
            if (steps[i].thread.sameThread(steps[k].thread)) needed += steps[i].topM;
        plan.runOut.push_back({static_cast<int>(needle) + 1, steps[k].thread,
                               *needles[needle]->leftM, needed, steps[k].hooping});
    }

    const std::vector<ThreadStep>& steps;
    Needles needles;
    std::vector<std::size_t> lastUse; ///< step, by needle
    std::vector<std::optional<double>> left;
    NeedlePlan plan;
};

} // namespace

std::vector<ThreadStep> threadSteps(const std::vector<HoopingList>& lists, const Fabric& fabric,
                                    std::size_t firstHooping) {
    std::vector<ThreadStep> steps;
    for (std::size_t h = 0; h < lists.size(); ++h) {
        const StitchList& list = lists[h].list;
        std::size_t count = 0;
        int thread = -1;
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = list.stitches[i];
            if (s.thread != thread) {
                const Thread* declared = list.find(s.thread);
                steps.push_back({declared ? *declared : defaultThread(s.thread), firstHooping + h,
                                 count, 2 * threadEndMm / 1000});
            }
            thread = s.thread;
            ++count;
            steps.back().topM += ((from ? spanMm(*from, s) : 0) + 2 * fabric.thicknessMm) / 1000;
        });
    }
    return steps;
}

Result<NeedlePlan> planNeedles(const std::vector<ThreadStep>& steps, const Needles& now) {
    if (now.empty()) return cannotDo("a machine needs a needle");
    return Following(steps, now).run();
}

} // namespace rapt
