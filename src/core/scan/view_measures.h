#pragma once
// How a picture was taken: resolution, tilt, sharpness, light. Internal to reading scans.

#include "scan/scan_reading.h"
#include "scan/tags.h"

namespace rapt {

/// The tilt in degrees that a camera needs to see the map (Zhang 2000: the columns of K⁻¹H are two
/// axes of the plane); without a calibrated one its focal length is guessed from the map.
double tiltOf(const Homography& fieldToPicture, const Image& picture,
              const std::optional<Camera>& camera);

/// Pixels per mm about a place of the frame.
double resolutionAt(const Homography& fieldToPicture, Vec2 place);

/// Median over the tags of the steepest grey step against the tag's contrast, per pixel.
double sharpnessOf(const Image& grey, const std::vector<SeenTag>& tags);

struct LightFacts {
    double median = 0;  ///< 0 to 1
    double clipped = 0; ///< share that is burnt out or black
};
/// Of a flat grey picture, where `skip` is zero.
LightFacts lightOf(const Image& flatGrey, const Image& skip);

} // namespace rapt
