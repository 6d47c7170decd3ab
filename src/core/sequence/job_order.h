#pragma once
// The pieces of a job in the order that needs the fewest thread changes and the shortest travel.

#include "job/edit.h"
#include "job/stitching.h"

namespace rapt {

/// What may change places.
struct JobOrderOptions {
    /// Pieces of several threads may become one piece a thread run where that saves changes.
    bool split = true;
    /// Longer moves get a trim, shorter ones none (Job::trimOverMm).
    double trimOverMm = 3;
};

/// The job in its new order, and what it saves.
struct JobOrder {
    Job job;
    int changesBefore = 0, changesAfter = 0;      ///< thread changes (docs/measures.md)
    int lowerBound = 0;                           ///< no allowed order has fewer
    double travelBeforeMm = 0, travelAfterMm = 0; ///< moves without stitches
    std::vector<std::string> split;               ///< ids of pieces that were taken apart by thread
};

/// Where stitching of different threads lies on each other, its order stays; pieces of one thread
/// may change places. Fills and satins overlap if their outlines do by more than 0.2 mm, runs if
/// they cross anything. Planned hoopings keep their pieces, those
/// that were begun all that they sew. Fails as stitchJob does.
Result<JobOrder> orderJob(const Job& job, const JobOrderOptions& options = {},
                          std::stop_token stop = {});

} // namespace rapt
