#include "svg/trace.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <memory>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <potracelib.h>

namespace rapt {
namespace {

// Fine enough for details that can be sewn, small enough to be quick.
constexpr int mostSide = 1200, leastSide = 500;
// Lightness within a pixel's neighbourhood; flatter pixels tell the colours.
constexpr double flatLightness = 5;
// Of a photograph hardly anything is flat, or it falls into a great many areas.
constexpr double leastFlatShare = 0.4;
constexpr int mostAreas = 800;
// Colours nearer than this (CIE Lab) are one; rarer ones come of edges.
constexpr double sameColour = 12, leastShare = 0.0015;
constexpr double paperLightness = 88, paperChroma = 10;
constexpr double rimShare = 0.4;
constexpr std::uint8_t none = 255;

constexpr const char* photograph =
    "has no flat areas to sew, it looks like a photograph: lay it under the cloth and draw over it";

struct Colour {
    cv::Vec3f lab;
    double share = 0;
};

double apart(const cv::Vec3f& a, const cv::Vec3f& b) { return cv::norm(a - b); }

/// The picture at a size that is worked on, its noise taken out.
cv::Mat prepared(const Image& image) {
    const cv::Mat rgb(image.height, image.width, CV_8UC3,
                      const_cast<std::uint8_t*>(image.pixels.data()));
    const int side = std::max(image.width, image.height);
    const double k = side > mostSide    ? double(mostSide) / side
                     : side < leastSide ? double(leastSide) / side
                                        : 1;
    cv::Mat sized;
    cv::resize(rgb, sized, {}, k, k, k < 1 ? cv::INTER_AREA : cv::INTER_CUBIC);
    if (sized.cols < 3 || sized.rows < 3) cv::resize(sized, sized, {8, 8});
    cv::medianBlur(sized, sized, side > mostSide ? 5 : 3);
    cv::Mat lab;
    sized.convertTo(lab, CV_32F, 1 / 255.0);
    cv::cvtColor(lab, lab, cv::COLOR_RGB2Lab);
    return lab;
}

/// Pixels whose neighbourhood is of one lightness.
cv::Mat flatPixels(const cv::Mat& lab) {
    cv::Mat light, high, low;
    cv::extractChannel(lab, light, 0);
    const cv::Mat around = cv::getStructuringElement(cv::MORPH_RECT, {3, 3});
    cv::dilate(light, high, around);
    cv::erode(light, low, around);
    return high - low < flatLightness;
}

/// Like ones joined, the rarest dropped while there are too many.
std::vector<Colour> fewColours(std::vector<Colour> colours, std::size_t most) {
    const auto join = [&](std::size_t a, std::size_t b) {
        const double all = colours[a].share + colours[b].share;
        colours[a].lab = (colours[a].lab * colours[a].share + colours[b].lab * colours[b].share) *
                         (1 / std::max(1e-9, all));
        colours[a].share = all;
        colours.erase(colours.begin() + static_cast<std::ptrdiff_t>(b));
    };
    while (colours.size() > 1) {
        std::size_t first = 0, second = 1;
        double nearest = INFINITY;
        for (std::size_t a = 0; a < colours.size(); ++a)
            for (std::size_t b = a + 1; b < colours.size(); ++b)
                if (const double d = apart(colours[a].lab, colours[b].lab); d < nearest) {
                    nearest = d;
                    first = a;
                    second = b;
                }
        if (nearest >= sameColour && colours.size() <= most) break;
        join(first, second);
    }
    std::erase_if(colours, [](const Colour& c) { return c.share < leastShare; });
    return colours;
}

/// The colours of what is flat, by k-means (Lloyd 1982; k-means++ seeds, the same every time).
Result<std::vector<Colour>> coloursOf(const cv::Mat& lab, std::size_t most) {
    const cv::Mat flat = flatPixels(lab);
    const int flats = cv::countNonZero(flat);
    if (flats < leastFlatShare * static_cast<double>(lab.total())) return cannotDo(photograph);
    constexpr int mostSamples = 30'000;
    const int every = std::max(1, flats / mostSamples);
    cv::Mat samples;
    int n = 0;
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            if (flat.at<std::uint8_t>(y, x) && n++ % every == 0) {
                const auto& p = lab.at<cv::Vec3f>(y, x);
                samples.push_back(cv::Mat(1, 3, CV_32F, const_cast<float*>(p.val)));
            }
    const int k = std::min(samples.rows, 32);
    cv::Mat labels, centres;
    cv::setRNGSeed(7);
    cv::kmeans(samples, k, labels, {cv::TermCriteria::EPS + cv::TermCriteria::COUNT, 20, 0.5}, 2,
               cv::KMEANS_PP_CENTERS, centres);
    std::vector<Colour> colours(static_cast<std::size_t>(k));
    for (int i = 0; i < k; ++i) colours[static_cast<std::size_t>(i)].lab = centres.at<cv::Vec3f>(i);
    for (int i = 0; i < samples.rows; ++i)
        colours[static_cast<std::size_t>(labels.at<int>(i))].share += 1.0 / samples.rows;
    return fewColours(std::move(colours), most);
}

/// Which colour each pixel is nearest to.
cv::Mat labelled(const cv::Mat& lab, const std::vector<Colour>& colours) {
    cv::Mat labels(lab.size(), CV_8U);
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x) {
            std::size_t best = 0;
            for (std::size_t c = 1; c < colours.size(); ++c)
                if (apart(lab.at<cv::Vec3f>(y, x), colours[c].lab) <
                    apart(lab.at<cv::Vec3f>(y, x), colours[best].lab))
                    best = c;
            labels.at<std::uint8_t>(y, x) = static_cast<std::uint8_t>(best);
        }
    return labels;
}

/// What is undecided becomes what lies nearest.
void decide(cv::Mat& labels) {
    const cv::Mat open = labels == none;
    if (cv::countNonZero(open) == 0 || cv::countNonZero(open) == static_cast<int>(open.total()))
        return;
    cv::Mat away, nearest;
    cv::distanceTransform(open, away, nearest, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_PIXEL);
    std::vector<std::uint8_t> known(open.total() + 1, none);
    for (int y = 0; y < labels.rows; ++y)
        for (int x = 0; x < labels.cols; ++x)
            if (!open.at<std::uint8_t>(y, x))
                known[static_cast<std::size_t>(nearest.at<int>(y, x))] =
                    labels.at<std::uint8_t>(y, x);
    for (int y = 0; y < labels.rows; ++y)
        for (int x = 0; x < labels.cols; ++x)
            if (open.at<std::uint8_t>(y, x))
                labels.at<std::uint8_t>(y, x) =
                    known[static_cast<std::size_t>(nearest.at<int>(y, x))];
}

/// Slivers between two colours, which smooth edges make, and spots go to what is round them. Gives
/// how many areas are left.
int withoutSpecks(cv::Mat& labels, std::size_t colours, double leastPixels) {
    cv::Mat clean(labels.size(), CV_8U, cv::Scalar(none));
    const cv::Mat brush = cv::getStructuringElement(cv::MORPH_RECT, {3, 3});
    int areas = 0;
    for (std::size_t c = 0; c < colours; ++c) {
        cv::Mat mask = labels == static_cast<int>(c), parts, facts, middles;
        cv::morphologyEx(mask, mask, cv::MORPH_OPEN, brush);
        const int count = cv::connectedComponentsWithStats(mask, parts, facts, middles, 8);
        for (int i = 1; i < count; ++i) areas += facts.at<int>(i, cv::CC_STAT_AREA) >= leastPixels;
        for (int y = 0; y < labels.rows; ++y)
            for (int x = 0; x < labels.cols; ++x) {
                const int part = parts.at<int>(y, x);
                if (part > 0 && facts.at<int>(part, cv::CC_STAT_AREA) >= leastPixels)
                    clean.at<std::uint8_t>(y, x) = static_cast<std::uint8_t>(c);
            }
    }
    decide(clean);
    labels = clean;
    return areas;
}

/// The colour of most of the rim; none if there is no such.
std::uint8_t groundOf(const cv::Mat& labels) {
    std::array<int, 256> count{};
    for (int x = 0; x < labels.cols; ++x)
        for (const int y : {0, labels.rows - 1}) ++count[labels.at<std::uint8_t>(y, x)];
    for (int y = 0; y < labels.rows; ++y)
        for (const int x : {0, labels.cols - 1}) ++count[labels.at<std::uint8_t>(y, x)];
    const auto most = std::max_element(count.begin(), count.end() - 1);
    const int rim = 2 * (labels.cols + labels.rows);
    return *most >= rimShare * rim ? static_cast<std::uint8_t>(most - count.begin()) : none;
}

void openGround(cv::Mat& labels, const std::vector<Colour>& colours) {
    const std::uint8_t ground = groundOf(labels);
    if (ground == none) return;
    const cv::Vec3f& c = colours[ground].lab;
    const cv::Mat mask = labels == ground;
    if (c[0] > paperLightness && std::hypot(c[1], c[2]) < paperChroma) {
        labels.setTo(none, mask);
        return;
    }
    cv::Mat parts;
    cv::connectedComponents(mask, parts, 4);
    std::vector<bool> atRim(static_cast<std::size_t>(mask.total()) + 1, false);
    const auto look = [&](int y, int x) {
        atRim[static_cast<std::size_t>(parts.at<int>(y, x))] = true;
    };
    for (int x = 0; x < labels.cols; ++x) look(0, x), look(labels.rows - 1, x);
    for (int y = 0; y < labels.rows; ++y) look(y, 0), look(y, labels.cols - 1);
    for (int y = 0; y < labels.rows; ++y)
        for (int x = 0; x < labels.cols; ++x)
            if (const int part = parts.at<int>(y, x);
                part > 0 && atRim[static_cast<std::size_t>(part)])
                labels.at<std::uint8_t>(y, x) = none;
}

Rgb rgbOf(const cv::Vec3f& lab) {
    cv::Mat one(1, 1, CV_32FC3, cv::Scalar(lab[0], lab[1], lab[2])), rgb;
    cv::cvtColor(one, rgb, cv::COLOR_Lab2RGB);
    const auto& p = rgb.at<cv::Vec3f>(0, 0);
    const auto byte = [](float v) {
        return static_cast<std::uint8_t>(std::lround(255 * std::clamp(v, 0.0f, 1.0f)));
    };
    return {byte(p[0]), byte(p[1]), byte(p[2])};
}

Vec2 bezier(const std::array<Vec2, 4>& p, double t) {
    const Vec2 a = lerp(p[0], p[1], t), b = lerp(p[1], p[2], t), c = lerp(p[2], p[3], t);
    return lerp(lerp(a, b, t), lerp(b, c, t), t);
}

/// potrace's outlines of a mask: its y runs upwards from the lower edge.
std::vector<SubPath> outlines(const cv::Mat& mask, double mmPerPx, double specklePixels) {
    constexpr int wordBits = 8 * sizeof(potrace_word);
    const int words = (mask.cols + wordBits - 1) / wordBits;
    std::vector<potrace_word> bits(static_cast<std::size_t>(words) *
                                   static_cast<std::size_t>(mask.rows));
    for (int y = 0; y < mask.rows; ++y)
        for (int x = 0; x < mask.cols; ++x)
            if (mask.at<std::uint8_t>(mask.rows - 1 - y, x))
                bits[static_cast<std::size_t>(y * words + x / wordBits)] |=
                    potrace_word{1} << (wordBits - 1 - x % wordBits);
    potrace_bitmap_t bitmap{mask.cols, mask.rows, words, bits.data()};
    const std::unique_ptr<potrace_param_t, void (*)(potrace_param_t*)> param(
        potrace_param_default(), potrace_param_free);
    param->turdsize = static_cast<int>(specklePixels);
    const std::unique_ptr<potrace_state_t, void (*)(potrace_state_t*)> state(
        potrace_trace(param.get(), &bitmap), potrace_state_free);
    std::vector<SubPath> paths;
    if (!state || state->status != POTRACE_STATUS_OK) return paths;
    const auto place = [&](potrace_dpoint_t p) { return Vec2{p.x, mask.rows - p.y} * mmPerPx; };
    for (const potrace_path_t* path = state->plist; path; path = path->next) {
        const potrace_curve_t& curve = path->curve;
        SubPath sub;
        sub.closed = true;
        Vec2 at = place(curve.c[curve.n - 1][2]);
        for (int i = 0; i < curve.n; ++i) {
            const Vec2 end = place(curve.c[i][2]);
            if (curve.tag[i] == POTRACE_CORNER) {
                sub.points.push_back(place(curve.c[i][1]));
            } else {
                const std::array<Vec2, 4> p{at, place(curve.c[i][0]), place(curve.c[i][1]), end};
                const double size =
                    distance(p[0], p[1]) + distance(p[1], p[2]) + distance(p[2], p[3]);
                const int steps = std::clamp(static_cast<int>(size / 0.3), 2, 24);
                for (int k = 1; k < steps; ++k) sub.points.push_back(bezier(p, double(k) / steps));
            }
            sub.points.push_back(end);
            at = end;
        }
        paths.push_back(std::move(sub));
    }
    return paths;
}

} // namespace

