// Dividing random layouts, beside the plan that takes the most pieces each time, in the same run.

#include "divide/sewing_plan.h"
#include "library/library.h"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <chrono>
#include <random>

namespace {

using namespace rapt;

struct Layout {
    std::vector<Part> parts;
    std::vector<std::vector<std::size_t>> before;
};

/// Boxes of 5 to `sizeMm`, scattered over a square; where two overlap, the order counts.
Layout scattered(unsigned seed, int count, double reachMm, double sizeMm) {
    std::mt19937 dice(seed);
    const auto between = [&](double a, double b) { return a + (b - a) * (dice() / 4294967296.0); };
    Layout layout;
    layout.before.resize(static_cast<std::size_t>(count));
    for (int i = 0; i < count; ++i) {
        Part p;
        p.piece = std::to_string(i);
        const double w = between(5, sizeMm), h = between(5, sizeMm);
        p.box = Box::centredAt({between(-reachMm, reachMm), between(-reachMm, reachMm)}, w, h);
        for (const Vec2& c : p.box.corners()) p.hull.push_back(c);
        for (std::size_t j = 0; j < layout.parts.size(); ++j)
            if (layout.parts[j].box.overlaps(p.box))
                layout.before[layout.parts.size()].push_back(j);
        layout.parts.push_back(std::move(p));
    }
    return layout;
}

std::vector<Hoop> everyday() {
    Hoop h;
    h.id = "everyday";
    h.widthMm = 180;
    h.heightMm = 130;
    h.turns = {0, 90};
    return {h};
}

/// `count` parts in `layouts` random layouts: median seconds, share proved, clampings beside those
/// of the greedy plan.
void divideRandom(benchmark::State& state) {
    const auto count = static_cast<int>(state.range(0)), layouts = static_cast<int>(state.range(1));
    const double reach = 39 * std::sqrt(static_cast<double>(count));
    const auto hoops = everyday();
    for (auto _ : state) {
        std::vector<double> seconds;
        double proved = 0, best = 0, greedy = 0, bound = 0;
        for (int k = 1; k <= layouts; ++k) {
            const Layout l = scattered(static_cast<unsigned>(k), count, reach, 60);
            const auto begin = std::chrono::steady_clock::now();
            const auto candidates = placings(hoops, l.parts, 0);
            const SewingPlan plan = planSewing(l.parts.size(), l.before, candidates, {4.5, {}});
            seconds.push_back(
                std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count());
            proved += plan.proven();
            best += plan.clampings;
            bound += plan.leastClampings;
            greedy += planSewing(l.parts.size(), l.before, candidates, {0, {}}).clampings;
        }
        std::sort(seconds.begin(), seconds.end());
        state.counters["median_s"] = seconds[seconds.size() / 2];
        state.counters["worst_s"] = seconds.back();
        state.counters["proved"] = proved / layouts;
        state.counters["of_greedy"] = best / greedy;
        state.counters["of_bound"] = best / bound;
    }
}
BENCHMARK(divideRandom)
    ->Args({24, 50})
    ->Args({60, 50})
    ->Args({300, 4})
    ->Iterations(1)
    ->Unit(benchmark::kSecond);

} // namespace
