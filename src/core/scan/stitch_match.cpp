#include "scan/stitch_match.h"

#include "geometry/pose.h"
#include "thread/measures.h"

#include <numbers>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

constexpr double coarsePxPerMm = 1.25, finePxPerMm = 5;
constexpr double degStep = 1;
constexpr double leastAgreement = 0.75, sureAgreement = 0.93;
constexpr double leastThread = 4; ///< of variance in grey², that threads are in view at all
constexpr std::size_t mostGains = 6;
constexpr double softPlanMm = 0.25, drawnPxPerMm = 15, coarseDrawnPxPerMm = 4;
constexpr double ringMm = 1.5, nearMm = 3;
constexpr double lightMm = 9; ///< light changes slower than this, threads faster
constexpr double degreesPerRadian = 180 / std::numbers::pi;

/// Where each thread will show, 0 to 1: the threads of most stitches each for itself, the rest
/// together. Light and shine change colours, so each gets a gain of its own.
struct ThreadMasks {
    std::vector<cv::Mat> shows;
    std::vector<double> difference; ///< of the thread's colour from the cloth
};

std::array<std::size_t, 256> maskOf(const StitchList& list) {
    std::array<std::size_t, 256> count{}, mask{};
    for (const Stitch& s : list.stitches) ++count[s.thread];
    std::vector<Thread> order = list.threads;
    std::stable_sort(order.begin(), order.end(), [&](const Thread& x, const Thread& y) {
        return count[x.index] > count[y.index];
    });
    for (std::size_t i = 0; i < order.size(); ++i)
        mask[order[i].index] = std::min(i, mostGains - 1);
    return mask;
}

ThreadMasks threadMasks(const StitchList& list, const Box& area, double pxPerMm,
                        const cv::Scalar& cloth) {
    const auto mask = maskOf(list);
    const cv::Size size(static_cast<int>(std::ceil(area.width() * pxPerMm)),
                        static_cast<int>(std::ceil(area.height() * pxPerMm)));
    // Ragged edges cover half of the cloth: threads are drawn finely, so that they are as wide as
    // they are.
    const double drawn = pxPerMm < 2 ? coarseDrawnPxPerMm : drawnPxPerMm;
    const int fine = std::max(1, static_cast<int>(std::lround(drawn / pxPerMm)));
    const double finePx = pxPerMm * fine;
    ThreadMasks masks;
    for (const Thread& t : list.threads) {
        const std::size_t k = mask[t.index];
        while (masks.shows.size() <= k) {
            masks.shows.emplace_back(size * fine, CV_8UC1, cv::Scalar(0));
            masks.difference.push_back(0);
        }
        masks.difference[k] =
            (t.color.r - cloth[0] + t.color.g - cloth[1] + t.color.b - cloth[2]) / 3;
    }
    const auto widths = widthTable(list);
    constexpr int shift = 4;
    const auto pixel = [&](Vec2 p) {
        return cv::Point(
            static_cast<int>(std::lround(((p.x - area.minX) * finePx - 0.5) * (1 << shift))),
            static_cast<int>(std::lround(((p.y - area.minY) * finePx - 0.5) * (1 << shift))));
    };
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        if (!from || from->op != Op::stitch) return;
        // OpenCV's soft edges add most of a pixel.
        const int width = std::max(
            1, static_cast<int>(std::lround(static_cast<double>(widths[s.thread]) * finePx - 0.7)));
        const cv::Point a = pixel(from->at()), b = pixel(s.at());
        for (std::size_t k = 0; k < masks.shows.size(); ++k)
            cv::line(masks.shows[k], a, b, cv::Scalar(k == mask[s.thread] ? 255 : 0), width,
                     cv::LINE_AA, shift);
    });
    for (cv::Mat& m : masks.shows) {
        if (fine > 1) cv::resize(m, m, size, 0, 0, cv::INTER_AREA);
        m.convertTo(m, CV_32F, 1.0 / 255);
        cv::GaussianBlur(m, m, cv::Size(0, 0), softPlanMm * pxPerMm);
    }
    return masks;
}

cv::Mat pictureOf(const ThreadMasks& masks) {
    cv::Mat sum = cv::Mat::zeros(masks.shows.front().size(), CV_32F);
    for (std::size_t k = 0; k < masks.shows.size(); ++k)
        sum += masks.shows[k] * masks.difference[k];
    return sum;
}

/// By how much each pixel differs from the cloth.
cv::Mat difference(const cv::Mat& rgb, const cv::Scalar& cloth, double pxPerMm) {
    cv::Mat f;
    rgb.convertTo(f, CV_32FC3);
    std::vector<cv::Mat> parts;
    cv::split(f, parts);
    cv::Mat sum = cv::Mat::zeros(rgb.size(), CV_32F);
    for (int k = 0; k < 3; ++k) sum += (parts[static_cast<std::size_t>(k)] - cloth[k]) / 3;
    cv::GaussianBlur(sum, sum, cv::Size(0, 0), softPlanMm * pxPerMm);
    return sum;
}

