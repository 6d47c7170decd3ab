#pragma once
// The hooped cloth drawn flat, as seen straight from above.

#include "job/job.h"
#include "library/library.h"
#include "scan/image.h"
#include "scan/scan_reading.h"
#include "standins/motif.h"
#include "thread/stitch_list.h"

#include <vector>

namespace rapt {

/// Sewn cloth draws in: places move towards the middle of what is sewn, most at its edge.
struct DrawIn {
    Vec2 middle;         ///< frame
    double radiusMm = 1; ///< of what is sewn
    double amountMm = 0; ///< at its edge
    /// Where a place comes to lie.
    Vec2 moved(Vec2 p) const;
};

struct HoopScene {
    Hoop hoop;
    Cloth cloth;
    Affine clothToField;          ///< cloth frame to where it really lies in the frame
    std::vector<DrawIn> drawIns;  ///< and on from there
    std::vector<StitchList> sewn; ///< cloth frame
    std::vector<PrintedPatch> motif;
    std::vector<SeenCard> cards; ///< in the frame
    bool datumLines = true;
    double creases = 0; ///< 0 to 1
    Box area;           ///< of the picture, in the frame

    /// Where a place of the cloth really lies in the frame.
    Vec2 place(Vec2 onCloth) const;
};

/// RGB picture of `area` at a resolution in pixels per mm.
Image drawHoop(const HoopScene& scene, double pxPerMm);

} // namespace rapt
