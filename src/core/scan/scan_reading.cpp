#include "scan/scan_reading.h"

#include "geometry/pose.h"
#include "scan/tags.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <numbers>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

constexpr double degreesPerRadian = 180 / std::numbers::pi;
// Below these a picture is only usable, or should be taken again.
constexpr double usablePxPerMm = 5, retakePxPerMm = 3.5;
constexpr double usableTiltDeg = 15.5, retakeTiltDeg = 25;
constexpr double usableSharpness = 0.16, retakeSharpness = 0.09;
constexpr double retakeResidualMm = 0.5;

cv::Point2d toCv(Vec2 p) { return {p.x, p.y}; }

/// The corners of an upright tag in the field frame, in the order of SeenTag.
std::array<Vec2, 4> cornersOf(const FrameTag& tag) {
    const double h = tag.sizeMm / 2;
    return {Vec2{tag.at.x - h, tag.at.y - h}, Vec2{tag.at.x + h, tag.at.y - h},
            Vec2{tag.at.x + h, tag.at.y + h}, Vec2{tag.at.x - h, tag.at.y + h}};
}

void undistort(std::vector<SeenTag>& tags, const Camera& camera) {
    const cv::Matx33d k(camera.fx, 0, camera.cx, 0, camera.fy, camera.cy, 0, 0, 1);
    for (SeenTag& tag : tags) {
        std::vector<cv::Point2d> from{toCv(tag.centre)}, to;
        for (const Vec2& c : tag.corners) from.push_back(toCv(c));
        cv::undistortPoints(from, to, k, camera.distortion, cv::noArray(), k);
        tag.centre = {to[0].x, to[0].y};
        for (std::size_t i = 0; i < 4; ++i) tag.corners[i] = {to[i + 1].x, to[i + 1].y};
    }
}

/// Works through one picture.
class ScanReader {
public:
    ScanReader(const Image& p, const Hoop& h, const std::optional<Camera>& c)
        : picture(p), grey(toGrey(p)), hoop(h), camera(c) {}

    Result<ScanReading> run() {
        sortTags();
        if (reading.frameTags < 3)
            return cannotDo(fmt::format(
                "{} of the {} frame tags of {} are seen, at least 3 are needed; take the picture "
                "again with the whole hoop in it, in even light{}",
                reading.frameTags, hoop.tags.size(), hoop.id, otherHoopHint()));
        if (!findMap())
            return cannotDo("the frame tags seen do not lie as the hoop's record says; check that "
                            "the right hoop is chosen");
        measureView();
        readCards();
        judge();
        return std::move(reading);
    }

private:
    void sortTags() {
        std::vector<SeenTag> tags = findTags(grey);
        if (camera) undistort(tags, *camera);
        std::map<int, int> count;
        for (const SeenTag& t : tags) ++count[t.id];
        for (const SeenTag& t : tags) {
            if (count[t.id] > 1) {
                if (std::find(doubled.begin(), doubled.end(), t.id) == doubled.end())
                    doubled.push_back(t.id);
                continue;
            }
            const auto frame = std::find_if(hoop.tags.begin(), hoop.tags.end(),
                                            [&](const FrameTag& f) { return f.id == t.id; });
            if (frame != hoop.tags.end()) {
                frameTags.emplace_back(*frame, t);
            } else if (t.id >= firstCardId) {
                cardTags.push_back(t);
            } else {
                foreign.push_back(t.id);
            }
        }
        reading.frameTags = static_cast<int>(frameTags.size());
        std::sort(cardTags.begin(), cardTags.end(),
                  [](const SeenTag& a, const SeenTag& b) { return a.id < b.id; });
    }

    std::string otherHoopHint() const {
        return foreign.empty() ? std::string()
                               : fmt::format(" (tag {} belongs to another hoop)", foreign[0]);
    }

    bool findMap() {
        std::vector<cv::Point2d> field, pixels;
        for (const auto& [frame, seen] : frameTags) {
            const auto corners = cornersOf(frame);
            for (std::size_t k = 0; k < 4; ++k) {
                field.push_back(toCv(corners[k]));
                pixels.push_back(toCv(seen.corners[k]));
            }
        }
        // Robust first, so that one misread or shifted tag does not bend the map.
        const cv::Mat h = cv::findHomography(field, pixels, cv::RANSAC, 3.0);
        if (h.empty()) return false;
        for (std::size_t i = 0; i < 9; ++i)
            reading.fieldToPicture[i] =
                h.at<double>(static_cast<int>(i / 3), static_cast<int>(i % 3));
        const cv::Matx33d inverse = cv::Matx33d(reading.fieldToPicture.data()).inv();
        std::copy(inverse.val, inverse.val + 9, pictureToField.begin());
        // The median over tags is the judge: outliers are named, not averaged in.
        std::vector<double> errors;
        for (std::size_t i = 0; i < field.size(); i += 4) {
            double squares = 0;
            for (std::size_t k = i; k < i + 4; ++k) {
                const Vec2 back = mapped(pictureToField, {pixels[k].x, pixels[k].y});
                squares += std::pow(distance(back, {field[k].x, field[k].y}), 2);
            }
            errors.push_back(std::sqrt(squares / 4));
            if (errors.back() > 1.0)
                reading.reasons.push_back(fmt::format("frame tag {} lies {:.1f} mm off its place",
                                                      frameTags[i / 4].first.id, errors.back()));
        }
        std::nth_element(errors.begin(),
                         errors.begin() + static_cast<std::ptrdiff_t>(errors.size() / 2),
                         errors.end());
        residualMm = errors[errors.size() / 2];
        return residualMm < 5;
    }

