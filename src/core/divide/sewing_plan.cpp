#include "divide/sewing_plan.h"

#include "divide/cover.h"

#include <algorithm>
#include <chrono>
#include <map>
#include <numeric>

namespace rapt {
namespace {

using Clock = std::chrono::steady_clock;
using Steps = std::vector<PlannedStand>;

constexpr std::size_t mostOrderedColumns = 12;
constexpr std::size_t mostStandsTried = 4;
constexpr std::size_t mostStates = 3000;
constexpr int mostExclusions = 24;
constexpr std::size_t mostOrdersTried = 4000;

/// What was sewn so far, in how many hoopings.
struct State {
    PartSet done;
    Steps steps;
    int clampings = 0;
};

/// `b` can do all that `a` can, in no more hoopings.
bool isNoBetter(const State& a, const State& b) {
    return b.steps.size() <= a.steps.size() && a.done.isIn(b.done);
}

void keepBest(std::vector<State>& states, State state) {
    for (const State& s : states)
        if (isNoBetter(state, s)) return;
    std::erase_if(states, [&](const State& s) { return isNoBetter(s, state); });
    states.push_back(std::move(state));
}

class Sewing {
public:
    Sewing(std::size_t n, const std::vector<std::vector<std::size_t>>& b,
           const std::vector<Candidate>& c, const PlanLimits& l, const std::stop_token& s)
        : size(n), before(b), candidates(c), limits(l), stop(s),
          ordered(std::any_of(b.begin(), b.end(),
                              [](const auto& earlier) { return !earlier.empty(); })) {}

    SewingPlan run() {
        if (size == 0) return {};
        best = greedy({PartSet(size), {}, 0}, limits.forced);
        plan.leastClampings = 1;
        plan.leastHoopings = 1;
        cover();
        if (ordered && !isProven()) search();
        plan.stands = best->steps;
        plan.clampings = best->clampings;
        plan.leastHoopings = std::max(plan.leastHoopings, plan.leastClampings);
        return std::move(plan);
    }

private:
    double left() const {
        return limits.seconds - std::chrono::duration<double>(Clock::now() - began).count();
    }
    bool over() const { return stop.stop_requested() || left() <= 0; }
    bool isProven() const {
        return best->clampings == plan.leastClampings &&
               static_cast<int>(best->steps.size()) == plan.leastHoopings;
    }
    bool isBetter(const State& s) const {
        return !best || s.clampings < best->clampings ||
               (s.clampings == best->clampings && s.steps.size() < best->steps.size());
    }
    void offer(State s) {
        if (isBetter(s)) best = std::move(s);
    }

    /// What a stand can sew now: all that it holds and that waits for nothing else.
    PartSet sewable(const PartSet& done, const PartSet& held) const {
        PartSet now(size), known = done;
        held.each([&](std::size_t i) {
            if (known.has(i)) return;
            for (const std::size_t j : before[i])
                if (!known.has(j)) return;
            now.add(i);
            known.add(i);
        });
        return now;
    }

    /// All useful ways to sew with one more clamping.
    std::vector<State> clamped(const State& from, std::size_t candidate) const {
        const auto& stands = candidates[candidate].stands;
        std::vector<State> found, open{from};
        open[0].clampings = from.clampings + 1;
        // A stand may be come back to after another one; every visit sews something new.
        while (!open.empty()) {
            std::vector<State> next;
            for (const State& s : open)
                for (const std::size_t k : worthTrying(s, candidate)) {
                    State more = s;
                    PartSet now = sewable(s.done, stands[k].holds);
                    more.done.unite(now);
                    more.steps.push_back({candidate, k, more.clampings, std::move(now)});
                    keepBest(next, std::move(more));
                }
            open.clear();
            for (State& s : next) {
                const bool useful = std::none_of(found.begin(), found.end(),
                                                 [&](const State& f) { return isNoBetter(s, f); });
                if (!useful) continue;
                keepBest(found, s);
                open.push_back(std::move(s));
            }
        }
        return found;
    }

    /// Stands that would sew something; of many only those that sew most.
    std::vector<std::size_t> worthTrying(const State& s, std::size_t candidate) const {
        const auto& stands = candidates[candidate].stands;
        std::vector<std::pair<std::size_t, std::size_t>> gains;
        for (std::size_t k = 0; k < stands.size(); ++k)
            if (const std::size_t n = sewable(s.done, stands[k].holds).count())
                gains.emplace_back(n, k);
        std::stable_sort(gains.begin(), gains.end(),
                         [](const auto& a, const auto& b) { return a.first > b.first; });
        if (gains.size() > mostStandsTried) gains.resize(mostStandsTried);
        std::vector<std::size_t> tried;
        for (const auto& [gain, k] : gains) tried.push_back(k);
        return tried;
    }

