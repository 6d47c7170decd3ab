#pragma once
// From what a job says was seen to what can be fitted.

#include "job/job.h"
#include "registration/fit.h"

namespace rapt {

/// The points of a registration of which both sides are known, field frame.
std::vector<PointPair> seenPairs(const Registration& registration);

} // namespace rapt
