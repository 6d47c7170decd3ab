#pragma once
// Where the cloth really is: the rigid motion from planned to seen points (docs/measures.md).

#include "base/result.h"
#include "geometry/vec2.h"
#include "library/practice.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// Where a point should be and where it is.
struct PointPair {
    std::string name;
    Vec2 planned;
    Vec2 seen;
};

/// seen ≈ R(rotation)·planned + translation, in least squares (Arun, Huang and Blostein 1987, in
/// the plane). Rotation is clockwise as seen, about the plan's origin.
struct RigidFit {
    Vec2 translation;
    double rotationDeg = 0;
    double rmsMm = 0;
    std::vector<Vec2> residuals; ///< seen − fitted, in the order of the points

    /// Where a planned place is found.
    Vec2 operator()(Vec2 planned) const;
};

/// What a person should do with a fit.
enum class Verdict {
    good,  ///< sew with the correction
    doubt, ///< one point is likely wrong, or the cloth is stretched: look again
    redo,  ///< the points do not fit the plan
};
/// Its stable name.
const char* nameOf(Verdict verdict);

/// What `rapt fit` reports.
struct FitReport {
    RigidFit fit;
    double scale = 1;                       ///< of the best similarity, seen ÷ planned
    std::optional<double> squareErrorDeg;   ///< none below three points or on one line
    std::optional<std::size_t> suspect;     ///< index of the point that is likely wrong
    std::optional<RigidFit> withoutSuspect; ///< its residuals leave that point out
    Verdict verdict = Verdict::good;
    std::string text; ///< the verdict in words, with its reason
};

/// Fits all points. Fails (cannotDo) for fewer than two points, coinciding points, and points that
/// only a mirror image explains.
Result<FitReport> fitPoints(const std::vector<PointPair>& points,
                            double sigmaMm = defaultPlacingSigmaMm);

/// Predicted radial error (RMS, mm) of a fit of these planned points at a place:
/// σ·√(2/n + |p − c|²/Σ|pᵢ − c|²) (docs/measures.md; Fitzpatrick, West and Maurer 1998, in the
/// plane).
double predictedErrorMm(const std::vector<Vec2>& planned, Vec2 at, double sigmaMm);

} // namespace rapt
