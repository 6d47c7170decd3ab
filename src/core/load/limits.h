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
/// The fabric's limits, lowered on thick places.
LoadLimits limitsOf(const Fabric& fabric, const Cloth& cloth);

/// Which measure is meant.
enum class LoadKind { layers, hits };

/// How much over a limit is worth a word: not the height of a peak but what lies above the limit.
/// In layer·mm² for layers, in hits for hits.
struct ExcessGrades {
    double stop = 0, caution = 0;
};
/// From which excess on it is a caution, a stop.
constexpr ExcessGrades gradesOf(LoadKind kind) {
    return kind == LoadKind::layers ? ExcessGrades{6, 1.5} : ExcessGrades{20, 5};
}

/// A patch of cells over the limit; cells that touch, also by a corner, are one patch.
struct OverloadedPatch {
    double peak = 0;   ///< value of the highest cell
    double limit = 0;  ///< the limit at that cell
    double excess = 0; ///< sum of (value − limit) × cell area
    Vec2 at;           ///< centre of the highest cell
    Box box;           ///< of all its cells
    std::size_t cells = 0;
};

/// All patches over the limit, the largest excess first.
std::vector<OverloadedPatch> overloadedPatches(const LoadMap& map, LoadKind kind,
                                               const LoadLimits& limits);

} // namespace rapt
