#include "standins/camera.h"

#include "divide/hooping_lists.h"
#include "registration/proposals.h"
#include "scan/tags.h"
#include "standins/hoop_picture.h"
#include "thread/measures.h"

#include <fmt/format.h>
#include <numbers>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>
#include <random>

namespace rapt {
namespace {

constexpr double marginMm = 14; ///< of table seen round the hoop
constexpr double drawnPxPerMm = 9;
constexpr double focalPerWidth = 1.3;

/// The same numbers on every machine: the engine is fixed by the standard, the distributions of
/// the library are not used.
class Dice {
public:
    explicit Dice(std::uint64_t seed) : engine(seed * 0x9E3779B97F4A7C15ull + 1) {}
    double between(double low, double high) {
        const double unit = static_cast<double>(engine() >> 11) * 0x1.0p-53;
        return low + (high - low) * unit;
    }
    /// Nearly normal: the sum of twelve evens (Irwin and Hall).
    double normal(double sigma) {
        double sum = -6;
        for (int i = 0; i < 12; ++i) sum += between(0, 1);
        return sigma * sum;
    }

private:
    std::mt19937_64 engine;
};

/// How the camera looks at the field: turned about its middle, tilted, and far enough away.
struct View {
    cv::Matx33d fieldToPicture;
    int width = 0, height = 0;
    double tiltDeg = 0;
};

View viewOf(const Box& area, const PhotographOptions& options, Dice& dice) {
    const double pxPerMm = options.pxPerMm;
    View v;
    v.width = static_cast<int>(area.width() * pxPerMm);
    v.height = static_cast<int>(area.height() * pxPerMm);
    v.tiltDeg = dice.between(1, 8);
    if (options.tiltDeg) v.tiltDeg = *options.tiltDeg;
    const double tilt = v.tiltDeg * std::numbers::pi / 180;
    const double way = dice.between(0, 2 * std::numbers::pi);
    const double turn = dice.between(-2, 2) * std::numbers::pi / 180;
    const double f = focalPerWidth * v.width;
    const double away = f / pxPerMm;
    // Rodrigues: a rotation by `tilt` about the axis in the plane at `way`, after a turn.
    const double ax = std::cos(way), ay = std::sin(way), c = std::cos(tilt), s = std::sin(tilt);
    const cv::Matx33d lean(c + ax * ax * (1 - c), ax * ay * (1 - c), ay * s, ax * ay * (1 - c),
                           c + ay * ay * (1 - c), -ax * s, -ay * s, ax * s, c);
    const cv::Matx33d spin(std::cos(turn), -std::sin(turn), 0, std::sin(turn), std::cos(turn), 0, 0,
                           0, 1);
    const cv::Matx33d r = lean * spin;
    const cv::Matx33d k(f, 0, v.width / 2.0, 0, f, v.height / 2.0, 0, 0, 1);
    v.fieldToPicture = k * cv::Matx33d(r(0, 0), r(0, 1), dice.between(-2, 2), r(1, 0), r(1, 1),
                                       dice.between(-2, 2), r(2, 0), r(2, 1), away);
    return v;
}

/// Frame millimetres of undistorted picture pixels, as pixels of the flat drawing.
cv::Matx33d flatToPicture(const Box& area, const View& view) {
    // Pixel centres lie at half coordinates.
    const cv::Matx33d toField(1 / drawnPxPerMm, 0, area.minX + 0.5 / drawnPxPerMm, 0,
                              1 / drawnPxPerMm, area.minY + 0.5 / drawnPxPerMm, 0, 0, 1);
    const cv::Matx33d centred(1, 0, -0.5, 0, 1, -0.5, 0, 0, 1);
    return centred * view.fieldToPicture * toField;
}

/// For every pixel of the picture, where in the flat drawing it comes from.
cv::Mat lensMap(const cv::Matx33d& flatToPixels, const Camera& camera, cv::Size size) {
    const cv::Matx33d k(camera.fx, 0, camera.cx, 0, camera.fy, camera.cy, 0, 0, 1);
    const cv::Matx33d back = flatToPixels.inv();
    cv::Mat map(size, CV_32FC2);
    for (int y = 0; y < size.height; ++y) {
        std::vector<cv::Point2d> row, straight;
        for (int x = 0; x < size.width; ++x) row.emplace_back(x, y);
        cv::undistortPoints(row, straight, k, camera.distortion, cv::noArray(), k);
        for (int x = 0; x < size.width; ++x) {
            const cv::Point2d& s = straight[static_cast<std::size_t>(x)];
            const cv::Vec3d p = back * cv::Vec3d(s.x, s.y, 1);
            map.at<cv::Vec2f>(y, x) = {static_cast<float>(p[0] / p[2]),
                                       static_cast<float>(p[1] / p[2])};
        }
    }
    return map;
}

Image take(const Image& flat, const Box& area, const View& view, const Camera& camera,
           double blurPx) {
    Image picture(view.width, view.height, 3);
    const cv::Mat from(flat.height, flat.width, CV_8UC3,
                       const_cast<std::uint8_t*>(flat.pixels.data()));
    cv::Mat to(picture.height, picture.width, CV_8UC3, picture.pixels.data());
    const cv::Matx33d map = flatToPicture(area, view);
    if (camera.distortion.empty())
        cv::warpPerspective(from, to, map, to.size(), cv::INTER_LINEAR, cv::BORDER_REPLICATE);
    else
        cv::remap(from, to, lensMap(map, camera, to.size()), cv::noArray(), cv::INTER_LINEAR,
                  cv::BORDER_REPLICATE);
    if (blurPx > 0.05) cv::GaussianBlur(to, to, cv::Size(0, 0), blurPx);
    return picture;
}

/// Light that falls off to one side, a shadow with a soft edge, a spot of glare, and the grain of a
/// sensor.
void expose(Image& picture, const PhotographOptions& options, Dice& dice) {
    const double way = dice.between(0, 2 * std::numbers::pi);
    const double gain = dice.between(0.88, 1.0);
    std::mt19937 grain(static_cast<std::uint32_t>(dice.between(0, 4e9)));
    const double edge = dice.between(-0.5, 0.5), shadeWay = dice.between(0, 2 * std::numbers::pi);
    const Vec2 spot{dice.between(-0.5, 0.5), dice.between(-0.5, 0.5)};
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x) {
            const double u = 2.0 * x / picture.width - 1;
            const double v = 2.0 * y / picture.height - 1;
            double light =
                gain * (1 + options.unevenLight * (u * std::cos(way) + v * std::sin(way)));
            const double into = u * std::cos(shadeWay) + v * std::sin(shadeWay) - edge;
            light *= 1 - options.shadow / (1 + std::exp(-30 * into));
            const double far = std::hypot(u - spot.x, v - spot.y);
            const double glare = 400 * options.glare * std::exp(-far * far / 0.08);
            const std::uint32_t bits = grain();
            const double noise =
                static_cast<double>((bits & 7) + ((bits >> 3) & 7) + ((bits >> 6) & 7)) - 10.5;
            std::uint8_t* p = picture.at(x, y);
            for (int k = 0; k < 3; ++k)
                p[k] = static_cast<std::uint8_t>(
                    std::clamp(p[k] * light + glare + 0.4 * options.noise * noise, 0.0, 255.0));
        }
}

/// Stretch and skew about the frame's middle, then turn and move: the motion in the frame.
Affine motionOf(const Pose& pose, double skewDeg) {
    const Affine skew{1, std::tan(skewDeg * std::numbers::pi / 180), 0, 1, 0, 0};
    return skew.then(pose.affine());
}

/// The drawn lines where they really lie.
std::shared_ptr<const SeenDatum> trueDatum(const HoopScene& scene) {
    SeenDatum d;
    d.at = scene.place({0, 0});
    const auto way = [&](Vec2 w) {
        const Vec2 v = scene.clothToField(w) - scene.clothToField({0, 0});
        return v * (1 / length(v));
    };
    d.level = {{}, d.at, way({1, 0}), 0};
    d.upright = {{}, d.at, way({0, 1}), 0};
    if (std::abs(d.level.way.y) > std::abs(d.upright.way.y)) std::swap(d.level, d.upright);
    if (d.level.way.x < 0) d.level.way = d.level.way * -1;
    constexpr double degrees = 180 / std::numbers::pi;
    d.rotationDeg = std::atan2(d.level.way.y, d.level.way.x) * degrees;
    d.squareErrorDeg =
        std::abs(std::acos(std::clamp(dot(d.level.way, d.upright.way), -1.0, 1.0)) * degrees - 90);
    return std::make_shared<const SeenDatum>(std::move(d));
}

void layCards(const Hooping& hooping, const std::vector<PlacedCard>& onCloth, HoopScene& scene,
              Dice& dice) {
    const Vec2 across = scene.clothToField({1, 0}) - scene.clothToField({0, 0});
    const double clothTurn = std::atan2(across.y, across.x) * 180 / std::numbers::pi;
    for (const PlacedCard& c : onCloth)
        scene.cards.push_back({c.id, scene.place(c.at), clothTurn + c.turnDeg, 0, 0});
    if (!onCloth.empty()) return;
    for (std::size_t i = 0; i < hooping.marks.size(); ++i) {
        const Vec2 off{dice.normal(cardOnMarkSigmaMm), dice.normal(cardOnMarkSigmaMm)};
        scene.cards.push_back({firstCardId + static_cast<int>(i),
                               scene.place(hooping.marks[i].at) + off,
                               clothTurn + dice.normal(cardOnMarkSigmaDeg), 0, 0});
    }
}

Result<std::vector<StitchList>> sewnBefore(const Job& job, const Library& library, int hooping) {
    if (hooping <= 1) return std::vector<StitchList>{};
    const auto lists = hoopingLists(job, library);
    if (!lists) return lists.error();
    return std::vector<StitchList>{
        sewnOnCloth(job.hoopings, *lists, static_cast<std::size_t>(hooping) - 1)};
}

void drawInRound(HoopScene& scene, double amountMm) {
    if (amountMm <= 0) return;
    for (const StitchList& list : scene.sewn) {
        const Box box = extentsOf(list);
        if (box.empty()) continue;
        scene.drawIns.push_back({scene.clothToField(box.centre()),
                                 std::hypot(box.width(), box.height()) / 2 + 1, amountMm});
    }
}

} // namespace

