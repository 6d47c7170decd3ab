#pragma once
// How well the parts of a plan will meet: the gap at each join, from what is known of placing.
// Millimetres, cloth frame.

#include "divide/parts.h"
#include "job/job.h"
#include "library/library.h"

namespace rapt {

/// How later clampings are found on the cloth.
enum class Method {
    datum, ///< every clamping is measured from the lines drawn on the cloth
    chain, ///< every later one from marks that an earlier one sewed
    turn,  ///< all in one clamping; the frame turns or moves the field
};
const char* nameOf(Method method);

/// By which method a plan's marks show that its clampings are found.
Method methodOf(const std::vector<Hooping>& hoopings);

/// Where two hoopings meet.
struct Join {
    std::size_t earlier = 0, later = 0; ///< hoopings, from 0
    Vec2 at;                            ///< between them, where they come nearest
    double apartMm = 0;                 ///< 0 where they touch or overlap
};

/// For every hooping but the first, where it comes nearest to an earlier one; and once more for
/// every pair of hoopings that share a cut piece.
std::vector<Join> joinsOf(const std::vector<Hooping>& hoopings, const std::vector<Part>& parts,
                          const std::vector<std::vector<std::size_t>>& sewn);

/// What placing is worth.
struct PlacingNoise {
    double markMm = 0.3;   ///< σ of a mark, each axis
    double frameMm = 0.05; ///< σ between positions of one clamping, each axis
    double drawInMm = 0;   ///< by how much sewn cloth draws in at a join
};

/// Of the person, the frame and the fabric of a job's plan.
PlacingNoise placingNoise(const Job& job, Method method, const Library& library);

/// Gap at one join over many trials.
struct JoinForecast {
    Join join;
    double medianMm = 0, p95Mm = 0, rmsMm = 0;
};

/// 10,000 trials (seeded): every clamping is found by the least-squares fit of its misplaced marks;
/// in a chain from where the earlier one really stood. Formulas in docs/measures.md.
std::vector<JoinForecast> forecastJoins(const std::vector<Hooping>& hoopings,
                                        const std::vector<Join>& joins, Method method,
                                        const PlacingNoise& noise, int trials = 10'000);

/// The joins of the plan that a job has; by which method it shows itself. Fails as partsOf does.
Result<std::vector<JoinForecast>> forecastPlan(const Job& job, const Library& library,
                                               StitchCache& cache, std::stop_token stop = {});

/// The widest gap to expect at any join, 95th percentile; 0 without any.
double worstOf(const std::vector<JoinForecast>& forecast);

/// RMS over all joins; 0 without any.
double rmsOf(const std::vector<JoinForecast>& forecast);

} // namespace rapt
