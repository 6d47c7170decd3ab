#include "sequence/fewest_changes.h"

#include <algorithm>
#include <cstdint>
#include <map>
#include <queue>
#include <unordered_map>

namespace rapt {
namespace {

// So many states take a few seconds; those of many items are larger.
constexpr std::size_t mostStates = 400'000, mostLargeStates = 20'000, manyItems = 64;
// Larger jobs: this many states of every length are carried on.
constexpr std::size_t beamWidth = 48;
constexpr int noThread = -1;

using Done = std::vector<std::uint64_t>;

bool has(const Done& done, std::size_t i) { return done[i / 64] >> (i % 64) & 1; }
void set(Done& done, std::size_t i) { done[i / 64] |= std::uint64_t{1} << (i % 64); }

struct DoneHash {
    std::size_t operator()(const std::pair<Done, int>& key) const {
        std::size_t h = static_cast<std::size_t>(key.second) * 0x9e3779b97f4a7c15u;
        for (const std::uint64_t word : key.first) h = (h ^ word) * 0xff51afd7ed558ccdu ^ (h >> 31);
        return h;
    }
};

class Search {
public:
    explicit Search(const OrderProblem& p) : items(p.items), words((p.items.size() + 63) / 64) {
        std::map<int, int> numbers;
        for (SewnItem& item : items)
            for (int* thread : {&item.first, &item.last})
                *thread = numbers.emplace(*thread, static_cast<int>(numbers.size())).first->second;
        threads = numbers.size();
        before.resize(items.size());
        for (const auto& [a, b] : p.before) before[b].push_back(a);
        sortByRank();
    }

    OrderSolution run(std::stop_token stop) {
        OrderSolution best = beam();
        best.lowerBound = std::max(0, visitsLeft(Done(words, 0)) - 1);
        if (best.changes > best.lowerBound) bestFirst(best, stop);
        return best;
    }

private:
    struct State {
        Done done;
        int thread = noThread; ///< on the needle
        int cost = 0;          ///< threads put on, the first one included
        std::int64_t parent = -1;
        std::vector<std::size_t> sewn{}; ///< since the parent
    };

    /// Items in an order in which each comes after those it must follow.
    void sortByRank() {
        std::vector<int> rank(items.size(), 0);
        for (std::size_t pass = 0; pass < items.size(); ++pass) {
            bool changed = false;
            for (std::size_t i = 0; i < items.size(); ++i)
                for (const std::size_t a : before[i])
                    if (rank[i] <= rank[a]) {
                        rank[i] = rank[a] + 1;
                        changed = true;
                    }
            if (!changed) break;
        }
        for (std::size_t i = 0; i < items.size(); ++i) ranked.push_back(i);
        std::stable_sort(ranked.begin(), ranked.end(),
                         [&](std::size_t a, std::size_t b) { return rank[a] < rank[b]; });
    }

    bool ready(const Done& done, std::size_t i) const {
        if (has(done, i)) return false;
        return std::all_of(before[i].begin(), before[i].end(),
                           [&](std::size_t a) { return has(done, a); });
    }

    /// Sews everything plain that can be sewn with the thread on the needle: leaving it for later
    /// never helps.
    void carryOn(State& s) const {
        for (bool any = true; any;) {
            any = false;
            for (const std::size_t i : ranked)
                if (items[i].isPlain() && items[i].first == s.thread && ready(s.done, i)) {
                    set(s.done, i);
                    s.sewn.push_back(i);
                    any = true;
                }
        }
    }

    bool finished(const Done& done) const {
        for (std::size_t i = 0; i < items.size(); ++i)
            if (!has(done, i)) return false;
        return true;
    }

    /// How often threads must still be put on: for each thread the most separate visits along any
    /// chain of items that must follow each other. Items of two threads may save a visit of each.
    int visitsLeft(const Done& done) const {
        int sum = 0;
        std::vector<int> visits(items.size());
        for (int t = 0; t < static_cast<int>(threads); ++t) {
            int most = 0, saved = 0;
            for (const std::size_t i : ranked) {
                visits[i] = 0;
                if (has(done, i)) continue;
                const bool own = items[i].isPlain() && items[i].first == t;
                if (!items[i].isPlain() && (items[i].first == t || items[i].last == t)) ++saved;
                for (const std::size_t a : before[i]) {
                    if (has(done, a)) continue;
                    const bool same = items[a].isPlain() && items[a].first == t;
                    visits[i] = std::max(visits[i], visits[a] + (own && !same ? 1 : 0));
                }
                if (own) visits[i] = std::max(visits[i], 1);
                most = std::max(most, visits[i]);
            }
            sum += std::max(0, most - saved);
        }
        return sum;
    }

