#pragma once
// Regions grown from a click on a scan, by colour: what becomes a fill.

#include "geometry/polygon.h"
#include "scan/flat_picture.h"

#include <stop_token>

namespace rapt {

/// How a region is grown.
struct RegionOptions {
    double tolerance = 12;   ///< difference of colour that still belongs to it (CIE Lab)
    double smoothMm = 0.25;  ///< radius by which its outline is smoothed
    double leastAreaMm2 = 2; ///< smaller islands and holes are left out
};

/// What belongs to the region round a place: an outer contour and its holes, in the picture's
/// frame. Fails (cannotDo) outside the picture, where the region is smaller than the least area,
/// and where it runs out of the picture's edge all round.
Result<Contours> grownRegion(const Image& flatRgb, const FlatMap& map, Vec2 click,
                             const RegionOptions& options, std::stop_token stop = {});

} // namespace rapt
