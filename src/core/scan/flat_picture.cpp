#include "scan/flat_picture.h"

#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

// Distortion is smooth: between grid points of this many pixels it is linear enough (under 0.01
// px).
constexpr int gridPx = 16;

cv::Matx33d pixelMap(const Homography& fieldToPicture, const FlatMap& map) {
    const double mm = 1 / map.pxPerMm;
    // Result pixel → field → picture; pixel centres lie at half coordinates on both sides.
    const cv::Matx33d toField(mm, 0, map.area.minX + 0.5 * mm, 0, mm, map.area.minY + 0.5 * mm, 0,
                              0, 1);
    const cv::Matx33d centred(1, 0, -0.5, 0, 1, -0.5, 0, 0, 1);
    return centred * cv::Matx33d(fieldToPicture.data()) * toField;
}

/// Where grid points of the result lie in the distorted picture, spread to every pixel. One row and
/// column of grid points lies outside on each side.
cv::Mat distortedMap(const cv::Matx33d& map, const Camera& c, cv::Size size) {
    const cv::Size grid(size.width / gridPx + 3, size.height / gridPx + 3);
    const auto pixelOf = [](int i) { return (i - 0.5) * gridPx - 0.5; };
    std::vector<cv::Point3d> rays;
    rays.reserve(static_cast<std::size_t>(grid.area()));
    for (int j = 0; j < grid.height; ++j)
        for (int i = 0; i < grid.width; ++i) {
            const cv::Vec3d p = map * cv::Vec3d(pixelOf(i), pixelOf(j), 1);
            rays.emplace_back((p[0] / p[2] - c.cx) / c.fx, (p[1] / p[2] - c.cy) / c.fy, 1);
        }
    std::vector<cv::Point2d> pixels;
    cv::projectPoints(rays, cv::Vec3d(0, 0, 0), cv::Vec3d(0, 0, 0),
                      cv::Matx33d(c.fx, 0, c.cx, 0, c.fy, c.cy, 0, 0, 1), c.distortion, pixels);
    cv::Mat coarse(grid, CV_32FC2);
    for (int j = 0; j < grid.height; ++j)
        for (int i = 0; i < grid.width; ++i) {
            const cv::Point2d p = pixels[static_cast<std::size_t>(j * grid.width + i)];
            coarse.at<cv::Vec2f>(j, i) = {static_cast<float>(p.x), static_cast<float>(p.y)};
        }
    cv::Mat fine;
    cv::resize(coarse, fine, grid * gridPx, 0, 0, cv::INTER_LINEAR);
    return fine(cv::Rect(gridPx, gridPx, size.width, size.height));
}

} // namespace

Image flattened(const Image& picture, const Homography& fieldToPicture,
                const std::optional<Camera>& camera, const FlatMap& map) {
    Image result(static_cast<int>(std::lround(map.area.width() * map.pxPerMm)),
                 static_cast<int>(std::lround(map.area.height() * map.pxPerMm)), picture.channels);
    const int type = picture.channels == 3 ? CV_8UC3 : CV_8UC1;
    const cv::Mat from(picture.height, picture.width, type,
                       const_cast<std::uint8_t*>(picture.pixels.data()));
    cv::Mat to(result.height, result.width, type, result.pixels.data());
    const cv::Matx33d pixels = pixelMap(fieldToPicture, map);
    if (!camera || camera->distortion.empty())
        cv::warpPerspective(from, to, pixels, to.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    else
        cv::remap(from, to, distortedMap(pixels, *camera, to.size()), cv::noArray(),
                  cv::INTER_LINEAR);
    return result;
}

} // namespace rapt
