#pragma once
// How far a fit can be trusted over the field: what answers "true in the centre, off at the edge".
// Millimetres, field frame. Formulas in docs/measures.md.

#include "divide/forecast.h"
#include "divide/hooping_lists.h"
#include "registration/motion_fit.h"

namespace rapt {

/// What else than the fit makes an error.
struct TrustGround {
    /// Of places far from everything that was seen, per mm of the way to it (lens, bending cloth).
    double perMm = 0;
    std::vector<Vec2> seen; ///< planned places of what was seen
    std::vector<Box> sewn;  ///< earlier stitching
    double drawInMm = 0;    ///< at its edge
    double clothMm = 15;    ///< over which draw-in fades
};

/// Scans without a calibrated lens lose about so much per mm away from what was seen.
inline constexpr double bareLensPerMm = 0.002;
inline constexpr double clothPerMm = 0.0005; ///< cloth that is not quite flat

/// The ground of a registered hooping (from 1): earlier hoopings of other clampings are what is
/// sewn.
TrustGround trustGround(const Job& job, int hooping, const std::vector<HoopingList>& lists,
                        const Library& library);

/// Radial error to expect at a place (RMS): √(fit² + way² + draw-in²).
double trustAt(const MotionFit& fit, const TrustGround& ground, Vec2 place);

/// Values on a grid over a field.
struct TrustMap {
    Box area;
    double stepMm = 2;
    int columns = 0, rows = 0;
    std::vector<double> values; ///< row by row, at area.min + (i, j)·step
    double worst = 0;

    /// At the grid place nearest to p.
    double valueAt(Vec2 p) const;
    /// Lines where the value is `level`, as short straight parts.
    std::vector<std::array<Vec2, 2>> contour(double level) const;
};
TrustMap trustMap(const MotionFit& fit, const TrustGround& ground, const Box& area);

/// One further observation that helps most at the places asked for.
struct TrustAdvice {
    Vec2 at;             ///< where to lay a card or find a point
    double beforeMm = 0; ///< worst expected error at those places, now
    double afterMm = 0;  ///< and with it
};
/// Nothing if no place in the field brings the worst down by a tenth. `sigmaMm`: of what is added.
std::optional<TrustAdvice> bestNextPlace(const MotionFit& fit, const TrustGround& ground,
                                         const Box& field, const std::vector<Vec2>& places,
                                         double sigmaMm);

/// How two hoopings will really meet.
struct JoinCheck {
    Join join;
    double medianMm = 0, p95Mm = 0;                ///< of the gap
    bool earlierKnown = false, laterKnown = false; ///< registered; of neither: the forecast
    bool held = true;                              ///< within the limit at the 95th percentile
};
/// The joins of a plan, each registered clamping by its fit: as corrected where the person chose
/// so, else as planned. Clampings that are not registered lie as the forecast says. What cloth
/// draws in and how far positions of a frame agree (of `noise`) stay, however well a clamping is
/// known.
std::vector<JoinCheck> checkJoins(const Job& job, const std::vector<JoinForecast>& forecast,
                                  const PlacingNoise& noise);

} // namespace rapt