    template<class Visit>
    void eachNext(const State& s, Visit visit) const {
        std::vector<bool> tried(threads, false);
        for (std::size_t i = 0; i < items.size(); ++i) {
            if (!ready(s.done, i)) continue;
            const SewnItem& item = items[i];
            if (item.isPlain() && tried[static_cast<std::size_t>(item.first)]) continue;
            if (item.isPlain()) tried[static_cast<std::size_t>(item.first)] = true;
            State next;
            next.done = s.done;
            next.cost = s.cost + (item.first != s.thread);
            next.thread = item.last;
            if (!item.isPlain()) {
                // What its first thread can sew beforehand costs nothing.
                next.thread = item.first;
                carryOn(next);
                next.thread = item.last;
                set(next.done, i);
                next.sewn.push_back(i);
            }
            carryOn(next);
            visit(std::move(next));
        }
    }

    OrderSolution solution(const std::vector<State>& states, std::size_t last) const {
        std::vector<const State*> way;
        for (auto k = static_cast<std::int64_t>(last); k >= 0;
             k = states[static_cast<std::size_t>(k)].parent)
            way.push_back(&states[static_cast<std::size_t>(k)]);
        OrderSolution s;
        for (auto it = way.rbegin(); it != way.rend(); ++it)
            s.order.insert(s.order.end(), (*it)->sewn.begin(), (*it)->sewn.end());
        s.changes = std::max(0, states[last].cost - 1);
        return s;
    }

    /// Good orders quickly: the most promising states of each length.
    OrderSolution beam() const {
        std::vector<State> states(1);
        states[0].done.assign(words, 0);
        std::vector<std::size_t> front{0};
        while (true) {
            for (const std::size_t k : front)
                if (finished(states[k].done)) return solution(states, k);
            std::vector<std::pair<int, std::size_t>> next;
            std::unordered_map<std::pair<Done, int>, int, DoneHash> seen;
            for (const std::size_t k : front) {
                const State from = states[k];
                eachNext(from, [&](State s) {
                    s.parent = static_cast<std::int64_t>(k);
                    const auto [it, fresh] = seen.emplace(std::pair{s.done, s.thread}, s.cost);
                    if (!fresh && it->second <= s.cost) return;
                    it->second = s.cost;
                    next.emplace_back(s.cost + visitsLeft(s.done), states.size());
                    states.push_back(std::move(s));
                });
            }
            std::stable_sort(next.begin(), next.end());
            if (next.size() > beamWidth) next.resize(beamWidth);
            front.clear();
            for (const auto& [cost, k] : next) front.push_back(k);
        }
    }

    /// Improves `best` until it is proved minimal or the states run out.
    void bestFirst(OrderSolution& best, std::stop_token stop) const {
        std::vector<State> states(1);
        states[0].done.assign(words, 0);
        // By cost to the end, then by what is done: deep states first.
        using Entry = std::pair<std::pair<int, int>, std::size_t>;
        std::priority_queue<Entry, std::vector<Entry>, std::greater<>> open;
        open.push({{visitsLeft(states[0].done), 0}, 0});
        std::unordered_map<std::pair<Done, int>, int, DoneHash> seen;
        while (!open.empty()) {
            const auto [rank, k] = open.top();
            open.pop();
            best.lowerBound = std::max(best.lowerBound, std::min(rank.first - 1, best.changes));
            if (best.lowerBound >= best.changes) return;
            if (finished(states[k].done)) {
                best = solution(states, k);
                best.lowerBound = best.changes;
                return;
            }
            if (states.size() > (items.size() > manyItems ? mostLargeStates : mostStates) ||
                stop.stop_requested())
                return;
            const State from = states[k];
            const auto known = seen.find({from.done, from.thread});
            if (known != seen.end() && known->second < from.cost) continue;
            eachNext(from, [&](State s) {
                const auto [it, fresh] = seen.emplace(std::pair{s.done, s.thread}, s.cost);
                if (!fresh && it->second <= s.cost) return;
                it->second = s.cost;
                s.parent = static_cast<std::int64_t>(k);
                open.push({{s.cost + visitsLeft(s.done), -s.cost}, states.size()});
                states.push_back(std::move(s));
            });
        }
        best.lowerBound = best.changes;
    }

    std::vector<SewnItem> items;
    std::size_t words, threads = 0;
    std::vector<std::vector<std::size_t>> before;
    std::vector<std::size_t> ranked;
};

} // namespace

OrderSolution fewestChanges(const OrderProblem& problem, std::stop_token stop) {
    if (problem.items.empty()) return {};
    return Search(problem).run(stop);
}

} // namespace rapt
