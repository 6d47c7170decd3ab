#pragma once
// What can be done about findings: edits, tried out before they are offered.

#include "load/load_findings.h"
#include "load/load_trial.h"

#include <functional>
#include <stop_token>

namespace rapt {

class RemedyProof;

/// All findings of a job, as a remedy is tried against them. Fails as judgeJob does.
using Judge =
    std::function<Result<std::vector<Finding>>(const Job&, StitchCache&, std::stop_token)>;

/// Looks for remedies of one job's findings, one finding after the other. What it refers to must
/// outlive it. One thread.
class RemedySeeker {
public:
    /// What it refers to must outlive it.
    RemedySeeker(const WeighedJob& weighed, StitchCache& cache, Judge judge);
    ~RemedySeeker();

    /// Those that mend it, tried on the whole job against all findings (nothing of it is left that
    /// is worth a caution, nothing else is new or worse), the gentlest first, at most four.
    /// Remedies that the finding brings along are tried alike. Empty when stopped.
    std::vector<Remedy> seek(const Finding& finding, std::stop_token stop = {});

    /// Once no finding's remedies are open: adds to the first finding what mends them all, if their
    /// first remedies do so together.
    void addForAll(std::vector<Finding>& findings, std::stop_token stop = {});

private:
    struct Trials;
    std::vector<Remedy> overloadRemedies(const Finding& finding, const std::stop_token& stop);

    const WeighedJob& weighed;
    StitchCache& cache;
    std::unique_ptr<RemedyProof> proof;
    std::unique_ptr<Trials> trials; ///< made when the first overloaded place is asked for
};

/// Looks for the remedies that are open, in the order of the findings, until it is stopped; gives
/// how many are still open then.
std::size_t findRemedies(const WeighedJob& weighed, std::vector<Finding>& findings,
                         StitchCache& cache, Judge judge, std::stop_token stop = {});

/// Puts down what was found for a finding; where nothing was, what a person can do.
void takeRemedies(Finding& finding, std::vector<Remedy> remedies);

/// What a person can do where no edit mends a finding; empty if there is nothing to say.
std::string lastResort(const Finding& finding);

/// For findings about single stitches and lines of them: another spacing or length.
std::vector<Remedy> stitchRemedies(const WeighedJob& weighed, const Finding& finding);

} // namespace rapt
