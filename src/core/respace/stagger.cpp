#include "respace/stagger.h"

#include <complex>
#include <numbers>

namespace rapt {
namespace {

constexpr std::size_t longestPattern = 8;
// Rows whose phases scatter by more than this (1 − mean resultant) follow no pattern.
constexpr double mostScatter = 0.06;
// Needle points of one row must agree on a phase at least so well to count.
constexpr double leastAgreement = 0.9;
// Stitches of one row are meant as equal if they differ by less.
constexpr double equalShare = 0.08;

using Phase = std::complex<double>;

Phase turnOfPhase(double stitches) { return std::polar(1.0, 2 * std::numbers::pi * stitches); }

double median(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// How well row phases repeat every `period` rows, and the mean phases.
double scatterOf(const std::vector<Phase>& rows, std::size_t period, std::vector<double>& means) {
    std::vector<Phase> sums(period);
    std::vector<double> counts(period, 0);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (rows[i] == Phase{}) continue;
        sums[i % period] += rows[i];
        counts[i % period] += 1;
    }
    double together = 0, all = 0;
    means.assign(period, 0);
    for (std::size_t k = 0; k < period; ++k) {
        together += std::abs(sums[k]);
        all += counts[k];
        means[k] = std::arg(sums[k]) / (2 * std::numbers::pi);
        // A pattern shown by single rows proves nothing.
        if (counts[k] < 2 && rows.size() > period) return 1;
    }
    return all > 0 ? 1 - together / all : 1;
}

} // namespace

Stagger::Stagger(const SewnChain& chain, const SewnStretch& stretch, const ThreadHabits& habits) {
    // Rows may begin with the step from the row before: what lies between their inner points shows
    // the way without it.
    Vec2 ends, inside;
    for (std::size_t i = 0; i < stretch.rows.size(); ++i) {
        const SewnRow& row = stretch.rows[i];
        const double sign = i % 2 == 0 ? 1 : -1;
        ends = ends + (chain.rowTo(row) - chain.rowFrom(row)) * sign;
        if (row.to - row.from > 2)
            inside = inside + (chain.points[row.to - 1] - chain.points[row.from + 1]) * sign;
    }
    along = length(inside) > 0.1 * length(ends) ? inside : ends;
    along = along * (1 / std::max(1e-12, length(along)));
    readLengths(chain, stretch, habits);
    if (origin != Origin::none) readPattern(chain, stretch);
}

void Stagger::readLengths(const SewnChain& chain, const SewnStretch& stretch,
                          const ThreadHabits& habits) {
    std::vector<double> inner, ends;
    double longest = 0;
    for (const SewnRow& row : stretch.rows) {
        if (row.to - row.from == 1)
            longestRowMm = std::max(longestRowMm, distance(chain.rowFrom(row), chain.rowTo(row)));
        for (std::uint32_t i = row.from; i < row.to && row.to - row.from > 1; ++i) {
            const double size = distance(chain.points[i], chain.points[i + 1]);
            longest = std::max(longest, size);
            (i == row.from || i + 1 == row.to ? ends : inner).push_back(size);
        }
    }
    stitchMm = !inner.empty() ? median(inner) : longest > 0 ? longest : habits.fillStitchMm;
    longestRowMm = std::max(longestRowMm,
                            longest > 0 || habits.fillStitchMm > 0 ? 1.5 * stitchMm : snagStitchMm);
    if (ends.empty()) return;
    origin = Origin::plane;
    std::sort(ends.begin(), ends.end());
    leastEndMm = std::max(shortStitchMm, ends[ends.size() / 20]);
    leastEndMm = std::min(leastEndMm, 0.5 * stitchMm);
}

bool Stagger::isEven(const SewnChain& chain, const SewnStretch& stretch) const {
    std::size_t even = 0, all = 0;
    for (const SewnRow& row : stretch.rows) {
        if (row.to - row.from < 2) continue;
        double least = 1e9, most = 0;
        for (std::uint32_t i = row.from; i < row.to; ++i) {
            const double size = distance(chain.points[i], chain.points[i + 1]);
            least = std::min(least, size);
            most = std::max(most, size);
        }
        ++all;
        even += most - least < equalShare * most;
    }
    return even * 10 >= all * 8;
}

void Stagger::readPattern(const SewnChain& chain, const SewnStretch& stretch) {
    if (isEven(chain, stretch)) {
        origin = Origin::even;
        return;
    }
    double best = mostScatter;
    const std::vector<double> usual{0, 0.5, 0.25, 0.75};
    phases = usual;
    for (const Origin tried : {Origin::plane, Origin::firstSide, Origin::rowStart}) {
        std::vector<Phase> rows(stretch.rows.size());
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const SewnRow& row = stretch.rows[i];
            const bool forth = i % 2 == 0;
            const Vec2 zero = tried == Origin::plane                 ? Vec2{}
                              : tried == Origin::firstSide && !forth ? chain.rowTo(row)
                                                                     : chain.rowFrom(row);
            const double sign = tried == Origin::rowStart && !forth ? -1 : 1;
            Phase sum;
            for (std::uint32_t k = row.from + 1; k < row.to; ++k)
                sum += turnOfPhase(sign * dot(chain.points[k] - zero, along) / stitchMm);
            const double count = row.to - row.from - 1;
            if (count > 0 && std::abs(sum) > leastAgreement * count) rows[i] = sum / std::abs(sum);
        }
        std::vector<double> means;
        for (std::size_t period = 1; period <= std::min(longestPattern, rows.size()); ++period) {
            const double scatter = scatterOf(rows, period, means);
            // A longer pattern must be plainly better.
            if (scatter > best - (best < mostScatter ? 0.02 : 0)) continue;
            best = scatter;
            origin = tried;
            phases = means;
        }
    }
}

void Stagger::pointsOf(Vec2 from, Vec2 to, std::size_t row, std::vector<double>& out) const {
    out.clear();
    const double size = distance(from, to);
    if (origin == Origin::none && size <= longestRowMm) return;
    if (size <= 0) return;
    if (origin == Origin::even || origin == Origin::none) {
        const int parts = std::max(1, static_cast<int>(std::lround(size / stitchMm)));
        // Rows that never had points inside must not get a ridge of them.
        const double shift = origin == Origin::none && row % 2 == 1 ? 0.25 : 0;
        for (int k = 1; k < parts; ++k) out.push_back(size * (k + shift) / (parts + shift));
        return;
    }
    const double phase = phases[row % phases.size()] * stitchMm;
    const bool forth = row % 2 == 0;
    // Where the first needle point after the row's start is counted from.
    double zero = phase; // distance from the row's start, towards its end
    if (origin == Origin::plane)
        zero = forth ? phase - dot(from, along) : dot(from, along) - phase;
    else if (origin == Origin::firstSide && !forth)
        zero = size - phase;
    const double first = std::ceil((leastEndMm - zero) / stitchMm - 1e-9);
    for (double d = zero + first * stitchMm; d <= size - leastEndMm + 1e-9; d += stitchMm)
        out.push_back(d);
}

} // namespace rapt
