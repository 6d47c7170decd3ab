// Prints how well limits are learnt from made-up stitch-outs: found within a tenth, held by the
// interval that is stated as nine in ten, and how often noise alone moves them.
//   rapt-learn-table [SEEDS]

#include "learn/limit_fit.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <random>

using namespace rapt;

namespace {

constexpr double house = 3;

std::vector<LoadCase> planted(double limit, double slope, double noise, unsigned seed) {
    std::mt19937 dice(seed);
    std::uniform_real_distribution<double> load(0.5 * limit, 1.6 * limit), share(0, 1);
    std::vector<LoadCase> cases;
    for (int i = 0; i < 60; ++i) {
        const double x = load(dice);
        // At the limit the load spoils one in ten.
        const double there = std::log(0.1 / (0.9 - 2 * noise));
        const double p =
            noise + (1 - 2 * noise) / (1 + std::exp(-std::log(x / limit) / slope - there));
        cases.push_back({x, share(dice) < p});
    }
    return cases;
}

void plantedRow(double slope, double noise, unsigned seeds) {
    unsigned held = 0, settled = 0, near = 0;
    const double limit = 3.6;
    for (unsigned seed = 1; seed <= seeds; ++seed) {
        const LimitFit fit = fitLimit(planted(limit, slope, noise, seed), house);
        held += fit.interval.low <= limit && limit <= fit.interval.high;
        settled += fit.isSettled;
        near += std::abs(fit.value / limit - 1) <= 0.1;
    }
    const double n = seeds / 100.0;
    std::printf("%6.2f %6.2f %9.1f %9.1f %9.1f\n", slope, noise, settled / n, near / n, held / n);
}

void noiseRow(double rate, unsigned seeds) {
    unsigned moved = 0;
    for (unsigned seed = 1; seed <= seeds; ++seed) {
        std::mt19937 dice(seed);
        std::uniform_real_distribution<double> load(1, 5), share(0, 1);
        std::vector<LoadCase> cases;
        for (int i = 0; i < 60; ++i) {
            const double x = load(dice);
            cases.push_back({x, share(dice) < rate});
        }
        moved += fitLimit(cases, house).isSettled;
    }
    std::printf("noise alone, %2.0f %% trouble: moved in %u of %u\n", 100 * rate, moved, seeds);
}

} // namespace

int main(int argc, char** argv) {
    const unsigned seeds = argc > 1 ? static_cast<unsigned>(std::atoi(argv[1])) : 500;
    std::puts(
        "60 stitch-outs each; percent of the seeds\n slope  noise   settled  within10  interval");
    for (const double slope : {0.01, 0.05, 0.1})
        for (const double noise : {0.0, 0.03, 0.1}) plantedRow(slope, noise, seeds);
    for (const double rate : {0.1, 0.3, 0.5}) noiseRow(rate, seeds);
}
