#pragma once
// The stand-in camera: a seeded picture of the hooped cloth, and the truth about it.

#include "base/result.h"
#include "job/job.h"
#include "library/library.h"
#include "scan/image.h"
#include "scan/scan_reading.h"

#include <cstdint>

namespace rapt {

struct PhotographOptions {
    int hooping = 1; ///< counted from 1
    std::uint64_t seed = 1;
    double pxPerMm = 6;
    /// Tilt of the camera; by default a little, from the seed.
    std::optional<double> tiltDeg;
};

struct Photograph {
    Image picture; ///< RGB
    /// What a perfect reading would say; `reasons` is empty and `sharpness` that of the lens.
    ScanReading truth;
    /// The motion of the cloth in the hoop: planned field places are really found at this pose.
    Pose cloth;
};

/// Places the cloth a little off its plan, lays a locator card on every mark of the hooping (ids
/// from 100 on, in the order of the marks), sews what earlier hoopings sewed, and looks at it from
/// a slight tilt. The same seed gives the same picture. Fails (cannotDo) for a hooping that the
/// job does not have.
Result<Photograph> photograph(const Job& job, const Library& library,
                              const PhotographOptions& options);

} // namespace rapt
