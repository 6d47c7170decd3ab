#include "letter_quality.h"

#include "letter/sewing.h"

#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

constexpr double pxPerMm = 25;
constexpr double marginMm = 1.5;

struct Raster {
    Vec2 origin;
    double scale;
    cv::Point at(Vec2 p) const { // with 4 fractional bits
        return {static_cast<int>(std::lround((p.x - origin.x) * scale * 16)),
                static_cast<int>(std::lround((p.y - origin.y) * scale * 16))};
    }
};

Box boundsOfParts(const std::vector<LetterPart>& parts) {
    Box box;
    for (const LetterPart& p : parts) {
        box.add(boundsOf(p.outline));
        for (const Column& c : p.columns)
            for (const Rung& r : c.rungs) {
                box.add(r.left);
                box.add(r.right);
            }
    }
    return box.grown(marginMm);
}

void fillOutline(cv::Mat& mask, const Contours& outline, const Raster& raster,
                 const cv::Scalar& color) {
    std::vector<std::vector<cv::Point>> polygons;
    for (const Polyline& line : outline) {
        polygons.emplace_back();
        for (const Vec2& p : line) polygons.back().push_back(raster.at(p));
    }
    cv::fillPoly(mask, polygons, color, cv::LINE_8, 4);
}

std::vector<Vec2> zigzag(const Column& c) {
    std::vector<Vec2> out;
    for (std::size_t i = 0; i < c.rungs.size(); ++i)
        out.push_back(i % 2 ? c.rungs[i].right : c.rungs[i].left);
    if (!c.rungs.empty()) {
        const bool even = c.rungs.size() % 2 == 0;
        out.push_back(even ? c.rungs.back().left : c.rungs.back().right);
        out.insert(out.begin(), c.rungs.front().right);
    }
    return out;
}

/// A line of real width: a rectangle with round ends.
void drawThread(cv::Mat& mask, Vec2 a, Vec2 b, const Raster& raster, double widthMm,
                const cv::Scalar& color) {
    cv::line(mask, raster.at(a), raster.at(b), color,
             std::max(1, static_cast<int>(std::lround(widthMm * raster.scale))), cv::LINE_8, 4);
}

cv::Mat disc(double radiusMm) {
    const int r = static_cast<int>(std::lround(radiusMm * pxPerMm));
    return cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * r + 1, 2 * r + 1});
}

bool cross_(Vec2 p0, Vec2 p1, Vec2 q0, Vec2 q1) {
    const auto side = [](Vec2 a, Vec2 b, Vec2 c) { return cross(b - a, c - a); };
    return side(p0, p1, q0) * side(p0, p1, q1) < -1e-9 &&
           side(q0, q1, p0) * side(q0, q1, p1) < -1e-9;
}

} // namespace

