#include "standins/camera.h"

#include "job/expansion.h"
#include "scan/tags.h"
#include "standins/hoop_picture.h"

#include <fmt/format.h>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

namespace rapt {
namespace {

constexpr double marginMm = 14; ///< of table seen round the hoop
constexpr double flatPxPerMm = 9;
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

Image warp(const Image& flat, const Box& area, const View& view) {
    Image picture(view.width, view.height, 3);
    const cv::Mat from(flat.height, flat.width, CV_8UC3,
                       const_cast<std::uint8_t*>(flat.pixels.data()));
    cv::Mat to(picture.height, picture.width, CV_8UC3, picture.pixels.data());
    // Pixel centres lie at half coordinates.
    const cv::Matx33d toField(1 / flatPxPerMm, 0, area.minX + 0.5 / flatPxPerMm, 0, 1 / flatPxPerMm,
                              area.minY + 0.5 / flatPxPerMm, 0, 0, 1);
    const cv::Matx33d centred(1, 0, -0.5, 0, 1, -0.5, 0, 0, 1);
    cv::warpPerspective(from, to, centred * view.fieldToPicture * toField, to.size(),
                        cv::INTER_LINEAR, cv::BORDER_REPLICATE);
    cv::GaussianBlur(to, to, cv::Size(0, 0), 0.6);
    return picture;
}

/// Light that falls off a little to one side, and the grain of a sensor.
void expose(Image& picture, Dice& dice) {
    const double way = dice.between(0, 2 * std::numbers::pi);
    const double gain = dice.between(0.88, 1.0);
    std::mt19937 grain(static_cast<std::uint32_t>(dice.between(0, 4e9)));
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x) {
            const double u = 2.0 * x / picture.width - 1;
            const double v = 2.0 * y / picture.height - 1;
            const double light = gain * (1 + 0.05 * (u * std::cos(way) + v * std::sin(way)));
            const std::uint32_t bits = grain();
            const double noise =
                static_cast<double>((bits & 7) + ((bits >> 3) & 7) + ((bits >> 6) & 7)) - 10.5;
            std::uint8_t* p = picture.at(x, y);
            for (int k = 0; k < 3; ++k)
                p[k] =
                    static_cast<std::uint8_t>(std::clamp(p[k] * light + 0.4 * noise, 0.0, 255.0));
        }
}

Result<std::vector<StitchList>> sewnBefore(const Job& job, int hooping) {
    StitchCache cache;
    const std::vector<PlacedPiece> placed = placedPieces(job, cache);
    std::vector<StitchList> lists;
    for (int n = 1; n < hooping; ++n) {
        const auto& ids = job.hoopings[static_cast<std::size_t>(n) - 1].pieces;
        std::vector<const PlacedPiece*> pieces;
        for (const PlacedPiece& p : placed)
            if (std::find(ids.begin(), ids.end(), p.piece.id) != ids.end()) pieces.push_back(&p);
        auto stitched = stitchPlaced(pieces, {}, cache);
        if (!stitched) return stitched.error();
        lists.push_back(std::move(stitched->list));
    }
    return lists;
}

} // namespace

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
    auto sewn = sewnBefore(job, options.hooping);
    if (!sewn) return sewn.error();

    Dice dice(options.seed);
    Photograph result;
    result.cloth = {dice.between(-3, 3), dice.between(-3, 3), dice.between(-2, 2), false, 1, 1};
    HoopScene scene;
    scene.hoop = *hoop;
    scene.cloth = job.cloth;
    scene.clothToField = hooping.pose.affine().inverse().then(result.cloth.affine());
    scene.sewn = std::move(*sewn);
    const Affine toField = scene.clothToField;
    const Vec2 across = toField({1, 0}) - toField({0, 0});
    const double clothTurn = std::atan2(across.y, across.x) * 180 / std::numbers::pi;
    for (std::size_t i = 0; i < hooping.marks.size(); ++i) {
        const Vec2 off{dice.normal(0.15), dice.normal(0.15)};
        scene.cards.push_back({firstCardId + static_cast<int>(i),
                               toField(hooping.marks[i].at) + off, clothTurn + dice.normal(0.8),
                               0});
    }
    scene.area = Box::centredAt({0, 0}, hoop->outerWidthMm, hoop->outerHeightMm).grown(marginMm);
    const View view = viewOf(scene.area, options, dice);
    result.picture = warp(drawHoop(scene, flatPxPerMm), scene.area, view);
    expose(result.picture, dice);

    result.truth.pxPerMm = options.pxPerMm;
    result.truth.tiltDeg = view.tiltDeg;
    result.truth.sharpness = 0.3;
    result.truth.frameTags = static_cast<int>(hoop->tags.size());
    result.truth.cards = scene.cards;
    std::copy(view.fieldToPicture.val, view.fieldToPicture.val + 9,
              result.truth.fieldToPicture.begin());
    return result;
}

} // namespace rapt
