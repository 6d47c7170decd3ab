#include "scan/view_measures.h"

#include <algorithm>
#include <numbers>
#include <numeric>
#include <opencv2/core.hpp>

namespace rapt {
namespace {

constexpr double degreesPerRadian = 180 / std::numbers::pi;

/// From the two conditions that the plane's axes are square and of equal length; pictures from
/// nearly straight above do not tell, then a usual lens is taken.
double focalLength(const Homography& h, double cx, double cy, double usual) {
    const auto at = [&](std::size_t k) {
        return std::array<double, 3>{h[k] - cx * h[6 + k], h[3 + k] - cy * h[6 + k], h[6 + k]};
    };
    const auto a = at(0), b = at(1);
    // f² = −n/d for each condition; the one with the larger denominator is better founded.
    const double n1 = a[0] * b[0] + a[1] * b[1], d1 = a[2] * b[2];
    const double n2 = a[0] * a[0] + a[1] * a[1] - b[0] * b[0] - b[1] * b[1];
    const double d2 = a[2] * a[2] - b[2] * b[2];
    const double n = std::abs(d2) > std::abs(d1) ? n2 : n1;
    const double d = std::abs(d2) > std::abs(d1) ? d2 : d1;
    const double square = d == 0 ? -1 : -n / d;
    if (!(square > 0)) return usual;
    return std::clamp(std::sqrt(square), 0.6 * usual, 2.5 * usual);
}

std::uint8_t greyAt(const Image& image, int x, int y) {
    return image.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(image.width) +
                        static_cast<std::size_t>(x)];
}

std::optional<double> sharpnessOfTag(const Image& grey, const SeenTag& tag) {
    Box box;
    for (const Vec2& c : tag.corners) box.add(c);
    const int x0 = std::max(1, static_cast<int>(box.minX) - 2);
    const int y0 = std::max(1, static_cast<int>(box.minY) - 2);
    const int x1 = std::min(grey.width - 2, static_cast<int>(box.maxX) + 2);
    const int y1 = std::min(grey.height - 2, static_cast<int>(box.maxY) + 2);
    std::vector<double> slopes;
    int low = 255, high = 0;
    for (int y = y0; y <= y1; ++y)
        for (int x = x0; x <= x1; ++x) {
            const int here = greyAt(grey, x, y);
            low = std::min(low, here);
            high = std::max(high, here);
            slopes.push_back(std::hypot(greyAt(grey, x + 1, y) - greyAt(grey, x - 1, y),
                                        greyAt(grey, x, y + 1) - greyAt(grey, x, y - 1)) /
                             2);
        }
    if (slopes.empty() || high - low < 10) return std::nullopt;
    const auto k = static_cast<std::ptrdiff_t>(slopes.size() * 97 / 100);
    std::nth_element(slopes.begin(), slopes.begin() + k, slopes.end());
    return slopes[static_cast<std::size_t>(k)] / (high - low);
}

} // namespace

double tiltOf(const Homography& h, const Image& picture, const std::optional<Camera>& camera) {
    const double cx = camera ? camera->cx : picture.width / 2.0;
    const double cy = camera ? camera->cy : picture.height / 2.0;
    const double f = camera ? (camera->fx + camera->fy) / 2
                            : focalLength(h, cx, cy, 1.2 * std::max(picture.width, picture.height));
    const auto axis = [&](std::size_t k) {
        return cv::Vec3d((h[k] - cx * h[6 + k]) / f, (h[3 + k] - cy * h[6 + k]) / f, h[6 + k]);
    };
    const cv::Vec3d normal = axis(0).cross(axis(1));
    const double size = cv::norm(normal);
    return size == 0 ? 0 : std::acos(std::min(1.0, std::abs(normal[2]) / size)) * degreesPerRadian;
}

double resolutionAt(const Homography& h, Vec2 c) {
    const double step = 0.5;
    const Vec2 dx = mapped(h, c + Vec2{step, 0}) - mapped(h, c - Vec2{step, 0});
    const Vec2 dy = mapped(h, c + Vec2{0, step}) - mapped(h, c - Vec2{0, step});
    return std::sqrt(std::abs(cross(dx, dy)));
}

double sharpnessOf(const Image& grey, const std::vector<SeenTag>& tags) {
    std::vector<double> values;
    for (const SeenTag& tag : tags)
        if (const auto s = sharpnessOfTag(grey, tag)) values.push_back(*s);
    if (values.empty()) return 0;
    std::sort(values.begin(), values.end());
    return values[values.size() / 2];
}

LightFacts lightOf(const Image& flatGrey, const Image& skip) {
    std::array<std::size_t, 256> count{};
    for (std::size_t i = 0; i < flatGrey.pixels.size(); ++i)
        if (!skip.pixels[i]) ++count[flatGrey.pixels[i]];
    const std::size_t all = std::accumulate(count.begin(), count.end(), std::size_t{0});
    if (all == 0) return {};
    std::size_t sum = 0, level = 0;
    while (level < 255 && (sum += count[level]) * 2 < all) ++level;
    const std::size_t ends = count[0] + count[1] + count[254] + count[255];
    return {static_cast<double>(level) / 255, static_cast<double>(ends) / static_cast<double>(all)};
}

} // namespace rapt
