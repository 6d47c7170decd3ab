#include "scan/stitch_match.h"

#include "thread/measures.h"

#include <numbers>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

constexpr double coarsePxPerMm = 1.25, finePxPerMm = 5;
constexpr double degStep = 1;
constexpr double leastAgreement = 0.45;
constexpr double lightMm = 9; ///< light changes slower than this, threads faster
constexpr double degreesPerRadian = 180 / std::numbers::pi;

/// What the threads will look like: RGB on a cloth, at a resolution.
cv::Mat rendered(const StitchList& list, const Box& area, double pxPerMm, const cv::Scalar& cloth) {
    cv::Mat picture(static_cast<int>(std::ceil(area.height() * pxPerMm)),
                    static_cast<int>(std::ceil(area.width() * pxPerMm)), CV_8UC3, cloth);
    const auto widths = widthTable(list);
    constexpr int shift = 4;
    const auto pixel = [&](Vec2 p) {
        return cv::Point(
            static_cast<int>(std::lround(((p.x - area.minX) * pxPerMm - 0.5) * (1 << shift))),
            static_cast<int>(std::lround(((p.y - area.minY) * pxPerMm - 0.5) * (1 << shift))));
    };
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        const Thread* t = list.find(s.thread);
        if (!from || !t || from->op != Op::stitch) return;
        const int width = std::max(
            1, static_cast<int>(std::lround(static_cast<double>(widths[s.thread]) * pxPerMm)));
        cv::line(picture, pixel(from->at()), pixel(s.at()),
                 cv::Scalar(t->color.r, t->color.g, t->color.b), width, cv::LINE_AA, shift);
    });
    return picture;
}

/// By how much each pixel differs from the cloth, freed of slow changes of light.
cv::Mat difference(const cv::Mat& rgb, const cv::Scalar& cloth, double pxPerMm) {
    cv::Mat f;
    rgb.convertTo(f, CV_32FC3);
    std::vector<cv::Mat> parts;
    cv::split(f, parts);
    cv::Mat sum = cv::Mat::zeros(rgb.size(), CV_32F);
    for (int k = 0; k < 3; ++k) sum += (parts[static_cast<std::size_t>(k)] - cloth[k]) / 3;
    cv::GaussianBlur(sum, sum, cv::Size(0, 0), 0.25 * pxPerMm);
    cv::Mat slow;
    cv::GaussianBlur(sum, slow, cv::Size(0, 0), lightMm * pxPerMm, 0, cv::BORDER_REPLICATE);
    return sum - slow;
}

/// The most usual colour of the picture's patch: the cloth.
cv::Scalar clothColour(const cv::Mat& rgb) {
    cv::Scalar colour;
    for (int k = 0; k < 3; ++k) {
        std::array<int, 256> count{};
        for (int y = 0; y < rgb.rows; y += 2)
            for (int x = 0; x < rgb.cols; x += 2) ++count[rgb.at<cv::Vec3b>(y, x)[k]];
        std::array<int, 256> wide{};
        for (int v = 4; v < 252; ++v)
            for (int d = -4; d <= 4; ++d)
                wide[static_cast<std::size_t>(v)] += count[static_cast<std::size_t>(v + d)];
        colour[k] = static_cast<double>(std::max_element(wide.begin(), wide.end()) - wide.begin());
    }
    return colour;
}

/// The plan turned about its middle.
StitchList turnedBy(const StitchList& list, Vec2 middle, double deg) {
    StitchList result = list;
    const double c = std::cos(deg / degreesPerRadian), s = std::sin(deg / degreesPerRadian);
    for (Stitch& st : result.stitches) {
        const Vec2 d = st.at() - middle;
        st = stitchAt(st.op, middle + Vec2{c * d.x - s * d.y, s * d.x + c * d.y}, st.thread);
    }
    return result;
}

class Matcher {
public:
    Matcher(const Image& flat, const FlatMap& m, const StitchList& e, const MatchReach& r)
        : map(m), expected(e), reach(r),
          picture(flat.height, flat.width, CV_8UC3,
                  const_cast<std::uint8_t*>(flat.pixels.data())),
          box(extentsOf(e)), middle(box.centre()) {}

