#pragma once
// A whole job sewn on the simulated machine, with everything that a person does in between.

#include "standins/sewing_head.h"

namespace rapt::standins {

struct SewingRequest {
    const std::vector<Hooping>& hoopings;
    const std::vector<HoopingList>& lists; ///< of the same hoopings
    Machine machine;
    Fabric fabric;
    Faults faults = Faults::none;
    std::uint64_t seed = 1;
    std::optional<std::size_t> only{}; ///< one hooping, from 0
};

/// One penetration as it was made.
struct SewnLine {
    double seconds = 0; ///< from the start of all
    std::size_t hooping = 0;
    std::size_t number = 0; ///< of its list's penetrations, from 0
};
struct SewnEvent {
    double seconds = 0;
    std::size_t hooping = 0;
    std::size_t sewn = 0; ///< penetrations of the hooping done by then
    StopKind kind = StopKind::asked;
};
struct SewnResume {
    std::size_t hooping = 0;
    std::size_t sewn = 0;    ///< penetrations done when it stopped
    std::size_t overlap = 0; ///< of these sewn once more
};

struct SewingLog {
    std::vector<SewnLine> lines; ///< in the order of time
    std::vector<SewnEvent> events;
    std::vector<SewnResume> resumed;
    double seconds = 0;
};

/// Sews to the end, mending and resuming after every stop.
SewingLog sewJob(const SewingRequest& request);

/// How a list is set up: the threads of the job by its numbers, and its own seed.
SewingSetup setupFor(const SewingRequest& request, const JobThreads& threads, std::size_t hooping);

} // namespace rapt::standins
