#pragma once
// What can be done about an overloaded patch, tried out before it is offered.

#include "load/load_findings.h"
#include "load/perforation.h"
#include "load/probe.h"

#include <stop_token>

namespace rapt {

/// Those of these that bring the patch under its limit without making the rest worse, at most four:
/// lay a piece with its own spacing, leave out what a later piece hides, open the spacing, move the
/// uppermost piece aside by the least way, leave out a thread run, enlarge a shrunken design.
std::vector<Remedy> findRemedies(const WeighedJob& weighed, const OverloadedPatch& patch,
                                 LoadKind kind, const LoadLimits& limits,
                                 const std::vector<Contribution>& parts, StitchCache* cache,
                                 std::stop_token stop = {});

/// A wider spacing of the piece if that brings the line under the limit.
void addPerforationRemedy(const Job& job, const PerforatedLine& line, double limit,
                          const std::string& pieceId, Finding& finding);

} // namespace rapt
