#pragma once
// Where the load passes what the fabric takes.

#include "job/job.h"
#include "library/library.h"
#include "load/load_map.h"

#include <vector>

namespace rapt {

/// What the fabric takes at each place: its own limits, lowered inside thick zones.
struct LoadLimits {
    double maxLayers = 3;
    double maxHits = 10;
    std::vector<ThickZone> zones;

    /// 1 on plain cloth; inside thick zones the least of their factors.
    double factorAt(Vec2 p) const;
};
LoadLimits limitsOf(const Fabric& fabric, const Cloth& cloth);

enum class LoadKind { layers, hits };

/// A connected patch of cells over the limit.
struct OverloadedPatch {
    double peak = 0;  ///< highest value against its limit: the worst cell
    double limit = 0; ///< the limit at that cell
    Vec2 at;          ///< centre of that cell
    Box box;          ///< of all its cells
    std::size_t cells = 0;
};

/// All patches over the limit, worst first.
std::vector<OverloadedPatch> overloadedPatches(const LoadMap& map, LoadKind kind,
                                               const LoadLimits& limits);

} // namespace rapt