    /// Clamping after clamping that sews the most of what is left, the forced ones first.
    State greedy(State state, std::vector<std::size_t> forced) const {
        while (state.done.count() < size) {
            std::optional<State> most;
            const auto consider = [&](std::size_t c) {
                for (State& s : clamped(state, c))
                    if (!most || s.done.count() > most->done.count()) most = std::move(s);
            };
            if (!forced.empty()) {
                consider(forced.back());
                forced.pop_back();
                if (!most) continue;
            } else {
                // Only those that hold the most that is left are looked at closely.
                std::vector<std::pair<std::size_t, std::size_t>> gains;
                for (std::size_t c = 0; c < candidates.size(); ++c)
                    gains.emplace_back(candidates[c].all.countWithout(state.done), c);
                std::sort(gains.begin(), gains.end(), std::greater<>());
                for (const auto& [gain, c] : gains) {
                    if (most && gain <= most->done.count() - state.done.count()) break;
                    if (gain > 0) consider(c);
                }
            }
            state = std::move(*most);
        }
        return state;
    }

    /// Exact cover, and orders of the covers that are found.
    void cover() {
        std::vector<CoverColumn> columns;
        for (std::size_t c = 0; c < candidates.size(); ++c) {
            CoverColumn column;
            for (const Stand& s : candidates[c].stands) column.stands.push_back(s.holds);
            column.forced =
                std::find(limits.forced.begin(), limits.forced.end(), c) != limits.forced.end();
            columns.push_back(std::move(column));
        }
        std::vector<std::vector<std::size_t>> excluded;
        bool allRefuted = true; // every cover that was tried has no order, proved
        for (int round = 0; round < mostExclusions && !over(); ++round) {
            const auto choice = fewestCovering(size, columns, excluded, 0.7 * left(), stop);
            if (!choice) return;
            if (round == 0) {
                plan.leastClampings = choice->leastColumns;
                plan.leastHoopings = choice->leastHoopings;
                first = choice->leastColumns;
            } else if (choice->leastColumns > first && allRefuted) {
                // No cover of the first size can be sewn in order: one more is needed at least.
                plan.leastClampings = std::max(plan.leastClampings, first + 1);
            }
            const Order order = inOrder(*choice);
            allRefuted = allRefuted && order.exact;
            if (auto state = order.found) {
                // The bound of stands held for the columns of the first round.
                if (round > 0) plan.leastHoopings = plan.leastClampings;
                offer(std::move(*state));
                return;
            }
            if (order.partly) offer(greedy(*order.partly, {}));
            if (static_cast<int>(choice->columns.size()) >= best->clampings) return;
            excluded.push_back(choice->columns);
        }
    }

    /// An order of the chosen clampings, or none; if `exact`, there is none indeed.
    struct Order {
        std::optional<State> found;
        bool exact = false;
        std::optional<State> partly{}; ///< how far it went; the rest may take clampings of its own
    };

    /// The chosen clampings one after the other, each once, so that all is sewn, in as few hoopings
    /// as they allow.
    Order inOrder(const CoverChoice& choice) {
        if (!ordered) return {inAnyOrder(choice), true};
        if (choice.columns.size() > mostOrderedColumns) return OrderSearch(*this, choice).run();
        std::map<std::uint32_t, std::vector<State>> open{{0u, {{PartSet(size), {}, 0}}}};
        const std::uint32_t all = (1u << choice.columns.size()) - 1;
        for (std::uint32_t mask = 0; mask < all; ++mask) {
            const auto now = open.find(mask);
            if (now == open.end()) continue;
            for (const State& s : now->second)
                for (std::size_t k = 0; k < choice.columns.size(); ++k) {
                    if (mask >> k & 1) continue;
                    for (State& next : clamped(s, choice.columns[k]))
                        keepBest(open[mask | 1u << k], std::move(next));
                }
            open.erase(now);
        }
        std::optional<State> found;
        for (State& s : open[all])
            if (s.done.count() == size && (!found || s.steps.size() < found->steps.size()))
                found = std::move(s);
        return {std::move(found), !many};
    }

    State inAnyOrder(const CoverChoice& choice) const {
        // From left to right: the least way between hoopings.
        std::vector<std::size_t> order(choice.columns.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            const Pose& p = candidates[choice.columns[a]].frame;
            const Pose& q = candidates[choice.columns[b]].frame;
            return p.x != q.x ? p.x < q.x : p.y < q.y;
        });
        State state{PartSet(size), {}, 0};
        for (const std::size_t k : order) {
            ++state.clampings;
            for (const std::size_t s : choice.stands[k]) {
                PartSet now = candidates[choice.columns[k]].stands[s].holds;
                now.subtract(state.done);
                if (now.empty()) continue;
                state.done.unite(now);
                state.steps.push_back({choice.columns[k], s, state.clampings, std::move(now)});
            }
        }
        return state;
    }

    /// Orders of many clampings, by depth first. A clamping may come when what only it can sew is
    /// sewable: then nothing is left behind that no later one takes. So the first order that is
    /// tried is a topological one; only where clampings share parts is there anything to go back
    /// on.
    class OrderSearch {
    public:
        OrderSearch(const Sewing& s, const CoverChoice& c) : sewing(s), columns(c.columns) {}

