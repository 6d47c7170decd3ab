#pragma once
// The hooped cloth drawn flat, as seen straight from above.

#include "job/job.h"
#include "library/library.h"
#include "scan/image.h"
#include "scan/scan_reading.h"
#include "thread/stitch_list.h"

#include <vector>

namespace rapt {

struct HoopScene {
    Hoop hoop;
    Cloth cloth;
    Affine clothToField;          ///< cloth frame to where it really lies
    std::vector<StitchList> sewn; ///< cloth frame
    std::vector<SeenCard> cards;  ///< field frame
    Box area;                     ///< of the picture, field frame
};

/// RGB picture of `area` at a resolution in pixels per mm.
Image drawHoop(const HoopScene& scene, double pxPerMm);

} // namespace rapt
