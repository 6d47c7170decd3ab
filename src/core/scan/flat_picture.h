#pragma once
// The hooped cloth as seen straight from above, in true millimetres: what everything but tags is
// looked for in. Internal to reading scans, and shown below the design.

#include "scan/scan_reading.h"

namespace rapt {

/// From places in the field to places in a flat picture's pixels; a pixel's middle lies at half.
struct FlatMap {
    Box area; ///< field frame
    double pxPerMm = 6;
    Vec2 toPixels(Vec2 mm) const { return (mm - Vec2{area.minX, area.minY}) * pxPerMm; }
    Vec2 toField(Vec2 px) const { return Vec2{area.minX, area.minY} + px * (1 / pxPerMm); }
};

/// The picture as seen straight from above, covering the map's area; lens distortion taken out with
/// the camera that took it.
Image flattened(const Image& picture, const Homography& fieldToPicture,
                const std::optional<Camera>& camera, const FlatMap& map);

/// Below this the resolution of a picture is kept when it is flattened, above it is lowered.
inline constexpr double flatPxPerMm = 6;

} // namespace rapt
