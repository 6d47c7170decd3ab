#pragma once
// A scan read to millimetres: the hoop's frame tags give the map from picture to field, and the
// locator cards on the cloth are found in it.

#include "library/library.h"
#include "scan/camera.h"
#include "scan/image.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// A locator card in the field frame: its tag's centre, and its turn (0 when its top edge faces
/// away from the operator).
struct SeenCard {
    int id = 0;
    Vec2 at;
    double rotationDeg = 0;
    double sigmaMm = 0; ///< expected error per axis, from how well the frame tags agree
};

/// What to do with a picture.
enum class ScanQuality { good, usable, retake };
/// Its stable name.
const char* nameOf(ScanQuality quality);

/// A projective map, row by row.
using Homography = std::array<double, 9>;
/// A place through a homography.
Vec2 mapped(const Homography& h, Vec2 p);

/// What a scan shows.
struct ScanReading {
    double pxPerMm = 0; ///< at the picture's centre
    double tiltDeg = 0; ///< between the camera's axis and the upright over the cloth
    /// Steepest slope of black-white edges in parts of their contrast per pixel: about 0.5 for a
    /// perfect picture, 0.1 for a blurred one.
    double sharpness = 0;
    int frameTags = 0;
    ScanQuality quality = ScanQuality::good;
    std::vector<std::string> reasons; ///< why the quality is not good, and what was left out
    std::vector<SeenCard> cards;      ///< in order of their ids
    Homography fieldToPicture{};      ///< field millimetres to (undistorted) pixels
};

/// Reads a picture of a hoop (homography by normalised least squares over the tags' corners:
/// Hartley and Zisserman, Multiple View Geometry, ch. 4). Fails (cannotDo) with fewer than three
/// frame tags.
Result<ScanReading> readScan(const Image& picture, const Hoop& hoop,
                             const std::optional<Camera>& camera = {});

/// A scan as seen straight from above.
struct FlatScan {
    Image image;
    Box area; ///< field frame
};
/// Decodes a scan (PNG or JPEG; `name` for the error), reads it and flattens the field with a
/// margin round it. Fails as decodeImage and readScan do.
Result<FlatScan> flatScan(const std::string& bytes, const std::string& name, const Hoop& hoop,
                          double marginMm, double pxPerMm);

/// The picture as seen straight from above, covering `area` of the field frame.
Image rectified(const Image& picture, const ScanReading& reading, const Box& area, double pxPerMm);

} // namespace rapt
