#pragma once
// What a person chose that would not come out as meant: thread that does not show, words that read
// backwards, a name in two spellings, a needle or a stabilizer that does not suit, a bobbin that
// runs out.

#include "divide/hooping_lists.h"
#include "load/load_findings.h"

namespace rapt {

/// Kinds: thread-hidden, backwards, mirrored-copy, spelling, needle-thin, needle-thick,
/// stabilizer-missing, topper-missing (docs/measures.md, "Choices").
std::vector<Finding> choiceFindings(const WeighedJob& weighed, StitchCache& cache);

/// A bobbin that is empty before its hooping ends (bobbin-short), and the hoopings before which a
/// full one goes in (bobbin-change). `lists` are those of all hoopings.
std::vector<Finding> bobbinFindings(const Job& job, const std::vector<HoopingList>& lists,
                                    const Machine& machine);

} // namespace rapt