    void measureView() {
        const Vec2 centrePx{picture.width / 2.0, picture.height / 2.0};
        const Vec2 c = mapped(pictureToField, centrePx);
        const double step = 0.5;
        const Vec2 dx = mapped(reading.fieldToPicture, c + Vec2{step, 0}) -
                        mapped(reading.fieldToPicture, c - Vec2{step, 0});
        const Vec2 dy = mapped(reading.fieldToPicture, c + Vec2{0, step}) -
                        mapped(reading.fieldToPicture, c - Vec2{0, step});
        reading.pxPerMm = std::sqrt(std::abs(cross(dx, dy)));
        reading.tiltDeg = tilt();
        reading.sharpness = sharpness();
    }

    /// The tilt that a camera of this focal length needs to see the map (Zhang 2000: the columns
    /// of K⁻¹H are two axes of the plane).
    double tilt() const {
        const double width = picture.width;
        const double height = picture.height;
        const double cx = camera ? camera->cx : width / 2;
        const double cy = camera ? camera->cy : height / 2;
        const double f = camera ? (camera->fx + camera->fy) / 2 : focalLength(cx, cy);
        const Homography& h = reading.fieldToPicture;
        const auto axis = [&](std::size_t k) {
            return cv::Vec3d((h[k] - cx * h[6 + k]) / f, (h[3 + k] - cy * h[6 + k]) / f, h[6 + k]);
        };
        const cv::Vec3d normal = axis(0).cross(axis(1));
        const double size = cv::norm(normal);
        return size == 0 ? 0
                         : std::acos(std::min(1.0, std::abs(normal[2]) / size)) * degreesPerRadian;
    }

