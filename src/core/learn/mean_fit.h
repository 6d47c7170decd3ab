#pragma once
// Means with their intervals, and the placing error behind measured join gaps (docs/measures.md,
// "Learning").

#include "learn/limit_fit.h"

#include <optional>

namespace rapt {

struct MeanFit {
    std::size_t cases = 0;
    double value = 0;
    Interval interval;
};

/// The mean and its interval by Student's t; nothing below two values.
std::optional<MeanFit> meanOf(const std::vector<double>& values);

/// The geometric mean of factors (all above 0), likewise.
std::optional<MeanFit> factorOf(const std::vector<double>& factors);

/// The measured gaps of one stitch-out, and what was forecast: rms² = share·σ² + drawIn².
struct MeasuredJoins {
    std::size_t group = 0; ///< of the draw-in: the fabric
    std::vector<double> gapsMm;
    double share = 4;    ///< by how much the plan multiplies σ²
    double drawInMm = 0; ///< that was assumed
};

struct PlacingFit {
    MeanFit sigma;               ///< per axis
    std::vector<MeanFit> drawIn; ///< by group
};

/// σ of placing, common to all, and the draw-in of each group, from mean squares; the assumed
/// draw-in counts like `drawInCases` gaps. Nothing without gaps.
std::optional<PlacingFit> fitPlacing(const std::vector<MeasuredJoins>& joins, std::size_t groups);
inline constexpr double drawInCases = 12;

} // namespace rapt
