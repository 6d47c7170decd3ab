#pragma once
// Several hoopings, jobs and machines: what runs when, and when a person is needed.

#include "handover/needles.h"

namespace rapt {

/// One hooping that waits to be sewn.
struct QueueItem {
    std::string id;
    std::string job, jobId; ///< its name and its identity
    int hooping = 1;        ///< from 1
    std::string machine;    ///< id
    std::string frame;      ///< id; a frame that sews cannot be clamped meanwhile
    double handsBefore = 0; ///< seconds of a person, before it can start: clamping, registering
    double onMachine = 0;   ///< of these, the last ones, for which the machine must stand …
    std::string standing;   ///< … for what: a position moved on, cones that are changed
    double sewing = 0;      ///< seconds of the machine, with changes and trims
    /// Seconds from its start at which a person must change a cone, and for how long.
    struct Stop {
        double after = 0, hands = 0;
        std::string what;
    };
    std::vector<Stop> stops;
    double late = 0;      ///< what has been lost on it already: mending, waiting
    double already = 0;   ///< seconds of its sewing that are done
    bool running = false; ///< it is on the machine; `already` counts
};

/// When a person must do what.
struct PersonNeed {
    double at = 0, until = 0; ///< seconds from now
    std::size_t item = 0;
    std::string what;
};

/// When an item is prepared and sewn, seconds from now.
struct QueueTimes {
    double handsFrom = 0, handsUntil = 0;
    double from = 0, until = 0;
};

struct QueuePlan {
    std::vector<QueueTimes> times;  ///< one an item
    std::vector<PersonNeed> person; ///< in the order of time
    double until = 0;               ///< all is done
};

/// Every machine sews its items in their order; one person serves all machines, what comes first
/// first. The next hooping is clamped while the machine still sews, in another frame than the one
/// on it, or in a second one of the same where `spareFrames` says so.
QueuePlan planQueue(const std::vector<QueueItem>& items, bool spareFrames = true);

/// The items of a job's hoopings on one machine, threaded as planned.
std::vector<QueueItem> queueItemsOf(const Job& job, const std::vector<HoopingList>& lists,
                                    const NeedlePlan& needles, const Machine& machine,
                                    const Fabric& fabric);

} // namespace rapt
