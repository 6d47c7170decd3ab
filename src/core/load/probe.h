#pragma once
// What lies under one place: how much thread each piece brings there.

#include "job/stitching.h"
#include "load/load_map.h"

#include <vector>

namespace rapt {

struct Contribution {
    std::string piece;
    double layers = 0;
};

/// Layers that each piece lays in the 2.0 mm window round the cell at `at` (cloth frame), most
/// first; pieces that bring nothing are left out. The sum is the map's value there.
std::vector<Contribution> contributionsAt(const StitchedJob& job, Vec2 at);

/// The same for each thread run of one piece (counted from 1, copies together), most first.
struct RunContribution {
    int run = 1;
    std::uint8_t thread = 1; ///< of the job's list
    double layers = 0;
};
std::vector<RunContribution> runContributionsAt(const StitchedJob& job, const std::string& piece,
                                                Vec2 at);

} // namespace rapt