std::vector<PlacedCard> cardsLaidByHand(const Hooping& hooping, std::uint64_t seed) {
    Dice dice(seed ^ 0xC0FFEEull);
    std::vector<PlacedCard> cards;
    for (std::size_t i = 0; i < hooping.marks.size(); ++i) {
        const Vec2 off{dice.normal(cardOnMarkSigmaMm), dice.normal(cardOnMarkSigmaMm)};
        cards.push_back({firstCardId + static_cast<int>(i), hooping.marks[i].at + off,
                         dice.normal(cardOnMarkSigmaDeg)});
    }
    return cards;
}

Result<Photograph> photograph(const Job& job, const Library& library,
                              const PhotographOptions& options) {
    const int count = static_cast<int>(job.hoopings.size());
    if (options.hooping < 1 || options.hooping > count)
        return cannotDo(count == 0 ? "no hoopings are planned; divide the job first"
                                   : fmt::format("the job has hoopings 1 to {}, not {}", count,
                                                 options.hooping));
    const Hooping& hooping = job.hoopings[static_cast<std::size_t>(options.hooping) - 1];
    const Result<Hoop> hoop = library.hoop(hooping.hoop);
    if (!hoop) return hoop.error();
    auto sewn = options.sewn ? Result<std::vector<StitchList>>(*options.sewn)
                             : sewnBefore(job, library, options.hooping);
    if (!sewn) return sewn.error();

    Dice dice(options.seed);
    const auto within = [&](double limit) { return dice.between(-limit, limit); };
    Photograph result;
    result.cloth.x = within(options.shiftMm);
    result.cloth.y = within(options.shiftMm);
    result.cloth.rotationDeg = within(options.turnDeg);
    HoopScene scene;
    const std::uint64_t more = options.seed ^ 0x5DEECE66Dull;
    if (Dice own(more); options.stretchPercent > 0 || options.skewDeg > 0) {
        result.cloth.scaleX = 1 + own.between(0, options.stretchPercent) / 100;
        result.cloth.scaleY = 1 + own.between(0, options.stretchPercent) / 100;
        result.skewDeg = own.between(-options.skewDeg, options.skewDeg);
    }
    if (options.cloth) result.cloth = *options.cloth;
    scene.hoop = *hoop;
    scene.cloth = job.cloth;
    scene.clothToField =
        hooping.frame.affine().inverse().then(motionOf(result.cloth, result.skewDeg));
    scene.sewn = std::move(*sewn);
    scene.datumLines = options.datumLines;
    scene.creases = options.creases;
    if (options.motif) scene.motif = printedMotif();
    drawInRound(scene, options.drawInMm);
    if (options.cards) layCards(hooping, options.cardsOnCloth, scene, dice);
    scene.area = Box::centredAt({0, 0}, hoop->outerWidthMm, hoop->outerHeightMm).grown(marginMm);
    const View view = viewOf(scene.area, options, dice);
    const double f = focalPerWidth * view.width;
    result.camera = {"stand-in camera",
                     view.width,
                     view.height,
                     f,
                     f,
                     view.width / 2.0 - 0.5,
                     view.height / 2.0 - 0.5,
                     options.distortion,
                     0};
    result.picture =
        take(drawHoop(scene, drawnPxPerMm), scene.area, view, result.camera, options.blurPx);
    expose(result.picture, options, dice);
    result.clothToFrame = scene.clothToField;

    result.truth.pxPerMm = options.pxPerMm;
    result.truth.tiltDeg = view.tiltDeg;
    result.truth.sharpness = 0.3;
    result.truth.frameTags = static_cast<int>(hoop->tags.size());
    result.truth.cards = scene.cards;
    if (options.datumLines) result.truth.datum = trueDatum(scene);
    std::copy(view.fieldToPicture.val, view.fieldToPicture.val + 9,
              result.truth.fieldToPicture.begin());
    return result;
}

} // namespace rapt
