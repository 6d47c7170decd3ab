#pragma once
// Which clampings, in which order, so that what lies on top is sewn later.

#include "divide/candidates.h"

#include <stop_token>

namespace rapt {

/// One hooping of a plan.
struct PlannedStand {
    std::size_t candidate = 0; ///< index; a candidate may be clamped more than once
    std::size_t stand = 0;     ///< of the candidate
    int clamping = 1;          ///< counted from 1, in sewing order
    PartSet parts;             ///< that are sewn there
};

/// A plan and true bounds for any plan.
struct SewingPlan {
    std::vector<PlannedStand> stands;
    int clampings = 0;
    int leastClampings = 0; ///< no plan has fewer
    int leastHoopings = 0;  ///< no plan with as few clampings as this one has fewer
    bool proven() const {
        return clampings == leastClampings && static_cast<int>(stands.size()) == leastHoopings;
    }
};

struct PlanLimits {
    double seconds = 5;
    std::vector<std::size_t> forced; ///< candidates that are clamped in any case
};

/// Fewest clampings, then fewest hoopings, for all `size` parts; `before[i]` are the parts (of
/// lower numbers) that are sewn before part i. A part must be in some candidate. Exact cover first;
/// where no order suits the cover that was found, other covers, then a search through what can be
/// sewn after what. When the time is up or `stop` asks, a good plan with its bounds.
SewingPlan planSewing(std::size_t size, const std::vector<std::vector<std::size_t>>& before,
                      const std::vector<Candidate>& candidates, const PlanLimits& limits = {},
                      std::stop_token stop = {});

} // namespace rapt
