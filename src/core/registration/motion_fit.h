#pragma once
// One motion from all that was seen of the cloth: weighted least squares over points, cards and
// lines, each with its own σ (docs/measures.md, "Observations").

#include "base/result.h"
#include "geometry/pose.h"
#include "job/observation.h"
#include "registration/fit.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// seen ≈ R(turn)·S·planned + translation, S = 1 for a rigid motion.
struct MotionFit {
    MotionModel model = MotionModel::rigid;
    Vec2 translation;
    double rotationDeg = 0;            ///< clockwise as seen, about the plan's origin
    double stretchX = 1, stretchY = 1; ///< of S
    double skew = 0;                   ///< of S: by how much x grows a mm of y
    Affine map;                        ///< plan to seen
    /// One an observation, also of those left out: seen − fitted; of a line the mean, across it.
    std::vector<Vec2> residuals;
    double rmsMm = 0; ///< √(Σ r²/n) over the observations used, of a line the mean square
    double chi = 0; ///< √(χ²/degrees of freedom): 1 where every σ is true; 0 without any freedom
    int freedom = 0; ///< numbers seen beyond those that the motion needs
    /// (JᵀWJ)⁻¹ of translation x, y (mm), rotation (rad) and what the model adds (stretch x, y,
    /// skew); row by row.
    std::vector<double> covariance;

    /// Where a planned place is found.
    Vec2 operator()(Vec2 planned) const { return map(planned); }
    /// Radial error to expect at a planned place from the observations' σ: √trace(G C Gᵀ).
    double sigmaAt(Vec2 planned) const;
};

/// What `rapt fit` reports of observations.
struct ObservationReport {
    MotionFit fit;
    std::optional<double> scale;               ///< of the best similarity of points and cards
    std::optional<double> squareErrorDeg;      ///< of their best affine map, or of two lines
    std::optional<double> squareSigmaDeg;      ///< 1σ of it, where it is of places
    std::optional<double> linesSquareErrorDeg; ///< of two lines, whatever places say
    std::optional<std::size_t> suspect;        ///< index of the observation that is likely wrong
    std::optional<MotionFit> withoutSuspect;
    bool suspectIsSerious = false; ///< it lies farther off than its own σ explains
    Verdict verdict = Verdict::good;
    std::string text; ///< the verdict in words, with its reason
};

/// Fits all observations that are not left out. Fails (cannotDo) with what is missing where they
/// leave the motion undetermined, and where only a mirror image explains them. Of motions half a
/// turn from each other that fit alike (lines alone) the lesser turn counts.
Result<ObservationReport> fitObservations(const std::vector<Observation>& observations,
                                          MotionModel model = MotionModel::rigid);

/// "turned 1.2° clockwise, 3.4 mm to the right and 1.0 mm towards you".
std::string motionText(const MotionFit& fit);

} // namespace rapt
