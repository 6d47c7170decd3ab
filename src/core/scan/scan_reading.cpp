#include "scan/scan_reading.h"

#include "geometry/pose.h"
#include "scan/datum_lines.h"
#include "scan/view_measures.h"

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
constexpr double usableTiltDeg = 15.5, retakeTiltDeg = 25.5;
constexpr double usableBlurMm = 0.38, retakeBlurMm = 0.53;
constexpr double retakeResidualMm = 0.5;
constexpr double usableDark = 0.2, retakeDark = 0.09;
constexpr double usableClipped = 0.12, retakeClipped = 0.4;
// What a corner of a tag is found to at best.
constexpr double cornerSigmaPx = 0.12;
constexpr double leastSigmaMm = 0.02;

cv::Point2d toCv(Vec2 p) { return {p.x, p.y}; }

/// The corners of an upright tag in the frame, in the order of SeenTag.
std::array<Vec2, 4> cornersOf(const FrameTag& tag) {
    const double h = tag.sizeMm / 2;
    return {Vec2{tag.at.x - h, tag.at.y - h}, Vec2{tag.at.x + h, tag.at.y - h},
            Vec2{tag.at.x + h, tag.at.y + h}, Vec2{tag.at.x - h, tag.at.y + h}};
}

/// Tags count pixels from their corners, OpenCV from their middles.
void undistort(std::vector<SeenTag>& tags, const Camera& camera) {
    const cv::Matx33d k(camera.fx, 0, camera.cx, 0, camera.fy, camera.cy, 0, 0, 1);
    const Vec2 half{0.5, 0.5};
    for (SeenTag& tag : tags) {
        std::vector<cv::Point2d> from{toCv(tag.centre - half)}, to;
        for (const Vec2& c : tag.corners) from.push_back(toCv(c - half));
        cv::undistortPoints(from, to, k, camera.distortion, cv::noArray(), k);
        tag.centre = Vec2{to[0].x, to[0].y} + half;
        for (std::size_t i = 0; i < 4; ++i) tag.corners[i] = Vec2{to[i + 1].x, to[i + 1].y} + half;
    }
}

/// The camera for a picture that was scaled or turned on its side since calibration; as it is where
/// its size is not known.
std::optional<Camera> fitted(const std::optional<Camera>& camera, const Image& picture) {
    if (!camera || camera->width == 0 || camera->height == 0) return camera;
    Camera c = *camera;
    if ((c.width > c.height) != (picture.width > picture.height)) {
        std::swap(c.width, c.height);
        std::swap(c.fx, c.fy);
        std::swap(c.cx, c.cy);
        if (c.distortion.size() >= 4) std::swap(c.distortion[2], c.distortion[3]);
    }
    const double kx = static_cast<double>(picture.width) / c.width;
    const double ky = static_cast<double>(picture.height) / c.height;
    c.fx *= kx;
    c.fy *= ky;
    c.cx = (c.cx + 0.5) * kx - 0.5;
    c.cy = (c.cy + 0.5) * ky - 0.5;
    return c;
}

/// Works through one picture.
class ScanReader {
public:
    ScanReader(const Image& p, const Hoop& h, const ScanOptions& o)
        : picture(p), grey(toGrey(p)), hoop(h), options(o) {
        reading.camera = fitted(o.camera, p);
    }

    Result<ScanReading> run() {
        tell(0.02);
        sortTags();
        if (options.stop.stop_requested()) return cancelled();
        tell(0.6);
        if (reading.frameTags < 3) return tooFewTags();
        if (!findMap())
            return cannotDo("the frame tags seen do not lie as the hoop's record says; check that "
                            "the right hoop is chosen");
        measureView();
        readCards();
        lookAtCloth();
        if (options.stop.stop_requested()) return cancelled();
        judge();
        tell(1);
        return std::move(reading);
    }

private:
    void tell(double share) const {
        if (options.progress) options.progress(share);
    }

