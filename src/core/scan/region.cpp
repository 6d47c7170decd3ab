#include "scan/region.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

// Light changes more than colour does.
constexpr double lightShare = 0.6;
constexpr double simplifiedMm = 0.03;
constexpr double nearMm = 0.6,
                 aroundMm = 2; ///< of the region: where its edge is, what is around it

/// CIE Lab with the grain taken out and light counting less than colour.
cv::Mat comparable(const cv::Mat& rgb, double pxPerMm) {
    cv::Mat soft, lab;
    cv::medianBlur(rgb, soft, 5);
    const int reach = std::max(3, static_cast<int>(0.7 * pxPerMm) | 1);
    cv::Mat even;
    cv::bilateralFilter(soft, even, reach, 18, 0.5 * pxPerMm);
    even.convertTo(lab, CV_32FC3, 1.0 / 255);
    cv::cvtColor(lab, lab, cv::COLOR_RGB2Lab);
    std::vector<cv::Mat> parts;
    cv::split(lab, parts);
    parts[0] *= lightShare;
    cv::merge(parts, lab);
    return lab;
}

/// The colour about the click, by the median of a small square.
cv::Vec3f colourAt(const cv::Mat& lab, int x, int y, int reach) {
    cv::Vec3f colour;
    for (int k = 0; k < 3; ++k) {
        std::vector<float> values;
        for (int j = std::max(0, y - reach); j <= std::min(lab.rows - 1, y + reach); ++j)
            for (int i = std::max(0, x - reach); i <= std::min(lab.cols - 1, x + reach); ++i)
                values.push_back(lab.at<cv::Vec3f>(j, i)[k]);
        std::nth_element(values.begin(), values.begin() + static_cast<long>(values.size() / 2),
                         values.end());
        colour[k] = values[values.size() / 2];
    }
    return colour;
}

/// Light that falls off is followed: the seed's light is compared with the surroundings' slow
/// light.
cv::Mat likeness(const cv::Mat& lab, const cv::Vec3f& colour) {
    cv::Mat like(lab.size(), CV_32F);
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x) {
            const cv::Vec3f d = lab.at<cv::Vec3f>(y, x) - colour;
            like.at<float>(y, x) = std::sqrt(d.dot(d));
        }
    return like;
}

/// The connected part round the click of what is alike.
cv::Mat partAt(const cv::Mat& alike, cv::Point at) {
    cv::Mat labels, part;
    cv::connectedComponents(alike, labels, 4);
    const int own = labels.at<int>(at);
    if (own == 0) return {};
    cv::compare(labels, own, part, cv::CMP_EQ);
    return part;
}

cv::Vec3f medianOf(const cv::Mat& lab, const cv::Mat& where) {
    cv::Vec3f colour;
    for (int k = 0; k < 3; ++k) {
        std::vector<float> values;
        for (int y = 0; y < lab.rows; ++y)
            for (int x = 0; x < lab.cols; ++x)
                if (where.at<std::uint8_t>(y, x)) values.push_back(lab.at<cv::Vec3f>(y, x)[k]);
        if (values.empty()) return colour;
        std::nth_element(values.begin(), values.begin() + static_cast<long>(values.size() / 2),
                         values.end());
        colour[k] = values[values.size() / 2];
    }
    return colour;
}

/// The tolerance says what belongs to the region, not where its edge lies: that is where half of
/// the way from its colour to that around it is gone. Gives 0 to 1, a half at the edge.
cv::Mat edgeByHalf(const cv::Mat& lab, const cv::Mat& part, double pxPerMm) {
    const auto grown = [&](double mm) {
        const int r = std::max(1, static_cast<int>(std::lround(mm * pxPerMm)));
        cv::Mat wider;
        cv::dilate(part, wider,
                   cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(2 * r + 1, 2 * r + 1)));
        return wider;
    };
    const cv::Mat near = grown(nearMm);
    const cv::Vec3f inside = medianOf(lab, part);
    const cv::Vec3f outside = medianOf(lab, grown(aroundMm) & ~near);
    const cv::Vec3f way = outside - inside;
    const double size = way.dot(way);
    cv::Mat share = cv::Mat::zeros(lab.size(), CV_32F);
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x) {
            if (!near.at<std::uint8_t>(y, x)) continue;
            const double gone = size < 1 ? 0 : (lab.at<cv::Vec3f>(y, x) - inside).dot(way) / size;
            share.at<float>(y, x) = static_cast<float>(std::clamp(1 - gone, 0.0, 1.0));
        }
    return share;
}

/// Edges smoothed; a half stays where it is on straight ones.
cv::Mat smoothed(const cv::Mat& part, double radiusPx) {
    cv::Mat f;
    cv::GaussianBlur(part, f, cv::Size(0, 0), std::max(0.5, radiusPx));
    return f;
}

Contours contoursOf(const cv::Mat& mask, const FlatMap& map, double leastAreaMm2) {
    // Four times as fine, so that outlines do not follow the pixels.
    constexpr int fine = 3;
    cv::Mat large, edge;
    cv::resize(mask, large, {}, fine, fine, cv::INTER_LINEAR);
    edge = large > 0.5f;
    std::vector<std::vector<cv::Point>> lines;
    std::vector<cv::Vec4i> nesting;
    cv::findContours(edge, lines, nesting, cv::RETR_CCOMP, cv::CHAIN_APPROX_NONE);
    Contours contours;
    for (const auto& line : lines) {
        std::vector<cv::Point> simple;
        cv::approxPolyDP(line, simple, simplifiedMm * map.pxPerMm * fine, true);
        if (simple.size() < 3) continue;
        Polyline contour;
        for (const cv::Point& p : simple)
            contour.push_back(map.toField({(p.x + 0.5) / fine, (p.y + 0.5) / fine}));
        if (areaOf({contour}) >= leastAreaMm2) contours.push_back(std::move(contour));
    }
    // Contours run through the middles of the outermost pixels.
    return offsetContours(contours, 0.5 / (fine * map.pxPerMm));
}

} // namespace

Result<Contours> grownRegion(const Image& flatRgb, const FlatMap& map, Vec2 click,
                             const RegionOptions& options, std::stop_token stop) {
    const Vec2 px = map.toPixels(click);
    const cv::Point at(static_cast<int>(px.x), static_cast<int>(px.y));
    if (px.x < 0 || px.y < 0 || at.x >= flatRgb.width || at.y >= flatRgb.height)
        return cannotDo("this place lies outside the scan");
    const cv::Mat rgb(flatRgb.height, flatRgb.width, CV_8UC3,
                      const_cast<std::uint8_t*>(flatRgb.pixels.data()));
    const cv::Mat lab = comparable(rgb, map.pxPerMm);
    if (stop.stop_requested()) return cancelled();
    const int reach = std::max(1, static_cast<int>(0.3 * map.pxPerMm));
    const cv::Mat like = likeness(lab, colourAt(lab, at.x, at.y, reach));
    const cv::Mat part = partAt(like <= options.tolerance, at);
    if (part.empty()) return cannotDo("nothing of one colour surrounds this place");
    if (stop.stop_requested()) return cancelled();
    Contours contours =
        contoursOf(smoothed(edgeByHalf(lab, part, map.pxPerMm), options.smoothMm * map.pxPerMm),
                   map, options.leastAreaMm2);
    if (contours.empty() || areaOf(contours) < options.leastAreaMm2)
        return cannotDo(fmt::format("the region is smaller than {:g} mm²; raise the tolerance or "
                                    "click nearer to its middle",
                                    options.leastAreaMm2));
    return contours;
}

} // namespace rapt