LetterQuality qualityOf(const std::vector<LetterPart>& parts) {
    LetterQuality q;
    const Box box = boundsOfParts(parts);
    const Raster raster{{box.minX, box.minY}, pxPerMm};
    const cv::Size size(static_cast<int>(box.width() * pxPerMm) + 1,
                        static_cast<int>(box.height() * pxPerMm) + 1);
    cv::Mat outline = cv::Mat::zeros(size, CV_8U), thread = outline.clone();
    double runArea = 0;
    std::vector<Polyline> sewn;
    for (const LetterPart& p : parts) {
        cv::Mat one = cv::Mat::zeros(size, CV_8U);
        fillOutline(one, p.outline, raster, 255);
        outline |= one;
        sewn.push_back(sewPart(p, Vec2{box.minX, box.maxY}, {box.maxX, box.maxY}, {}));
        for (std::size_t i = 1; i < sewn.back().size(); ++i)
            drawThread(thread, sewn.back()[i - 1], sewn.back()[i], raster, 0.4, 255);
        for (const Column& c : p.columns) {
            ++q.columns;
            double area = 0;
            for (std::size_t i = 0; i < c.rungs.size(); ++i) {
                area += c.rungs[i].width() * 0.2;
                q.longestRow = std::max(q.longestRow, c.rungs[i].width());
                if (i >= 2 && !c.thin) {
                    const Vec2 step = c.rungs[i].middle() - c.rungs[i - 2].middle();
                    q.pitches.push_back(length(step));
                }
                for (std::size_t k = i - std::min<std::size_t>(i, 30); k < i; ++k)
                    if (cross_(c.rungs[i].left, c.rungs[i].right, c.rungs[k].left,
                               c.rungs[k].right) &&
                        !(c.closed && i > c.rungs.size() - 10))
                        ++q.crossings;
            }
            if (c.thin) runArea += area;
        }
    }
    const double px2 = pxPerMm * pxPerMm;
    q.areaMm2 = cv::countNonZero(outline) / px2;
    cv::Mat bare = outline & ~thread;
    cv::morphologyEx(bare, bare, cv::MORPH_OPEN, disc(0.2));
    cv::Mat grown;
    cv::dilate(outline, grown, disc(0.2));
    double inAll = 0, outside = 0;
    for (const Polyline& points : sewn)
        for (std::size_t i = 1; i < points.size(); ++i)
            for (int k = 0; k < 20; ++k) {
                const Vec2 at = lerp(points[i - 1], points[i], (k + 0.5) / 20);
                const double share = distance(points[i - 1], points[i]) / 20;
                inAll += share;
                const int x = static_cast<int>((at.x - box.minX) * pxPerMm);
                const int y = static_cast<int>((at.y - box.minY) * pxPerMm);
                if (!grown.at<std::uint8_t>(y, x)) outside += share;
            }
    q.bareShare = cv::countNonZero(bare) / px2 / q.areaMm2;
    q.outsideShare = outside / inAll;
    q.satinShare = 1 - runArea / q.areaMm2;
    return q;
}

double bareShareOf(const StitchList& list, const Contours& outline) {
    Box box = boundsOf(outline);
    for (const Stitch& s : list.stitches) box.add(s.at());
    box = box.grown(marginMm);
    const Raster raster{{box.minX, box.minY}, pxPerMm};
    cv::Mat ground = cv::Mat::zeros(static_cast<int>(box.height() * pxPerMm) + 1,
                                    static_cast<int>(box.width() * pxPerMm) + 1, CV_8U);
    cv::Mat thread = ground.clone();
    fillOutline(ground, outline, raster, 255);
    for (std::size_t i = 1; i < list.stitches.size(); ++i)
        if (list.stitches[i].op == Op::stitch)
            drawThread(thread, list.stitches[i - 1].at(), list.stitches[i].at(), raster, 0.4, 255);
    cv::Mat bare = ground & ~thread;
    cv::morphologyEx(bare, bare, cv::MORPH_OPEN, disc(0.2));
    return static_cast<double>(cv::countNonZero(bare)) / std::max(1, cv::countNonZero(ground));
}

Image pictureOf(const std::vector<LetterPart>& parts, double scale) {
    const Box box = boundsOfParts(parts);
    const Raster raster{{box.minX, box.minY}, scale};
    cv::Mat image(static_cast<int>(box.height() * scale) + 1,
                  static_cast<int>(box.width() * scale) + 1, CV_8UC3, cv::Scalar(245, 242, 235));
    const cv::Scalar colors[] = {{31, 78, 121}, {200, 90, 30}, {30, 130, 70}, {150, 40, 130},
                                 {160, 130, 0}, {0, 140, 160}, {190, 30, 60}};
    int index = 0;
    for (const LetterPart& p : parts) {
        fillOutline(image, p.outline, raster, {255, 200, 200});
        for (const Column& c : p.columns) {
            const auto points = zigzag(c);
            for (std::size_t i = 1; i < points.size(); ++i)
                drawThread(image, points[i - 1], points[i], raster, c.thin ? 0.02 : 0.06,
                           colors[index % 7]);
            ++index;
        }
    }
    Image out(image.cols, image.rows, 3);
    for (int y = 0; y < image.rows; ++y) std::copy_n(image.ptr(y), image.cols * 3, out.at(0, y));
    return out;
}

} // namespace rapt
