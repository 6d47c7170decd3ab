#pragma once
// What can be done about an overloaded patch, tried out before it is offered.

#include "job/finding.h"
#include "load/limits.h"
#include "load/probe.h"

#include <optional>
#include <stop_token>

namespace rapt {

/// The first of these that brings the patch under its limit without making the rest worse: stitch
/// a recipe afresh, open its spacing, enlarge a shrunken design, move the uppermost piece aside by
/// the least way. Nothing if none helps.
std::optional<Remedy> findRemedy(const Job& job, const OverloadedPatch& patch,
                                 const LoadLimits& limits, const std::vector<Contribution>& parts,
                                 std::stop_token stop = {});

} // namespace rapt