        Order run() {
            Order order;
            order.found = from({PartSet(sewing.size), {}, 0}, PartSet(columns.size()));
            order.exact = complete && !sewing.many;
            if (!order.found) order.partly = std::move(deepest);
            return order;
        }

    private:
        std::optional<State> from(const State& state, const PartSet& used) {
            if (state.done.count() == sewing.size) return state;
            if (!deepest || state.done.count() > deepest->done.count()) deepest = state;
            if (++tried > mostOrdersTried || sewing.over()) {
                complete = false;
                return std::nullopt;
            }
            for (const auto& [u, d] : failed)
                if (u == used && state.done.isIn(d)) return std::nullopt;
            for (std::size_t k = 0; k < columns.size(); ++k) {
                if (used.has(k)) continue;
                PartSet now = used;
                now.add(k);
                const PartSet later = heldLater(now);
                for (const State& next : sewing.clamped(state, columns[k])) {
                    PartSet behind = sewing.candidates[columns[k]].all;
                    behind.subtract(next.done);
                    if (!behind.isIn(later)) continue;
                    if (auto found = from(next, now)) return found;
                    if (!complete) return std::nullopt;
                }
            }
            failed.emplace_back(used, state.done);
            return std::nullopt;
        }
        PartSet heldLater(const PartSet& used) const {
            PartSet held(sewing.size);
            for (std::size_t k = 0; k < columns.size(); ++k)
                if (!used.has(k)) held.unite(sewing.candidates[columns[k]].all);
            return held;
        }

        const Sewing& sewing;
        const std::vector<std::size_t>& columns;
        std::vector<std::pair<PartSet, PartSet>> failed; ///< used and done from which none leads on
        std::optional<State> deepest;
        std::size_t tried = 0;
        bool complete = true;
    };

    /// Parts of which no two go into one clamping, picked greedily: so many clampings are needed.
    int leastFor(const PartSet& open) const {
        PartSet rest = open;
        int n = 0;
        while (!rest.empty()) {
            std::size_t pick = size, fewest = size + 1;
            rest.each([&](std::size_t i) {
                if (together[i].count() < fewest) {
                    fewest = together[i].count();
                    pick = i;
                }
            });
            rest.subtract(together[pick]);
            ++n;
        }
        return n;
    }

    /// Clamping by clamping, all that can be sewn; what can no longer beat the best plan is left.
    void search() {
        together.assign(size, PartSet(size));
        for (const Candidate& c : candidates)
            c.all.each([&](std::size_t i) { together[i].unite(c.all); });
        PartSet all(size);
        for (std::size_t i = 0; i < size; ++i) all.add(i);
        std::vector<State> level{{PartSet(size), {}, 0}};
        bool complete = limits.forced.empty();
        for (int n = 1; n <= best->clampings && !level.empty(); ++n) {
            std::vector<State> next;
            for (const State& s : level) {
                if (over()) return;
                for (std::size_t c = 0; c < candidates.size(); ++c)
                    for (State& more : clamped(s, c)) {
                        PartSet open = all;
                        open.subtract(more.done);
                        if (open.empty()) {
                            offer(std::move(more));
                        } else if (n + leastFor(open) < best->clampings + (single ? 0 : 1)) {
                            keepBest(next, std::move(more));
                        }
                    }
            }
            if (next.size() > mostStates) {
                complete = false;
                std::nth_element(
                    next.begin(), next.begin() + mostStates, next.end(),
                    [](const State& a, const State& b) { return a.done.count() > b.done.count(); });
                next.resize(mostStates);
            }
            level = std::move(next);
        }
        if (!complete) return;
        // Nothing better was left out, unless there are more stands than are tried.
        if (many) return;
        plan.leastClampings = best->clampings;
        plan.leastHoopings = static_cast<int>(best->steps.size());
    }

    std::size_t size;
    const std::vector<std::vector<std::size_t>>& before;
    const std::vector<Candidate>& candidates;
    const PlanLimits& limits;
    const std::stop_token& stop;
    bool ordered;
    /// Some frame has more standings than are tried one after the other.
    bool many = std::any_of(candidates.begin(), candidates.end(),
                            [](const Candidate& c) { return c.stands.size() > mostStandsTried; });
    bool single = std::all_of(candidates.begin(), candidates.end(),
                              [](const Candidate& c) { return c.stands.size() == 1; });
    Clock::time_point began = Clock::now();
    std::optional<State> best;
    SewingPlan plan;
    int first = 0;
    std::vector<PartSet> together; ///< parts that go into one clamping with each
};

} // namespace

SewingPlan planSewing(std::size_t size, const std::vector<std::vector<std::size_t>>& before,
                      const std::vector<Candidate>& candidates, const PlanLimits& limits,
                      std::stop_token stop) {
    return Sewing(size, before, candidates, limits, stop).run();
}

} // namespace rapt