    /// From the two conditions that the plane's axes are square and of equal length; pictures from
    /// nearly straight above do not tell, then a usual lens is taken.
    double focalLength(double cx, double cy) const {
        const Homography& h = reading.fieldToPicture;
        const auto at = [&](std::size_t k) {
            return std::array<double, 3>{h[k] - cx * h[6 + k], h[3 + k] - cy * h[6 + k], h[6 + k]};
        };
        const auto a = at(0), b = at(1);
        const double usual = 1.2 * std::max(picture.width, picture.height);
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

    /// Median over the frame tags of the steepest grey step against the tag's contrast.
    double sharpness() {
        std::vector<double> values;
        for (const auto& [frame, seen] : frameTags) {
            Box box;
            for (const Vec2& c : seen.corners) box.add(c);
            const int x0 = std::max(1, static_cast<int>(box.minX) - 2);
            const int y0 = std::max(1, static_cast<int>(box.minY) - 2);
            const int x1 = std::min(picture.width - 2, static_cast<int>(box.maxX) + 2);
            const int y1 = std::min(picture.height - 2, static_cast<int>(box.maxY) + 2);
            std::vector<double> slopes;
            int low = 255, high = 0;
            for (int y = y0; y <= y1; ++y)
                for (int x = x0; x <= x1; ++x) {
                    low = std::min<int>(low, *grey.at(x, y));
                    high = std::max<int>(high, *grey.at(x, y));
                    slopes.push_back(std::hypot(*grey.at(x + 1, y) - *grey.at(x - 1, y),
                                                *grey.at(x, y + 1) - *grey.at(x, y - 1)) /
                                     2);
                }
            if (slopes.empty() || high - low < 10) continue;
            const auto k = static_cast<std::ptrdiff_t>(slopes.size() * 97 / 100);
            std::nth_element(slopes.begin(), slopes.begin() + k, slopes.end());
            values.push_back(slopes[static_cast<std::size_t>(k)] / (high - low));
        }
        if (values.empty()) return 0;
        std::sort(values.begin(), values.end());
        return values[values.size() / 2];
    }

    void readCards() {
        for (const SeenTag& t : cardTags) {
            std::array<Vec2, 4> c;
            for (std::size_t k = 0; k < 4; ++k) c[k] = mapped(pictureToField, t.corners[k]);
            // All four edges say how the card is turned.
            const Vec2 along = (c[1] - c[0]) + (c[2] - c[3]);
            const Vec2 down = (c[3] - c[0]) + (c[2] - c[1]);
            const Vec2 both = along + Vec2{down.y, -down.x};
            const double cornerSigma = std::max(residualMm, 0.1 / reading.pxPerMm);
            reading.cards.push_back({t.id, mapped(pictureToField, t.centre),
                                     std::atan2(both.y, both.x) * degreesPerRadian,
                                     std::max(0.02, cornerSigma)});
        }
    }

    void lower(ScanQuality to, std::string reason) {
        reading.quality = std::max(reading.quality, to);
        reading.reasons.push_back(std::move(reason));
    }

    void judge() {
        const auto grade = [&](double value, double usable, double retake, bool lowIsBad,
                               const std::string& reason) {
            const auto bad = [&](double limit) { return lowIsBad ? value < limit : value > limit; };
            if (bad(retake))
                lower(ScanQuality::retake, reason);
            else if (bad(usable))
                lower(ScanQuality::usable, reason);
        };
        grade(reading.pxPerMm, usablePxPerMm, retakePxPerMm, true,
              fmt::format("only {:.1f} pixels per mm; come closer", reading.pxPerMm));
        grade(reading.tiltDeg, usableTiltDeg, retakeTiltDeg, false,
              fmt::format("the camera is tilted by {:.0f}°; look straight down", reading.tiltDeg));
        grade(reading.sharpness, usableSharpness, retakeSharpness, true,
              "the picture is not sharp; hold still and focus on the cloth");
        if (residualMm > retakeResidualMm)
            lower(ScanQuality::retake,
                  fmt::format("the frame tags agree only to {:.1f} mm; is a tag bent or loose?",
                              residualMm));
        if (reading.frameTags < static_cast<int>(std::min<std::size_t>(4, hoop.tags.size())))
            lower(ScanQuality::usable, fmt::format("only {} of {} frame tags are seen",
                                                   reading.frameTags, hoop.tags.size()));
        for (const int id : doubled)
            lower(ScanQuality::usable,
                  fmt::format("tag {} is doubled: it is seen twice and left out", id));
    }

    const Image& picture;
    Image grey;
    const Hoop& hoop;
    const std::optional<Camera>& camera;
    ScanReading reading;
    Homography pictureToField{};
    std::vector<std::pair<FrameTag, SeenTag>> frameTags;
    std::vector<SeenTag> cardTags;
    std::vector<int> doubled;
    std::vector<int> foreign;
    double residualMm = 0;
};

} // namespace

const char* nameOf(ScanQuality quality) {
    switch (quality) {
    case ScanQuality::good:
        return "good";
    case ScanQuality::usable:
        return "usable";
    case ScanQuality::retake:
        return "retake";
    }
    return "";
}

Vec2 mapped(const Homography& h, Vec2 p) {
    const double w = h[6] * p.x + h[7] * p.y + h[8];
    return {(h[0] * p.x + h[1] * p.y + h[2]) / w, (h[3] * p.x + h[4] * p.y + h[5]) / w};
}

Result<ScanReading> readScan(const Image& picture, const Hoop& hoop,
                             const std::optional<Camera>& camera) {
    return ScanReader(picture, hoop, camera).run();
}

Image rectified(const Image& picture, const ScanReading& reading, const Box& area, double pxPerMm) {
    Image result(static_cast<int>(std::lround(area.width() * pxPerMm)),
                 static_cast<int>(std::lround(area.height() * pxPerMm)), picture.channels);
    const int type = picture.channels == 3 ? CV_8UC3 : CV_8UC1;
    const cv::Mat from(picture.height, picture.width, type,
                       const_cast<std::uint8_t*>(picture.pixels.data()));
    cv::Mat to(result.height, result.width, type, result.pixels.data());
    // Result pixel → field → picture; pixel centres lie at half coordinates on both sides.
    const cv::Matx33d toField(1 / pxPerMm, 0, area.minX + 0.5 / pxPerMm, 0, 1 / pxPerMm,
                              area.minY + 0.5 / pxPerMm, 0, 0, 1);
    const cv::Matx33d centred(1, 0, -0.5, 0, 1, -0.5, 0, 0, 1);
    const cv::Matx33d map = centred * cv::Matx33d(reading.fieldToPicture.data()) * toField;
    cv::warpPerspective(from, to, map, to.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    return result;
}

Result<FlatScan> flatScan(const std::string& bytes, const std::string& name, const Hoop& hoop,
                          double marginMm, double pxPerMm) {
    const auto picture = decodeImage(bytes, name);
    if (!picture) return picture.error();
    const auto reading = readScan(*picture, hoop);
    if (!reading) return reading.error();
    const Box area = Box::centredAt({0, 0}, hoop.widthMm, hoop.heightMm).grown(marginMm);
    return FlatScan{rectified(*picture, *reading, area, pxPerMm), area};
}

} // namespace rapt
