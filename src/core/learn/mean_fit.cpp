#include "learn/mean_fit.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>

namespace rapt {
namespace {

/// Interval of a σ that was estimated with so many degrees of freedom.
Interval sigmaInterval(double sigma, double freedom) {
    const boost::math::chi_squared chi(std::max(1.0, freedom));
    return {sigma * std::sqrt(freedom / quantile(chi, (1 + intervalLevel) / 2)),
            sigma * std::sqrt(freedom / quantile(chi, (1 - intervalLevel) / 2))};
}

double squareOf(const MeasuredJoins& j) {
    double sum = 0;
    for (const double g : j.gapsMm) sum += g * g;
    return sum;
}

/// σ² that explains the gaps best, each weighed by how exactly it tells.
double commonSquare(const std::vector<MeasuredJoins>& joins, const std::vector<double>& drawIn2) {
    double sum = 0, weight = 0;
    for (const MeasuredJoins& j : joins) {
        const double n = static_cast<double>(j.gapsMm.size());
        sum += (squareOf(j) - n * drawIn2[j.group]) / j.share;
        weight += n;
    }
    return std::max(1e-6, sum / weight);
}

} // namespace

std::optional<MeanFit> meanOf(const std::vector<double>& values) {
    if (values.size() < 2) return std::nullopt;
    const double n = static_cast<double>(values.size());
    double mean = 0, squares = 0;
    for (const double v : values) mean += v / n;
    for (const double v : values) squares += (v - mean) * (v - mean);
    const boost::math::students_t t(n - 1);
    const double half = quantile(t, (1 + intervalLevel) / 2) * std::sqrt(squares / (n - 1) / n);
    return MeanFit{values.size(), mean, {mean - half, mean + half}};
}

std::optional<MeanFit> factorOf(const std::vector<double>& factors) {
    std::vector<double> logs;
    for (const double f : factors)
        if (f > 0) logs.push_back(std::log(f));
    auto fit = meanOf(logs);
    if (!fit) return std::nullopt;
    return MeanFit{fit->cases,
                   std::exp(fit->value),
                   {std::exp(fit->interval.low), std::exp(fit->interval.high)}};
}

std::optional<PlacingFit> fitPlacing(const std::vector<MeasuredJoins>& joins, std::size_t groups) {
    std::size_t gaps = 0;
    for (const MeasuredJoins& j : joins) gaps += j.gapsMm.size();
    if (gaps == 0) return std::nullopt;
    std::vector<double> assumed(groups, 0), count(groups, 0), drawIn2(groups, 0),
        squares(groups, 0);
    std::vector<std::size_t> records(groups, 0);
    for (const MeasuredJoins& j : joins) {
        const double n = static_cast<double>(j.gapsMm.size());
        assumed[j.group] += n * j.drawInMm * j.drawInMm;
        count[j.group] += n;
        squares[j.group] += squareOf(j);
        ++records[j.group];
    }
    for (std::size_t g = 0; g < groups; ++g)
        if (count[g] > 0) drawIn2[g] = assumed[g] /= count[g];
    double sigma2 = 0;
    for (int round = 0; round < 50; ++round) {
        sigma2 = commonSquare(joins, drawIn2);
        std::vector<double> rest(groups, 0);
        for (const MeasuredJoins& j : joins)
            rest[j.group] += squareOf(j) - static_cast<double>(j.gapsMm.size()) * j.share * sigma2;
        for (std::size_t g = 0; g < groups; ++g)
            drawIn2[g] =
                std::max(0.0, (drawInCases * assumed[g] + rest[g]) / (drawInCases + count[g]));
    }
    PlacingFit fit;
    const double sigma = std::sqrt(sigma2);
    // Gaps of one stitch-out share their clampings: they count as one place, of two axes.
    fit.sigma = {gaps, sigma, sigmaInterval(sigma, 2.0 * static_cast<double>(joins.size()))};
    for (std::size_t g = 0; g < groups; ++g) {
        // A squared gap scatters by about its mean; that goes into the draw-in's square.
        const double n = static_cast<double>(records[g]),
                     mean = squares[g] / std::max(1.0, count[g]);
        const double half = 1.645 * mean / std::sqrt(std::max(1.0, n)) * n / (drawInCases + n);
        fit.drawIn.push_back(
            {static_cast<std::size_t>(count[g]),
             std::sqrt(drawIn2[g]),
             {std::sqrt(std::max(0.0, drawIn2[g] - half)), std::sqrt(drawIn2[g] + half)}});
    }
    return fit;
}

} // namespace rapt
