#pragma once
// A remedy is tried on the whole job, against all findings, before it is offered. Internal to load.

#include "load/remedies.h"

namespace rapt {

class RemedyProof {
public:
    /// What it refers to must outlive it. One thread.
    RemedyProof(const Job& j, StitchCache& c, Judge how)
        : job(j), cache(c), judge(std::move(how)) {}

    /// True if nothing worse than a note is left of the finding after the edit (of a note,
    /// nothing), no other finding is new or worse, and nothing that is sewn changes.
    bool mends(const Finding& finding, const Edit& edit, const std::stop_token& stop);

    /// The first remedies of all findings that are worth a caution, one after the other as far as
    /// they are still needed, as one: at least two changes, after which no such finding is left.
    std::optional<Remedy> forAll(const std::vector<Finding>& findings, const std::stop_token& stop);

private:
    /// The findings of the job as it is, once they are known.
    const std::vector<Finding>* judgedBefore(const std::stop_token& stop);

    const Job& job;
    StitchCache& cache;
    Judge judge;
    std::optional<std::vector<Finding>> before;
};

} // namespace rapt
