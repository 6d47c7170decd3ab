#pragma once
// A calibrated camera: pinhole with lens distortion, as OpenCV's model (k1, k2, p1, p2, k3, …).

#include "base/result.h"

#include <string>
#include <vector>

namespace rapt {

/// As OpenCV counts: the middle of the upper left pixel is (0, 0).
struct Camera {
    std::string id;            ///< maker and model as its pictures say, or the person's own name
    int width = 0, height = 0; ///< of the pictures it was calibrated with; 0: not known
    double fx = 0, fy = 0;     ///< focal lengths in pixels
    double cx = 0, cy = 0;     ///< principal point in pixels
    std::vector<double> distortion;
    double rmsPx = 0; ///< how well the calibration's pictures agree
    friend bool operator==(const Camera&, const Camera&) = default;
};

/// Reads CAMERA.json: fx, fy, cx, cy, distortion (docs/formats.md, "The command", calibrate).
Result<Camera> readCameraFile(const std::string& path);

/// The same as a file's text.
std::string cameraText(const Camera& camera);

/// Keeps the camera in the user's cameras.json; one of the same id is replaced.
Status saveUserCamera(const Camera& camera, const std::string& userFolder);

/// Reads the user's cameras.json; none without the file.
Result<std::vector<Camera>> readUserCameras(const std::string& userFolder);

/// The calibrated camera that took a picture: of the same id and size (also turned by a quarter);
/// null if none did.
const Camera* cameraFor(const std::vector<Camera>& cameras, const std::string& id, int width,
                        int height);

} // namespace rapt