    void sortTags() {
        std::vector<SeenTag> tags = findTags(grey);
        raw = tags;
        if (reading.camera) undistort(tags, *reading.camera);
        std::map<int, int> count;
        for (const SeenTag& t : tags) ++count[t.id];
        std::erase_if(raw, [&](const SeenTag& t) { return !frameTagOf(t.id); });
        for (const SeenTag& t : tags) {
            if (count[t.id] > 1) {
                if (std::find(doubled.begin(), doubled.end(), t.id) == doubled.end())
                    doubled.push_back(t.id);
            } else if (const FrameTag* frame = frameTagOf(t.id)) {
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
        std::sort(doubled.begin(), doubled.end());
        for (const int id : doubled)
            if (id >= firstCardId) reading.doubledCards.push_back(id);
    }

    const FrameTag* frameTagOf(int id) const {
        for (const FrameTag& f : hoop.tags)
            if (f.id == id) return &f;
        return nullptr;
    }

    /// The frame that most of the unknown tags belong to; empty if none is known.
    std::string otherFrame() const {
        const Hoop* best = nullptr;
        std::ptrdiff_t most = 0;
        for (const Hoop& o : options.others) {
            const auto n = std::count_if(foreign.begin(), foreign.end(), [&](int id) {
                return std::any_of(o.tags.begin(), o.tags.end(),
                                   [&](const FrameTag& t) { return t.id == id; });
            });
            if (n <= most) continue;
            most = n;
            best = &o;
        }
        return best ? best->name : std::string();
    }

    Error tooFewTags() const {
        std::string hint;
        if (!foreign.empty()) {
            const std::string frame = otherFrame();
            hint = frame.empty()
                       ? fmt::format(" (tag {} belongs to another hoop)", foreign[0])
                       : fmt::format(" (tag {} belongs to another hoop: {})", foreign[0], frame);
        }
        return cannotDo(fmt::format(
            "{} of the {} frame tags of {} are seen, at least 3 are needed; take the picture "
            "again with the whole hoop in it, in even light{}",
            reading.frameTags, hoop.tags.size(), hoop.id, hint));
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
        reading.tagErrorMm = errors[errors.size() / 2];
        return reading.tagErrorMm < 5;
    }

    void measureView() {
        const Vec2 centre = mapped(pictureToField, {picture.width / 2.0, picture.height / 2.0});
        reading.pxPerMm = resolutionAt(reading.fieldToPicture, centre);
        reading.tiltDeg = tiltOf(reading.fieldToPicture, picture, reading.camera);
        reading.sharpness = sharpnessOf(grey, raw);
    }

    void readCards() {
        for (const SeenTag& t : cardTags) {
            std::array<Vec2, 4> c;
            for (std::size_t k = 0; k < 4; ++k) c[k] = mapped(pictureToField, t.corners[k]);
            // All four edges say how the card is turned.
            const Vec2 along = (c[1] - c[0]) + (c[2] - c[3]);
            const Vec2 down = (c[3] - c[0]) + (c[2] - c[1]);
            const Vec2 both = along + Vec2{down.y, -down.x};
            const Vec2 at = mapped(pictureToField, t.centre);
            const double sigma = scanSigmaAt(at);
            const double edge = std::max(1.0, length(both) / 4);
            reading.cards.push_back({t.id, at, std::atan2(both.y, both.x) * degreesPerRadian, sigma,
                                     std::max(0.05, sigma / edge * degreesPerRadian)});
        }
    }

    /// What the tags cannot tell grows with the way to them; a calibrated lens leaves little.
    double scanSigmaAt(Vec2 at) const {
        double nearest = 1e9, spread = 1;
        for (const auto& [frame, seen] : frameTags) {
            nearest = std::min(nearest, distance(frame.at, at));
            spread = std::max(spread, length(frame.at));
        }
        // A bent lens shows at the tags about half of what it does between them.
        constexpr double bare = 1.7, calibrated = 0.7;
        const double pixels = cornerSigmaPx / std::max(0.1, reading.pxPerMm);
        const double bent =
            reading.tagErrorMm * (reading.camera ? calibrated : bare + nearest / spread);
        return std::max(leastSigmaMm, std::hypot(pixels, bent));
    }

    /// Where nothing is looked for: the frame, cards and their hair lines.
    Image skipped(const FlatMap& map, int width, int height) const {
        Image skip(width, height, 1);
        cv::Mat m(height, width, CV_8UC1, skip.pixels.data());
        m.setTo(255);
        for (const FramePosition& p : hoop.positions) {
            const Affine place = Pose{p.at.x, p.at.y, p.turnDeg, false, 1, 1}.affine();
            std::vector<cv::Point> corners;
            const Box field = Box::centredAt({0, 0}, hoop.widthMm, hoop.heightMm).grown(-1);
            for (const Vec2 c : field.corners()) {
                const Vec2 px = map.toPixels(place(c));
                corners.emplace_back(static_cast<int>(px.x), static_cast<int>(px.y));
            }
            if (hoop.shape == Hoop::Shape::oval) {
                const Vec2 px = map.toPixels(p.at);
                cv::ellipse(m, cv::Point(static_cast<int>(px.x), static_cast<int>(px.y)),
                            cv::Size(static_cast<int>(field.width() / 2 * map.pxPerMm),
                                     static_cast<int>(field.height() / 2 * map.pxPerMm)),
                            p.turnDeg, 0, 360, 0, cv::FILLED);
            } else {
                cv::fillConvexPoly(m, corners, 0);
            }
        }
        for (const Polyline& c : reading.covered) {
            std::vector<cv::Point> corners;
            for (const Vec2& p : c) {
                const Vec2 px = map.toPixels(p);
                corners.emplace_back(static_cast<int>(px.x), static_cast<int>(px.y));
            }
            cv::fillConvexPoly(m, corners, 255);
        }
        return skip;
    }

    void coverCard(const SeenTag& t) {
        const Vec2 at = mapped(pictureToField, t.centre);
        const Vec2 across =
            mapped(pictureToField, t.corners[1]) - mapped(pictureToField, t.corners[0]);
        const Vec2 x = across * (1 / std::max(1e-9, length(across))), y{-x.y, x.x};
        const auto cover = [&](double w, double h) {
            reading.covered.push_back(
                {at - x * w - y * h, at + x * w - y * h, at + x * w + y * h, at - x * w + y * h});
        };
        const double body = cardEdgeMm / 2 + 7; // with its paper and the arrow
        cover(body, body);
        cover(cardHairLineMm + 1, 1.2);
        cover(1.2, cardHairLineMm + 1);
    }

    void coverLine(const SeenLine& line) {
        constexpr double wide = 0.8, longMm = 2000;
        const Vec2 along = line.way * longMm, side = Vec2{-line.way.y, line.way.x} * wide;
        reading.covered.push_back({line.at - along - side, line.at + along - side,
                                   line.at + along + side, line.at - along + side});
    }

    void lookAtCloth() {
        for (const SeenTag& t : cardTags) coverCard(t);
        const FlatMap map{hoop.reach(), std::min(flatPxPerMm, std::max(2.0, reading.pxPerMm))};
        const Image flat = flattened(grey, reading.fieldToPicture, reading.camera, map);
        const Image skip = skipped(map, flat.width, flat.height);
        const LightFacts light = lightOf(flat, skip);
        reading.light = light.median;
        reading.clipped = light.clipped;
        tell(0.75);
        if (!options.findLines) return;
        DrawnLines drawn = findDrawnLines(flat, map, skip, options.stop);
        const auto widen = [&](SeenLine& line) {
            line.sigmaMm = std::hypot(line.sigmaMm, scanSigmaAt(line.at));
        };
        if (drawn.datum) {
            for (SeenLine* line : {&drawn.datum->level, &drawn.datum->upright}) {
                widen(*line);
                coverLine(*line);
            }
            reading.datum = std::make_shared<const SeenDatum>(std::move(*drawn.datum));
        } else if (drawn.single) {
            widen(*drawn.single);
            coverLine(*drawn.single);
            reading.line = std::make_shared<const SeenLine>(std::move(*drawn.single));
        }
    }

    void lower(ScanQuality to, std::string reason) {
        reading.quality = std::max(reading.quality, to);
        reading.reasons.push_back(std::move(reason));
    }

    /// Standard deviation on the cloth: of a blurred edge's steepest slope, and of how much a pixel
    /// is. What a hair line of the cloth loses does not depend on how near the camera was.
    double blurMm() const {
        return 1 / (std::max(1e-6, reading.sharpness) * std::sqrt(2 * std::numbers::pi) *
                    std::max(1e-6, reading.pxPerMm));
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
        grade(blurMm(), usableBlurMm, retakeBlurMm, false,
              fmt::format("the picture is blurred by {:.1f} mm; hold still and focus on the cloth",
                          blurMm()));
        grade(reading.light, usableDark, retakeDark, true,
              "the picture is too dark; bring light from the side, without a flash");
        grade(reading.clipped, usableClipped, retakeClipped, false,
              fmt::format("{:.0f} % of the cloth is burnt out or black; turn away glare and shadow",
                          reading.clipped * 100));
        if (reading.tagErrorMm > retakeResidualMm)
            lower(ScanQuality::retake,
                  fmt::format("the frame tags agree only to {:.1f} mm; is a tag bent or loose?",
                              reading.tagErrorMm));
        if (reading.frameTags < static_cast<int>(std::min<std::size_t>(4, hoop.tags.size())))
            lower(ScanQuality::usable, fmt::format("only {} of {} frame tags are seen",
                                                   reading.frameTags, hoop.tags.size()));
        for (const int id : doubled)
            lower(ScanQuality::usable,
                  fmt::format("{} {} is doubled: it is seen twice and left out",
                              id >= firstCardId ? "card" : "frame tag", id));
        if (!foreign.empty())
            lower(ScanQuality::usable,
                  fmt::format("tag {} of another frame is in the picture", foreign[0]));
    }

    const Image& picture;
    Image grey;
    const Hoop& hoop;
    const ScanOptions& options;
    ScanReading reading;
    Homography pictureToField{};
    std::vector<std::pair<FrameTag, SeenTag>> frameTags;
    std::vector<SeenTag> cardTags;
    std::vector<SeenTag> raw; ///< frame tags as they lie in the picture
    std::vector<int> doubled;
    std::vector<int> foreign;
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

Result<ScanReading> readScan(const Image& picture, const Hoop& hoop, const ScanOptions& options) {
    return ScanReader(picture, hoop, options).run();
}

} // namespace rapt
