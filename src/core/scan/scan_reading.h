#pragma once
// A scan read to millimetres: the hoop's frame tags give the map from picture to field, and the
// locator cards on the cloth are found in it.

#include "geometry/polygon.h"
#include "library/camera.h"
#include "library/library.h"
#include "scan/image.h"

#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace rapt {

/// A locator card in the field frame: its tag's centre, and its turn (0 when its top edge faces
/// away from the operator).
struct SeenCard {
    int id = 0;
    Vec2 at;
    double rotationDeg = 0;
    double sigmaMm = 0;  ///< expected error per axis, from how well the frame tags agree
    double sigmaDeg = 0; ///< of the turn
};

struct SeenDatum;
struct SeenLine;

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
    double light = 0;   ///< median grey of what the ring surrounds, 0 to 1
    double clipped = 0; ///< share of it that is burnt out or black
    int frameTags = 0;
    double tagErrorMm = 0; ///< how well the frame tags agree
    ScanQuality quality = ScanQuality::good;
    std::vector<std::string> reasons;       ///< why the quality is not good, and what was left out
    std::vector<SeenCard> cards;            ///< in order of their ids
    std::vector<int> doubledCards;          ///< seen twice, and left out
    std::shared_ptr<const SeenDatum> datum; ///< both drawn lines; null if they are not seen
    std::shared_ptr<const SeenLine> line;   ///< where only one is seen
    std::vector<Polyline>
        covered;                 ///< cards with their hair lines, drawn lines: convex, in the frame
    Homography fieldToPicture{}; ///< frame millimetres to (undistorted) pixels
    std::optional<Camera> camera; ///< that was taken for its lens
};

/// How a scan is read.
struct ScanOptions {
    std::optional<Camera> camera; ///< that took it; without one its lens is taken for perfect
    std::vector<Hoop> others;     ///< frames to be named when tags of theirs are seen
    bool findLines = true;        ///< look for drawn lines, too
    std::stop_token stop{};
    std::function<void(double)> progress{}; ///< from 0 to 1, on the calling thread
};

/// Reads a picture of a hoop (homography by normalised least squares over the tags' corners:
/// Hartley and Zisserman, Multiple View Geometry, ch. 4). Places are in the frame, which is the
/// field frame where the only field stands in its middle. Fails (cannotDo) with fewer than three
/// frame tags, and (cancelled) when stopped.
Result<ScanReading> readScan(const Image& picture, const Hoop& hoop,
                             const ScanOptions& options = {});

} // namespace rapt