/// The same freed of slow changes of light.
cv::Mat withoutLight(const cv::Mat& difference, double pxPerMm) {
    cv::Mat slow;
    cv::GaussianBlur(difference, slow, cv::Size(0, 0), lightMm * pxPerMm, 0, cv::BORDER_REPLICATE);
    return difference - slow;
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
    Matcher(const Image& flat, const FlatMap& m, const StitchList& e, const MatchReach& r,
            const std::vector<Polyline>& c)
        : map(m), expected(e), reach(r), covered(c),
          picture(flat.height, flat.width, CV_8UC3, const_cast<std::uint8_t*>(flat.pixels.data())),
          box(extentsOf(e)), middle(box.centre()) {}

    std::optional<StitchMatch> run(std::stop_token stop) {
        Box wide = box.grown(reach.mm + 3);
        wide.minX = std::max(wide.minX, map.area.minX);
        wide.minY = std::max(wide.minY, map.area.minY);
        wide.maxX = std::min(wide.maxX, map.area.maxX);
        wide.maxY = std::min(wide.maxY, map.area.maxY);
        if (wide.empty() || wide.width() < 4 || wide.height() < 4) return std::nullopt;
        cloth = clothColour(patch(wide, coarsePxPerMm));
        // What surely is in view, and all of it: the one that agrees better in the end.
        StitchMatch found;
        for (const StitchList& sought : {insideOf(map.area.grown(-reach.mm / 2)), expected}) {
            if (found.agreement > sureAgreement) break;
            best = {};
            if (!coarse(sought, wide, stop)) continue;
            if (stop.stop_requested()) return std::nullopt;
            refine(wide);
            if (best.agreement > found.agreement && stitchesInView() >= reach.leastStitches)
                found = best;
        }
        // Refining may run away from where was searched; what it finds there is chance.
        const bool ranAway = distance(found.seen, found.expected) > 1.2 * reach.mm ||
                             std::abs(found.turnDeg) > 1.3 * reach.deg;
        if (found.agreement < leastAgreement || ranAway) return std::nullopt;
        return found;
    }

private:
    static constexpr std::size_t firstGain = 6;
    using Normal = cv::Matx<double, firstGain + mostGains, firstGain + mostGains>;
    using Unknowns = cv::Vec<double, firstGain + mostGains>;

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

    /// Zero where cards and lines lie.
    void hideCovered(cv::Mat& patch, const Box& wide, double pxPerMm) const {
        for (const Polyline& c : covered) {
            std::vector<cv::Point> corners;
            for (const Vec2& p : c)
                corners.emplace_back(static_cast<int>((p.x - wide.minX) * pxPerMm),
                                     static_cast<int>((p.y - wide.minY) * pxPerMm));
            cv::fillConvexPoly(patch, corners, cv::Scalar(0));
        }
    }

    std::size_t stitchesInView() const {
        const Affine found = Pose{best.seen.x, best.seen.y, best.turnDeg, false, 1, 1}.affine();
        const Box view = map.area.grown(-ringMm);
        return static_cast<std::size_t>(
            std::count_if(expected.stitches.begin(), expected.stitches.end(), [&](const Stitch& s) {
                return s.op == Op::stitch && view.contains(found(s.at() - middle));
            }));
    }

    /// The stitches that lie in a box.
    StitchList insideOf(const Box& view) const {
        StitchList list;
        list.threads = expected.threads;
        bool outside = true;
        for (const Stitch& s : expected.stitches) {
            const bool in = view.contains(s.at());
            if (in) list.stitches.push_back(outside ? stitchAt(Op::jump, s.at(), s.thread) : s);
            outside = !in;
        }
        return list;
    }

    /// All turns and moves, in steps of a degree and of a coarse pixel.
    bool coarse(const StitchList& sought, const Box& wide, std::stop_token stop) {
        if (extentsOf(sought).empty()) return false;
        cv::Mat inView = withoutLight(difference(patch(wide, coarsePxPerMm), cloth, coarsePxPerMm),
                                      coarsePxPerMm);
        // Beyond the picture's edge and below cards nothing is known; there it counts as bare
        // cloth.
        hideCovered(inView, wide, coarsePxPerMm);
        const int pad = static_cast<int>(std::ceil((reach.mm + 2) * coarsePxPerMm));
        cv::Mat seen;
        cv::copyMakeBorder(inView, seen, pad, pad, pad, pad, cv::BORDER_CONSTANT, 0);
        const Vec2 corner = Vec2{wide.minX, wide.minY} - Vec2{1, 1} * (pad / coarsePxPerMm);
        for (double deg = -reach.deg; deg <= reach.deg + 1e-9; deg += degStep) {
            if (stop.stop_requested()) return false;
            const StitchList list = turnedBy(sought, middle, deg);
            const Box own = extentsOf(list).grown(1.5);
            const cv::Mat plan = withoutLight(
                pictureOf(threadMasks(list, own, coarsePxPerMm, cloth)), coarsePxPerMm);
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
            best.seen = middle + corner - Vec2{own.minX, own.minY} +
                        Vec2{at.x / coarsePxPerMm, at.y / coarsePxPerMm};
        }
        return best.agreement > 0.3;
    }

    /// Gauss and Newton over move, turn, gain, and light that changes evenly (Lucas and Kanade
    /// 1981), finer and finer.
    void refine(const Box& wide) {
        const double pxPerMm = std::min(finePxPerMm, map.pxPerMm);
        const cv::Mat seen = difference(patch(wide, pxPerMm), cloth, pxPerMm);
        const Box own = box.grown(2);
        if (masks.shows.empty()) {
            masks = threadMasks(expected, own, pxPerMm, cloth);
            markNear(pxPerMm);
        }
        for (const double softMm : {0.8, 0.4, 0.2}) {
            std::vector<cv::Mat> plan(masks.shows.size());
            cv::Mat soft;
            for (std::size_t k = 0; k < plan.size(); ++k)
                cv::GaussianBlur(masks.shows[k], plan[k], cv::Size(0, 0), softMm * pxPerMm);
            cv::GaussianBlur(seen, soft, cv::Size(0, 0), softMm * pxPerMm);
            // The softer, the fewer pixels tell as much.
            stride = std::max(1, static_cast<int>(std::lround(softMm * pxPerMm / 1.3)));
            const double settled = softMm < 0.3 ? 1e-4 : 2e-3;
            for (int round = 0; round < 25; ++round)
                if (step(plan, soft, own, wide, pxPerMm) < settled) break;
        }
    }

    /// Cloth far from any thread tells nothing.
    void markNear(double pxPerMm) {
        cv::Mat any = cv::Mat::zeros(masks.shows.front().size(), CV_32F);
        for (const cv::Mat& m : masks.shows) any += m;
        near = any > 0.02f;
        const int r = static_cast<int>(nearMm * pxPerMm);
        cv::dilate(near, near, cv::Mat::ones(2 * r + 1, 2 * r + 1, CV_8U));
    }

    /// One step; gives how far it went, mm.
    double step(const std::vector<cv::Mat>& plan, const cv::Mat& seen, const Box& own,
                const Box& wide, double pxPerMm) {
        const double c = std::cos(best.turnDeg / degreesPerRadian);
        const double s = std::sin(best.turnDeg / degreesPerRadian);
        // Pixel of the plan → pixel of the picture.
        const auto place = [&](double x, double y) {
            const Vec2 p =
                Vec2{own.minX, own.minY} + Vec2{x + 0.5, y + 0.5} * (1 / pxPerMm) - middle;
            return best.seen + Vec2{c * p.x - s * p.y, s * p.x + c * p.y};
        };
        const auto pixel = [&](Vec2 mm) {
            return (mm - Vec2{wide.minX, wide.minY}) * pxPerMm - Vec2{0.5, 0.5};
        };
        const Vec2 zero = pixel(place(0, 0)), ex = pixel(place(1, 0)), ey = pixel(place(0, 1));
        const cv::Matx23d back(ex.x - zero.x, ey.x - zero.x, zero.x, ex.y - zero.y, ey.y - zero.y,
                               zero.y);
        cv::Mat got, inside;
        cv::warpAffine(seen, got, back, plan[0].size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
        // Beside the ring lies its shadow.
        cv::Mat view(seen.size(), CV_8U, cv::Scalar(0));
        const int edge = static_cast<int>(ringMm * pxPerMm);
        if (view.cols > 3 * edge && view.rows > 3 * edge)
            view(cv::Rect(edge, edge, view.cols - 2 * edge, view.rows - 2 * edge)) = 255;
        hideCovered(view, wide, pxPerMm);
        cv::warpAffine(view, inside, back, plan[0].size(),
                       cv::INTER_NEAREST | cv::WARP_INVERSE_MAP);
        cv::Mat gx, gy;
        cv::Sobel(got, gx, CV_32F, 1, 0, 3, 0.125 * pxPerMm);
        cv::Sobel(got, gy, CV_32F, 0, 1, 3, 0.125 * pxPerMm);
        return solve(plan, got, gx, gy, inside, own, pxPerMm);
    }

    double solve(const std::vector<cv::Mat>& plan, const cv::Mat& got, const cv::Mat& gx,
                 const cv::Mat& gy, const cv::Mat& inside, const Box& own, double pxPerMm) {
        // Unknown: move along the plan's axes (dx, dy), turn, light l0 + lx·x + ly·y, and a gain
        // for each thread; got ≈ Σ gain·plan + light once moved.
        Normal m = Normal::zeros();
        Unknowns b = Unknowns::all(0);
        double n = 0, sgg = 0;
        const int used = static_cast<int>(firstGain + plan.size());
        for (int y = 1; y + 1 < got.rows; y += stride)
            for (int x = 1; x + 1 < got.cols; x += stride) {
                if (!inside.at<std::uint8_t>(y, x) || !near.at<std::uint8_t>(y, x)) continue;
                const double g = got.at<float>(y, x);
                const double px = own.minX + (x + 0.5) / pxPerMm - middle.x;
                const double py = own.minY + (y + 0.5) / pxPerMm - middle.y;
                const double ix = gx.at<float>(y, x), iy = gy.at<float>(y, x);
                Unknowns row(ix, iy, -ix * py + iy * px, -1, -px / 10, -py / 10);
                for (std::size_t k = 0; k < plan.size(); ++k)
                    row[static_cast<int>(firstGain + k)] = -plan[k].at<float>(y, x);
                for (int i = 0; i < used; ++i)
                    for (int k = i; k < used; ++k) m(i, k) += row[i] * row[k];
                b -= row * g;
                ++n;
                sgg += g * g;
            }
        if (n < 50) return 0;
        for (int i = 0; i < used; ++i)
            for (int k = 0; k < i; ++k) m(i, k) = m(k, i);
        // Threads out of view have no gain.
        for (int k = 0; k < Unknowns::rows; ++k)
            if (m(k, k) < 1e-9) m(k, k) = 1;
        Unknowns d;
        if (!cv::solve(m, b, d, cv::DECOMP_SVD)) return 0;
        const double left = std::max(0.0, sgg - b.dot(d));
        // Of what light alone leaves open, how much do the threads explain?
        const double unlit = leftByLight(m, b, sgg);
        best.agreement = unlit < leastThread * n ? 0 : std::sqrt(std::max(0.0, 1 - left / unlit));
        const double c = std::cos(best.turnDeg / degreesPerRadian);
        const double s = std::sin(best.turnDeg / degreesPerRadian);
        const double limit = 0.7, size = std::hypot(d[0], d[1]);
        const double share = size > limit ? limit / size : 1;
        best.seen = best.seen + Vec2{c * d[0] - s * d[1], s * d[0] + c * d[1]} * share;
        best.turnDeg += std::clamp(d[2], -0.02, 0.02) * degreesPerRadian * share;
        sigmaOf(m, n, left);
        return size + std::abs(d[2]);
    }

    /// What remains where only the light is fitted.
    static double leftByLight(const Normal& m, const Unknowns& b, double sgg) {
        cv::Matx33d light;
        cv::Vec3d own;
        for (int i = 0; i < 3; ++i) {
            own[i] = b[3 + i];
            for (int k = 0; k < 3; ++k) light(i, k) = m(3 + i, 3 + k);
        }
        cv::Vec3d d;
        return cv::solve(light, own, d, cv::DECOMP_SVD) ? std::max(0.0, sgg - own.dot(d)) : sgg;
    }

    /// From the noise that is left; neighbouring pixels tell the same thing. The place is that of
    /// the middle, which may lie out of view: then it is told as badly as the turn.
    void sigmaOf(const Normal& m, double n, double left) {
        const double pixels =
            200.0 / (stride * stride); ///< per independent one, blurred as they are compared
        const double variance = left / n * pixels;
        const Normal inverse = m.inv(cv::DECOMP_SVD);
        best.sigmaMm = std::max(0.05, std::sqrt(variance * std::max(inverse(0, 0), inverse(1, 1))));
        best.sigmaDeg =
            std::max(0.05, std::sqrt(variance * std::max(0.0, inverse(2, 2))) * degreesPerRadian);
    }

    const FlatMap& map;
    const StitchList& expected;
    const MatchReach& reach;
    const std::vector<Polyline>& covered;
    cv::Mat picture;
    Box box;
    Vec2 middle;
    cv::Scalar cloth;
    cv::Mat near;      ///< of those masks: where something tells
    int stride = 1;    ///< of the pixels that are looked at
    ThreadMasks masks; ///< of all that is expected, for refining; the same for every start
    StitchMatch best;
};

} // namespace

std::optional<StitchMatch> matchStitches(const Image& flatRgb, const FlatMap& map,
                                         const StitchList& expected, const MatchReach& reach,
                                         const std::vector<Polyline>& covered,
                                         std::stop_token stop) {
    if (extentsOf(expected).empty()) return std::nullopt;
    return Matcher(flatRgb, map, expected, reach, covered).run(stop);
}

} // namespace rapt
