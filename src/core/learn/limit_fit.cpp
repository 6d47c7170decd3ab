#include "learn/limit_fit.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace rapt {
namespace {

constexpr double step = 0.01;                                        ///< of ln load
const int reach = static_cast<int>(std::ceil(std::log(3.0) / step)); ///< the limit's, either way
const int span = 3 * reach;                                          ///< the loads'
constexpr std::array slopes{0.02, 0.05, 0.1, 0.18, 0.3};
constexpr std::array anyhow{0.005, 0.02, 0.05, 0.1, 0.2, 0.3};
constexpr std::array luck{0.005, 0.02, 0.05, 0.1, 0.2};
constexpr double limitShare = 0.1;
constexpr std::size_t leastCases = 15, leastOfEach = 4;
constexpr double leastEvidence = 4; ///< 55 to 1

/// Cases of one load, by steps from the house value.
struct Bin {
    int at = 0;
    double troubles = 0, fine = 0;
};

std::vector<Bin> binned(const std::vector<LoadCase>& cases, double house, LimitFit& fit) {
    std::vector<Bin> all(static_cast<std::size_t>(2 * span + 1));
    for (const LoadCase& c : cases) {
        if (!(c.load > 0) || !std::isfinite(c.load)) continue;
        const double at = std::round(std::log(c.load / house) / step);
        const int k = static_cast<int>(std::clamp<double>(at, -span, span));
        Bin& bin = all[static_cast<std::size_t>(k + span)];
        bin.at = k;
        (c.trouble ? bin.troubles : bin.fine) += 1;
        ++fit.cases;
        fit.troubles += c.trouble;
    }
    std::erase_if(all, [](const Bin& b) { return b.troubles + b.fine == 0; });
    return all;
}

/// ln P and ln(1 − P) of trouble, by steps of the load over the limit.
struct Curve {
    std::vector<double> trouble, fine;

    Curve(double slope, double g, double h) {
        // At the limit one in ten goes wrong for the load's sake.
        const double share = limitShare / (1 - g - h);
        const double there = std::log(share / (1 - share));
        for (int k = -span - reach; k <= span + reach; ++k) {
            const double p = g + (1 - g - h) / (1 + std::exp(-k * step / slope - there));
            trouble.push_back(std::log(p));
            fine.push_back(std::log1p(-p));
        }
    }
    double of(const std::vector<Bin>& bins, int limit) const {
        double sum = 0;
        for (const Bin& b : bins) {
            const auto k = static_cast<std::size_t>(b.at - limit + span + reach);
            sum += b.troubles * trouble[k] + b.fine * fine[k];
        }
        return sum;
    }
};

/// ln Σ exp of the values of each limit, over all curves; every curve is as likely before.
std::vector<double> posterior(const std::vector<Bin>& bins) {
    const auto limits = static_cast<std::size_t>(2 * reach + 1);
    std::vector<double> best(limits, -1e300), sum(limits, 0);
    for (const double w : slopes)
        for (const double g : anyhow)
            for (const double h : luck) {
                const Curve curve(w, g, h);
                for (std::size_t i = 0; i < limits; ++i) {
                    const double v = curve.of(bins, static_cast<int>(i) - reach);
                    if (v > best[i]) {
                        sum[i] *= std::exp(best[i] - v);
                        best[i] = v;
                    }
                    sum[i] += std::exp(v - best[i]);
                }
            }
    const double curves = slopes.size() * anyhow.size() * luck.size();
    for (std::size_t i = 0; i < limits; ++i) best[i] += std::log(sum[i] / curves);
    return best;
}

/// Where the share of the whole weight is reached, in steps from the house value.
double quantile(const std::vector<double>& weight, double whole, double share) {
    double sum = 0;
    for (std::size_t i = 0; i < weight.size(); ++i) {
        if (sum + weight[i] >= share * whole)
            return static_cast<double>(i) - reach - 0.5 +
                   (weight[i] > 0 ? (share * whole - sum) / weight[i] : 0);
        sum += weight[i];
    }
    return reach;
}

} // namespace

LimitFit fitLimit(const std::vector<LoadCase>& cases, double house) {
    LimitFit fit;
    const std::vector<Bin> bins = binned(cases, house, fit);
    std::vector<double> weight = posterior(bins);
    const double most = *std::max_element(weight.begin(), weight.end());
    double whole = 0;
    for (double& w : weight) whole += w = std::exp(w - most);
    const auto at = [&](double share) {
        return house * std::exp(step * quantile(weight, whole, share));
    };
    fit.value = at(0.5);
    fit.interval = {at((1 - intervalLevel) / 2), at((1 + intervalLevel) / 2)};
    // Against a rate that the load does not change, any of which is as likely before.
    const double n = static_cast<double>(fit.cases), k = static_cast<double>(fit.troubles);
    const double constant = std::lgamma(k + 1) + std::lgamma(n - k + 1) - std::lgamma(n + 2);
    fit.evidence = most + std::log(whole / static_cast<double>(weight.size())) - constant;
    fit.isSettled = fit.cases >= leastCases && fit.troubles >= leastOfEach &&
                    fit.cases - fit.troubles >= leastOfEach && fit.evidence > leastEvidence;
    return fit;
}

} // namespace rapt