    std::optional<StitchMatch> run(std::stop_token stop) {
        Box wide = box.grown(reach.mm + 3);
        wide.minX = std::max(wide.minX, map.area.minX);
        wide.minY = std::max(wide.minY, map.area.minY);
        wide.maxX = std::min(wide.maxX, map.area.maxX);
        wide.maxY = std::min(wide.maxY, map.area.maxY);
        if (wide.empty() || wide.width() < 4 || wide.height() < 4) return std::nullopt;
        cloth = clothColour(patch(wide, coarsePxPerMm));
        if (!coarse(wide, stop)) return std::nullopt;
        if (stop.stop_requested()) return std::nullopt;
        refine(wide);
        if (best.agreement < leastAgreement) return std::nullopt;
        return best;
    }

private:
    /// A part of the picture at a resolution.
    cv::Mat patch(const Box& area, double pxPerMm) const {
        cv::Mat to;
        const double k = map.pxPerMm / pxPerMm;
        const Vec2 corner = map.toPixels({area.minX, area.minY});
        const cv::Matx23d back(k, 0, corner.x + 0.5 * k - 0.5, 0, k, corner.y + 0.5 * k - 0.5);
        cv::Mat soft = picture;
        if (k > 1.5) cv::GaussianBlur(picture, soft, cv::Size(0, 0), 0.4 * k);
        cv::warpAffine(soft, to, back,
                       cv::Size(static_cast<int>(area.width() * pxPerMm),
                                static_cast<int>(area.height() * pxPerMm)),
                       cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
        return to;
    }

    /// All turns and moves, in steps of a degree and of a coarse pixel.
    bool coarse(const Box& wide, std::stop_token stop) {
        const cv::Mat seen = difference(patch(wide, coarsePxPerMm), cloth, coarsePxPerMm);
        for (double deg = -reach.deg; deg <= reach.deg + 1e-9; deg += degStep) {
            if (stop.stop_requested()) return false;
            const StitchList list = turnedBy(expected, middle, deg);
            Box own = extentsOf(list).grown(1.5);
            own.minX = std::max(own.minX, wide.minX);
            own.minY = std::max(own.minY, wide.minY);
            own.maxX = std::min(own.maxX, wide.maxX);
            own.maxY = std::min(own.maxY, wide.maxY);
            const cv::Mat plan =
                difference(rendered(list, own, coarsePxPerMm, cloth), cloth, coarsePxPerMm);
            if (plan.cols > seen.cols || plan.rows > seen.rows) continue;
            cv::Mat scores;
            cv::matchTemplate(seen, plan, scores, cv::TM_CCOEFF_NORMED);
            double most = 0;
            cv::Point at;
            cv::minMaxLoc(scores, nullptr, &most, nullptr, &at);
            if (most <= best.agreement) continue;
            best.agreement = most;
            best.turnDeg = deg;
            best.expected = middle;
            best.seen = middle + Vec2{wide.minX - own.minX + at.x / coarsePxPerMm,
                                      wide.minY - own.minY + at.y / coarsePxPerMm};
        }
        return best.agreement > 0.3;
    }

    /// Gauss and Newton over move, turn, gain and offset (Lucas and Kanade 1981), finer and finer.
    void refine(const Box& wide) {
        const double pxPerMm = std::min(finePxPerMm, map.pxPerMm);
        const cv::Mat seen = difference(patch(wide, pxPerMm), cloth, pxPerMm);
        const Box own = box.grown(2);
        cv::Mat plan = difference(rendered(expected, own, pxPerMm, cloth), cloth, pxPerMm);
        for (const double softMm : {0.8, 0.4, 0.2}) {
            cv::Mat a, b;
            cv::GaussianBlur(plan, a, cv::Size(0, 0), softMm * pxPerMm);
            cv::GaussianBlur(seen, b, cv::Size(0, 0), softMm * pxPerMm);
            for (int round = 0; round < 25; ++round)
                if (step(a, b, own, wide, pxPerMm) < 1e-4) break;
        }
    }

    /// One step; gives how far it went, mm.
    double step(const cv::Mat& plan, const cv::Mat& seen, const Box& own, const Box& wide,
                double pxPerMm) {
        const double c = std::cos(best.turnDeg / degreesPerRadian);
        const double s = std::sin(best.turnDeg / degreesPerRadian);
        // Pixel of the plan → pixel of the picture.
        const auto place = [&](double x, double y) {
            const Vec2 p = Vec2{own.minX, own.minY} + Vec2{x + 0.5, y + 0.5} * (1 / pxPerMm) - middle;
            return best.seen + Vec2{c * p.x - s * p.y, s * p.x + c * p.y};
        };
        const auto pixel = [&](Vec2 mm) {
            return (mm - Vec2{wide.minX, wide.minY}) * pxPerMm - Vec2{0.5, 0.5};
        };
        const Vec2 zero = pixel(place(0, 0)), ex = pixel(place(1, 0)), ey = pixel(place(0, 1));
        const cv::Matx23d back(ex.x - zero.x, ey.x - zero.x, zero.x, ex.y - zero.y, ey.y - zero.y,
                               zero.y);
        cv::Mat got, inside;
        cv::warpAffine(seen, got, back, plan.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
        cv::warpAffine(cv::Mat(seen.size(), CV_8U, cv::Scalar(255)), inside, back, plan.size(),
                       cv::INTER_NEAREST | cv::WARP_INVERSE_MAP);
        cv::Mat gx, gy;
        cv::Sobel(got, gx, CV_32F, 1, 0, 3, 0.125 * pxPerMm);
        cv::Sobel(got, gy, CV_32F, 0, 1, 3, 0.125 * pxPerMm);
        return solve(plan, got, gx, gy, inside, own, pxPerMm);
    }

    double solve(const cv::Mat& plan, const cv::Mat& got, const cv::Mat& gx, const cv::Mat& gy,
                 const cv::Mat& inside, const Box& own, double pxPerMm) {
        // Unknown: move along the plan's axes (dx, dy), turn, gain, offset; got ≈ gain·plan + offset
        // once moved.
        cv::Matx<double, 5, 5> m = cv::Matx<double, 5, 5>::zeros();
        cv::Vec<double, 5> b = cv::Vec<double, 5>::all(0);
        double n = 0, sa = 0, sg = 0, saa = 0, sgg = 0, sag = 0;
        for (int y = 1; y + 1 < plan.rows; ++y)
            for (int x = 1; x + 1 < plan.cols; ++x) {
                if (!inside.at<std::uint8_t>(y, x)) continue;
                const double a = plan.at<float>(y, x), g = got.at<float>(y, x);
                const double px = own.minX + (x + 0.5) / pxPerMm - middle.x;
                const double py = own.minY + (y + 0.5) / pxPerMm - middle.y;
                const double ix = gx.at<float>(y, x), iy = gy.at<float>(y, x);
                const cv::Vec<double, 5> row(ix, iy, -ix * py + iy * px, -a, -1);
                m += row * row.t();
                b -= row * g;
                ++n;
                sa += a;
                sg += g;
                saa += a * a;
                sgg += g * g;
                sag += a * g;
            }
        if (n < 50) return 0;
        const double va = saa - sa * sa / n, vg = sgg - sg * sg / n;
        best.agreement = va > 0 && vg > 0 ? (sag - sa * sg / n) / std::sqrt(va * vg) : 0;
        cv::Vec<double, 5> d;
        if (!cv::solve(m, b, d, cv::DECOMP_SVD)) return 0;
        const double c = std::cos(best.turnDeg / degreesPerRadian);
        const double s = std::sin(best.turnDeg / degreesPerRadian);
        const double limit = 0.7, size = std::hypot(d[0], d[1]);
        const double share = size > limit ? limit / size : 1;
        best.seen = best.seen + Vec2{c * d[0] - s * d[1], s * d[0] + c * d[1]} * share;
        best.turnDeg += std::clamp(d[2], -0.02, 0.02) * degreesPerRadian * share;
        sigmaOf(m, d, n, sgg, sag, saa);
        return size;
    }

    /// From the noise that is left; neighbouring pixels tell the same thing.
    void sigmaOf(const cv::Matx<double, 5, 5>& m, const cv::Vec<double, 5>&, double n, double sgg,
                 double sag, double saa) {
        const double left = saa > 0 ? std::max(0.0, sgg - sag * sag / saa) : sgg;
        const double pixels = 9; ///< per independent one
        const double variance = left / n * pixels;
        const cv::Matx<double, 5, 5> inverse = m.inv(cv::DECOMP_SVD);
        best.sigmaMm = std::max(
            0.08, std::sqrt(variance * std::max(inverse(0, 0), inverse(1, 1))));
        best.sigmaDeg = std::max(
            0.05, std::sqrt(variance * std::max(0.0, inverse(2, 2))) * degreesPerRadian);
    }

    const FlatMap& map;
    const StitchList& expected;
    const MatchReach& reach;
    cv::Mat picture;
    Box box;
    Vec2 middle;
    cv::Scalar cloth;
    StitchMatch best;
};

} // namespace

std::optional<StitchMatch> matchStitches(const Image& flatRgb, const FlatMap& map,
                                         const StitchList& expected, const MatchReach& reach,
                                         std::stop_token stop) {
    if (extentsOf(expected).empty()) return std::nullopt;
    return Matcher(flatRgb, map, expected, reach).run(stop);
}

} // namespace rapt
