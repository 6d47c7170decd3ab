#pragma once
// What would make a job cheaper: another order, another frame, another machine.

#include "divide/division.h"
#include "estimate/price.h"

namespace rapt {

struct Saving {
    std::string words;        ///< what to do
    double seconds = 0;       ///< less, for the whole quantity
    double money = 0;         ///< less of the cost
    std::optional<Job> job{}; ///< the job so; nothing for another machine
    std::string machine{};    ///< id of the other machine
};

/// The job as it is planned, and its figures now.
struct SavingsRequest {
    const Job& job;
    const Library& library;
    Machine machine;
    Fabric fabric;
    ShopRates shop;
    int quantity = 1;
    double secondsEach = 1.5; ///< of searching, for each frame
};

/// Those worth at least a hundredth of the cost, the largest first. Takes seconds: frames are
/// planned. Fails as hoopingLists and workOf do, and (cancelled) when stopped.
Result<std::vector<Saving>> savingsOf(const SavingsRequest& request, StitchCache& cache,
                                      std::stop_token stop = {});

} // namespace rapt
