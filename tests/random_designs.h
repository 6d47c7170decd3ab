#pragma once
// Random designs of every make, the same for the same seed, and measures of what an operation kept
// of them that know nothing of how it works.

#include "stitch_makers.h"

#include "geometry/pose.h"

#include <opencv2/imgproc.hpp>

namespace rapt::test {

/// How many random cases: as many as RAPT_SEEDS says (`./thimble laws`), else those of every test.
inline quint64 seedCount(quint64 usual) {
    const int asked = qEnvironmentVariableIntValue("RAPT_SEEDS");
    return asked > 0 ? static_cast<quint64>(asked) : usual;
}

/// A star-shaped outline of some corners, within a box of this size about the middle.
inline Polyline randomOutline(Dice& dice, double width, double height) {
    const int corners = 3 + static_cast<int>(dice.between(0, 6));
    Polyline outline;
    for (int i = 0; i < corners; ++i) {
        const double a = 2 * std::numbers::pi * (i + dice.between(-0.3, 0.3)) / corners;
        const double r = dice.between(0.6, 1);
        outline.push_back({r * std::cos(a) * width / 2, r * std::sin(a) * height / 2});
    }
    return outline;
}

/// A fill of our own recipe: any angle, sometimes with a hole and an underlay.
inline StitchList randomFill(Dice& dice, double width, double height) {
    ShapePart part = fillOf({randomOutline(dice, width, height)}, dice.between(-90, 90),
                            dice.between(0.35, 0.6));
    if (dice.between(0, 1) < 0.4)
        part.lines.push_back(rectangle(-0.1 * width, -0.1 * height, 0.2 * width, 0.2 * height));
    if (dice.between(0, 1) < 0.3) part.underlay = Underlay::light;
    part.stitchLengthMm = dice.between(2, 4.5);
    return stitchShape({{part}, {}});
}

/// Bare rows as others make them: level or turned, with or without steps at the turns.
inline StitchList randomRows(Dice& dice, double width, double height) {
    StitchList list;
    sew(list,
        fillPoints(rectangleRows(width, height, 0.4), dice.between(0, 1) < 0.5,
                   dice.between(2.5, 4), dice.between(0, 1) < 0.5 ? 0 : dice.between(-90, 90)));
    return list;
}

/// A satin: straight, curved, tapered or kinked.
inline StitchList randomSatin(Dice& dice, double size) {
    const double kind = dice.between(0, 4), wide = dice.between(2, 6);
    Polyline centre =
        kind < 2   ? Polyline{{-size / 2, 0}, {size / 2, dice.between(-20, 20)}}
        : kind < 3 ? arcLine(size / 2, 0.2, dice.between(1, 2.5))
                   : Polyline{{-size / 2, 0}, {0, dice.between(-0.3, 0.3) * size}, {size / 2, 0}};
    const bool tapered = dice.between(0, 1) < 0.4;
    StitchList list;
    sew(list, satinPoints(
                  centre, [&](double t) { return tapered ? 0.8 + wide * (1 - t) : wide; },
                  dice.between(0.35, 0.5)));
    return list;
}

inline StitchList randomRun(Dice& dice, double size) {
    Polyline corners;
    for (int i = 0; i < 5; ++i)
        corners.push_back({dice.between(-size / 2, size / 2), dice.between(-size / 2, size / 2)});
    StitchList list;
    sew(list, runPoints(corners, dice.between(1.5, 3)));
    return list;
}

/// One to three of them on or beside each other in one to three threads, with odd moves between: a
/// jump without a trim, trims and jumps that lead nowhere, a stop, a thread led in from a jump.
inline StitchList randomDesign(quint64 seed, double size) {
    Dice dice(seed);
    StitchList all;
    all.name = "design " + std::to_string(seed);
    all.threads = {{1, {31, 78, 121}, 40, "Deep tide"},
                   {2, {227, 167, 47}, 40, "Marigold"},
                   {3, {47, 109, 58}, 60, "Reed"}};
    const int parts = 1 + static_cast<int>(dice.between(0, 3));
    for (int k = 0; k < parts; ++k) {
        const double what = dice.between(0, 5), w = size * dice.between(0.4, 1);
        const StitchList part = what < 1.5   ? randomFill(dice, w, size * dice.between(0.3, 0.8))
                                : what < 2.5 ? randomRows(dice, w, size * dice.between(0.2, 0.4))
                                : what < 4   ? randomSatin(dice, w)
                                             : randomRun(dice, w);
        const Vec2 by{dice.between(-0.3, 0.3) * size, dice.between(-0.3, 0.3) * size};
        const auto thread = static_cast<std::uint8_t>(1 + dice.between(0, 3));
        const double odd = dice.between(0, 1);
        if (!all.stitches.empty() && odd < 0.7) {
            const Stitch last = all.stitches.back();
            if (last.op != Op::trim)
                all.stitches.push_back({last.x, last.y, Op::trim, last.thread});
        }
        if (odd < 0.2) all.stitches.push_back(stitchAt(Op::jump, {-3 * size, 2 * size}, thread));
        if (odd > 0.1 && odd < 0.3) all.stitches.push_back({0, 0, Op::stop, thread});
        for (Stitch s : part.stitches) all.stitches.push_back(stitchAt(s.op, s.at() + by, thread));
    }
    if (dice.between(0, 1) < 0.3) all.stitches.push_back(stitchAt(Op::jump, {2 * size, 0}, 1));
    return all;
}

/// Length of the thread of a list along which another sews nothing: measured along the thread, by
/// pieces of thread in the same direction within `reach`, so that a neighbouring row is no excuse.
inline double lostAlongMm(const StitchList& whole, const StitchList& sewn, double reach = 0.06) {
    std::vector<Segment> there;
    walkStitches(sewn.stitches, [&](std::size_t i, const Stitch* last) {
        if (last) there.push_back({last->at(), sewn.stitches[i].at()});
    });
    const SegmentGrid grid(std::move(there));
    double lost = 0;
    walkStitches(whole.stitches, [&](std::size_t i, const Stitch* last) {
        if (!last) return;
        const Vec2 a = last->at(), b = whole.stitches[i].at();
        const double size = distance(a, b);
        const int n = std::max(1, static_cast<int>(size / 0.1));
        for (int k = 0; k < n; ++k)
            if (!grid.nearest(lerp(a, b, (k + 0.5) / n), reach)) lost += size / n;
    });
    return lost;
}

/// Pictures of what a list covers at 0.05 mm a pixel, every thread as wide as it looks.
class CoverPicture {
public:
    explicit CoverPicture(Box box) : frame(box.grown(1)) {
        picture = cv::Mat::zeros(static_cast<int>(frame.height() / pixelMm) + 1,
                                 static_cast<int>(frame.width() / pixelMm) + 1, CV_8U);
    }
    void draw(const StitchList& list) {
        const auto widths = widthTable(list);
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* last) {
            if (!last) return;
            const double wide = widths[list.stitches[i].thread] / pixelMm;
            cv::line(picture, at(last->at()), at(list.stitches[i].at()), cv::Scalar(255),
                     std::max(1, static_cast<int>(std::lround(wide))), cv::LINE_8, shift);
        });
    }
    /// Across the largest disc that fits into what this one covers and the other does not.
    double largestBareMm(const CoverPicture& other) const {
        return largestMm(picture & ~other.picture);
    }
    /// Across the largest disc in what both cover.
    double largestCommonMm(const CoverPicture& other) const {
        return largestMm(picture & other.picture);
    }

private:
    static constexpr double pixelMm = 0.05;
    static constexpr int shift = 4;
    static double largestMm(const cv::Mat& area) {
        cv::Mat far;
        cv::distanceTransform(area, far, cv::DIST_L2, cv::DIST_MASK_PRECISE);
        double most = 0;
        cv::minMaxLoc(far, nullptr, &most);
        return std::max(0.0, 2 * most - 1) * pixelMm;
    }
    cv::Point at(Vec2 p) const {
        return {static_cast<int>((p.x - frame.minX) / pixelMm * (1 << shift)),
                static_cast<int>((p.y - frame.minY) / pixelMm * (1 << shift))};
    }
    Box frame;
    cv::Mat picture;
};

} // namespace rapt::test
