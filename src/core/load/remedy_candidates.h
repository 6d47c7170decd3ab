#pragma once
// Edits that may mend a place where too much thread lies, before they are tried. Internal to load.

#include "load/load_findings.h"
#include "load/probe.h"

namespace rapt {

/// The worst place of a finding.
struct OverloadedPlace {
    LoadKind kind = LoadKind::layers;
    double peak = 0, limit = 0;
    Vec2 at;
    Box box; ///< of the patch
    std::vector<Contribution> parts;
};

/// An edit that may help.
struct RemedyCandidate {
    RemedyKind kind;
    std::string label;
    Edit edit;
};

/// The gentlest first; several of one kind, in the order in which they are to be tried.
std::vector<RemedyCandidate> remedyCandidates(const WeighedJob& weighed,
                                              const OverloadedPlace& place);

} // namespace rapt
