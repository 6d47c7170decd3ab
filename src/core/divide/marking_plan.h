#pragma once
// What to draw on the cloth before the first hooping, and where each frame then lies, in words.

#include "job/job.h"
#include "library/library.h"

#include <string>
#include <vector>

namespace rapt {

/// A paragraph of the plan under its head.
struct MarkingStep {
    std::string head;
    std::vector<std::string> lines;
};

/// A place of the cloth as people measure it: "12.0 mm (1/2 in) right of the upright line, on the
/// level line".
std::string fromLines(Vec2 p);

/// The datum lines from the cloth's edges, how to prove them square (equal diagonals), every mark
/// measured from them, and each frame by its centre marks; lengths in mm and inches. Empty without
/// hoopings.
std::vector<MarkingStep> markingPlan(const Job& job, const Library& library);

} // namespace rapt
