#include "estimate/savings.h"

#include "divide/forecast.h"
#include "divide/frames.h"
#include "divide/hooping_lists.h"
#include "job/edit.h"
#include "job/hooping_name.h"
#include "sequence/job_order.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double leastShare = 0.01; ///< of the cost

class Savings {
public:
    Savings(const SavingsRequest& request, StitchCache& stitchCache, std::stop_token token)
        : r(request), cache(stitchCache), stop(std::move(token)) {}

    Result<std::vector<Saving>> all() {
        const auto now = workOfJob(r.job, r.machine);
        if (!now) return now.error();
        before = *now;
        cost = costOf(before, r.machine);
        order();
        for (const Hoop& hoop : owned()) frame(hoop);
        for (const Machine& m : r.library.machines) machine(m);
        if (stop.stop_requested()) return cancelled();
        std::sort(found.begin(), found.end(),
                  [](const Saving& a, const Saving& b) { return a.money > b.money; });
        return std::move(found);
    }

private:
    Result<Work> workOfJob(const Job& job, const Machine& machine) {
        const auto lists = hoopingLists(job, r.library, &cache, stop);
        if (!lists) return lists.error();
        return workOf(job.hoopings, *lists, machine, r.fabric, r.library);
    }
    double costOf(const Work& work, const Machine& machine) const {
        return priceOf(work, r.job.brief, r.quantity, machine, r.shop).cost.total();
    }
    /// Keeps it if it is worth the trouble.
    void offer(std::string words, const Work& work, const Machine& m, std::optional<Job> job) {
        Saving s{std::move(words)};
        s.seconds = (before.seconds.total() - work.seconds.total()) * r.quantity;
        s.money = cost - costOf(work, m);
        if (s.money < leastShare * cost) return;
        if (job)
            s.job = std::move(job);
        else
            s.machine = m.id;
        found.push_back(std::move(s));
    }
    std::vector<Hoop> owned() const {
        const auto hoops = hoopsFor(r.job, {}, r.library);
        return hoops && !r.job.brief.hoops.empty() ? *hoops : std::vector<Hoop>{};
    }

    void order() {
        auto ordered = orderJob(r.job, {}, stop);
        if (!ordered || ordered->changesAfter >= ordered->changesBefore) return;
        const auto work = workOfJob(ordered->job, r.machine);
        if (!work) return;
        offer(fmt::format("Sew in another order: {} thread changes instead of {}",
                          work->threadChanges, before.threadChanges),
              *work, r.machine, std::move(ordered->job));
    }
    void frame(const Hoop& hoop) {
        const auto& hoopings = r.job.hoopings;
        if (stop.stop_requested() || !frameProblem(hoop, r.machine).empty() ||
            std::all_of(hoopings.begin(), hoopings.end(),
                        [&](const Hooping& h) { return h.hoop == hoop.id; }))
            return;
        DivideOptions options;
        options.hoops = {hoop};
        options.method = methodOf(r.job.hoopings);
        options.seconds = r.secondsEach;
        const auto plan = divideIntoHoopings(r.job, cache, options, r.library, stop);
        if (!plan) return;
        Job job = setHoopings(plan->hoopings, plan->predictedJoinRmsMm, plan->cuts).change(r.job);
        const auto work = workOfJob(job, r.machine);
        if (!work) return;
        offer(fmt::format("Hoop in {}, {}", hoop.name, timesText(plan->clampings)), *work,
              r.machine, std::move(job));
    }
    void machine(const Machine& m) {
        if (stop.stop_requested() || m.id == r.machine.id) return;
        for (const Hooping& h : r.job.hoopings)
            if (const auto hoop = r.library.hoop(h.hoop); !hoop || !frameProblem(*hoop, m).empty())
                return;
        const auto work = workOfJob(r.job, m);
        if (work)
            offer(fmt::format("Sew it on another machine, if you have one: {}", m.name), *work, m,
                  std::nullopt);
    }

    const SavingsRequest& r;
    StitchCache& cache;
    std::stop_token stop;
    Work before;
    double cost = 0;
    std::vector<Saving> found;
};

} // namespace

Result<std::vector<Saving>> savingsOf(const SavingsRequest& request, StitchCache& cache,
                                      std::stop_token stop) {
    return Savings(request, cache, std::move(stop)).all();
}

} // namespace rapt