Result<Drawing> traced(const Image& rgb, const TraceOptions& options, std::stop_token stop) {
    if (rgb.channels != 3 || rgb.width < 1 || rgb.height < 1)
        return cannotDo("is no picture in colour");
    const cv::Mat lab = prepared(rgb);
    const auto colours =
        coloursOf(lab, static_cast<std::size_t>(std::clamp(options.colours, 1, 24)) + 1);
    if (!colours) return colours.error();
    if (stop.stop_requested()) return cancelled();
    cv::Mat labels = labelled(lab, *colours);
    const double mmPerPx = options.widthMm / labels.cols;
    const double speck = std::max(4.0, std::pow(options.speckleMm / mmPerPx, 2));
    if (withoutSpecks(labels, colours->size(), speck) > mostAreas) return cannotDo(photograph);
    if (!options.keepsGround) openGround(labels, *colours);
    if (stop.stop_requested()) return cancelled();
    Drawing drawing;
    drawing.widthMm = options.widthMm;
    drawing.heightMm = labels.rows * mmPerPx;
    std::vector<std::pair<int, std::size_t>> bySize;
    for (std::size_t c = 0; c < colours->size(); ++c)
        bySize.emplace_back(-cv::countNonZero(labels == static_cast<int>(c)), c);
    std::sort(bySize.begin(), bySize.end());
    for (const auto& [size, c] : bySize) {
        if (size == 0) continue;
        DrawnItem item;
        item.name = fmt::format("Area {}", drawing.items.size() + 1);
        item.paths = outlines(labels == static_cast<int>(c), mmPerPx, speck);
        item.fill = rgbOf((*colours)[c].lab);
        item.evenOdd = true;
        if (!item.paths.empty()) drawing.items.push_back(std::move(item));
    }
    if (drawing.items.empty())
        return cannotDo("shows no areas, only one colour or thin lines: lay it under the cloth and "
                        "draw over it");
    return drawing;
}

} // namespace rapt
