#pragma once
// A calibrated camera: pinhole with lens distortion, as OpenCV's model (k1, k2, p1, p2, k3, …).

#include "base/result.h"

#include <string>
#include <vector>

namespace rapt {

struct Camera {
    double fx = 0, fy = 0; ///< focal lengths in pixels
    double cx = 0, cy = 0; ///< principal point in pixels
    std::vector<double> distortion;
};

/// Reads CAMERA.json: fx, fy, cx, cy, distortion (docs/formats.md, "The command", calibrate).
Result<Camera> readCameraFile(const std::string& path);

} // namespace rapt
