#pragma once
// What can be done about findings: edits, tried out before they are offered.

#include "load/load_findings.h"
#include "load/load_trial.h"

#include <stop_token>

namespace rapt {

/// Looks for remedies of one job's findings, one finding after the other. What it refers to must
/// outlive it. One thread.
class RemedySeeker {
public:
    /// What it refers to must outlive it.
    RemedySeeker(const WeighedJob& weighed, StitchCache& cache);
    ~RemedySeeker();

    /// Those that bring the finding's places under the limit, or under what is worth a word,
    /// without making others worse, the gentlest first, at most four; where nothing does, the first
    /// that helps. Empty when stopped.
    std::vector<Remedy> seek(const Finding& finding, std::stop_token stop = {});

private:
    struct Trials;
    const WeighedJob& weighed;
    StitchCache& cache;
    std::unique_ptr<Trials> trials; ///< made when the first overloaded place is asked for
};

/// Looks for the remedies that are open, in the order of the findings, until it is stopped; gives
/// how many are still open then.
std::size_t findRemedies(const WeighedJob& weighed, std::vector<Finding>& findings,
                         StitchCache& cache, std::stop_token stop = {});

/// Puts down what was found for a finding; where nothing was, what a person can do.
void takeRemedies(Finding& finding, std::vector<Remedy> remedies);

/// What a person can do where no edit mends a finding; empty if there is nothing to say.
std::string lastResort(const Finding& finding);

/// For findings about single stitches and lines of them: another spacing or length.
std::vector<Remedy> stitchRemedies(const WeighedJob& weighed, const Finding& finding);

} // namespace rapt
