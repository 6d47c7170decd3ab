#pragma once
// The best rigid motion for observations, and what surrounds it. Internal to the fit.

#include "base/result.h"
#include "job/observation.h"

#include <Eigen/Dense>

namespace rapt {

/// The observations that count.
using Used = std::vector<const Observation*>;

struct RigidSolution {
    double turn = 0; ///< radians, in (−π, π]
    Vec2 move;
    double cost = 0; ///< χ²
    Eigen::Matrix3d covariance;
};

/// The motion of least χ² over all turns. For a given turn the translation is linear; its
/// derivative by the turn is bracketed all round and bisected, so that no start has to be guessed.
/// Fails (cannotDo) with what is missing.
Result<RigidSolution> bestRigid(const Used& used);

/// Unit normal of the planned line.
Vec2 normalOf(const Observation& line);

/// An angle in (−π, π].
double wrapped(double radians);

} // namespace rapt
