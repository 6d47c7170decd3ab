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

} // namespace rapt
