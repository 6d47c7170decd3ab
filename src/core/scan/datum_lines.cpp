#include "scan/datum_lines.h"

#include "geometry/main_axis.h"

#include <algorithm>
#include <map>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <set>

namespace rapt {
namespace {

constexpr double radiansPerDegree = std::numbers::pi / 180;
// A chalk or pencil line is 0.2 to 1.2 mm wide; cloth 1.2 mm to both sides is compared with.
constexpr double lineSigmaMm = 0.3, besideMm = 1.1, foldMm = 2.6, narrowShare = 0.65;
constexpr double slopeMm = 1.1;
// Lines are longer than anything sewn or printed, and drawn through the whole of it.
constexpr double leastShare = 0.35, leastLengthMm = 25;
constexpr double turnStepDeg = 0.5, offsetStepMm = 0.5;
constexpr double withinMm = 0.45; ///< of a line, that what is found belongs to it
constexpr double leastCrossingDeg = 75, askewDeg = 25;
constexpr double sureLengthMm = 40, sureShare = 0.6, sureDeg = 12;

/// A place where the grey has a valley or a ridge, and which way it runs.
struct RidgePoint {
    Vec2 at; ///< flat pixels
    double strength = 0;
    double turn = 0; ///< of the line, radians in [0, π)
};

/// Valleys and ridges by the larger eigenvalue of the second derivatives (Steger 1998), kept where
/// both sides differ from the middle alike, so that mere edges are none.
class RidgeFinder {
public:
    RidgeFinder(const Image& grey, const FlatMap& m, const Image& s) : map(m) {
        const cv::Mat raw(grey.height, grey.width, CV_8UC1,
                          const_cast<std::uint8_t*>(grey.pixels.data()));
        skip = cv::Mat(s.height, s.width, CV_8UC1, const_cast<std::uint8_t*>(s.pixels.data()));
        cv::Mat f;
        raw.convertTo(f, CV_32F);
        cv::GaussianBlur(f, smooth, cv::Size(0, 0), lineSigmaMm * map.pxPerMm);
        cv::Sobel(smooth, xx, CV_32F, 2, 0, 3, 0.25);
        cv::Sobel(smooth, yy, CV_32F, 0, 2, 3, 0.25);
        cv::Sobel(smooth, xy, CV_32F, 1, 1, 3, 0.25);
        // A line on a slope of light would seem to lie further down: slopes are taken out.
        cv::Mat slow;
        cv::GaussianBlur(smooth, slow, cv::Size(0, 0), slopeMm * map.pxPerMm);
        const cv::Mat level = smooth - slow;
        cv::Sobel(level, dx, CV_32F, 1, 0, 3, 0.125);
        cv::Sobel(level, dy, CV_32F, 0, 1, 3, 0.125);
    }

    std::vector<RidgePoint> run() {
        std::vector<RidgePoint> points;
        const int edge = static_cast<int>(foldMm * map.pxPerMm) + 2;
        for (int y = edge; y < smooth.rows - edge; ++y)
            for (int x = edge; x < smooth.cols - edge; ++x) {
                if (skip.at<std::uint8_t>(y, x)) continue;
                if (const auto p = at(x, y)) points.push_back(*p);
            }
        keepStrong(points);
        return points;
    }

private:
    std::optional<RidgePoint> at(int x, int y) const {
        const double a = xx.at<float>(y, x), b = xy.at<float>(y, x), c = yy.at<float>(y, x);
        const double root = std::hypot((a - c) / 2, b);
        const double mean = (a + c) / 2;
        const double value = mean >= 0 ? mean + root : mean - root;
        if (std::abs(value) < 0.3) return std::nullopt;
        // Direction across the line: eigenvector of that value.
        double nx = b, ny = value - a;
        if (std::abs(a - value) < std::abs(c - value)) {
            nx = value - c;
            ny = b;
        }
        const double size = std::hypot(nx, ny);
        if (size < 1e-9) return std::nullopt;
        nx /= size;
        ny /= size;
        const double slope = dx.at<float>(y, x) * nx + dy.at<float>(y, x) * ny;
        const double shift = -slope / value;
        if (std::abs(shift) > 0.6) return std::nullopt;
        const int way = value > 0 ? 1 : -1;
        const double contrast = bothSides(x, y, nx, ny, way, besideMm);
        if (contrast <= 0) return std::nullopt;
        // A fold goes on getting lighter; beside a drawn line there is cloth at once.
        if (contrast < narrowShare * bothSides(x, y, nx, ny, way, foldMm)) return std::nullopt;
        double turn = std::atan2(nx, -ny);
        if (turn < 0) turn += std::numbers::pi;
        if (turn >= std::numbers::pi) turn -= std::numbers::pi;
        return RidgePoint{{x + 0.5 + shift * nx, y + 0.5 + shift * ny}, contrast, turn};
    }

    /// By how much both sides are lighter (way +1) or darker than the middle; the lesser of them.
    double bothSides(int x, int y, double nx, double ny, double way, double mm) const {
        const double d = mm * map.pxPerMm;
        const double here = smooth.at<float>(y, x);
        double least = 1e9;
        for (const double side : {-d, d}) {
            const int sx = static_cast<int>(std::lround(x + nx * side));
            const int sy = static_cast<int>(std::lround(y + ny * side));
            least = std::min(least, way * (smooth.at<float>(sy, sx) - here));
        }
        return least;
    }

    /// The weave is everywhere and weak: what is kept stands out of it.
    static void keepStrong(std::vector<RidgePoint>& points) {
        if (points.empty()) return;
        std::vector<double> strengths;
        strengths.reserve(points.size());
        for (const RidgePoint& p : points) strengths.push_back(p.strength);
        const auto middle = strengths.begin() + static_cast<std::ptrdiff_t>(strengths.size() / 2);
        std::nth_element(strengths.begin(), middle, strengths.end());
        const double least = std::max(2.0, 1.6 * *middle);
        // In a plain picture nearly all that is found is the line itself.
        const auto strong = static_cast<std::size_t>(std::count_if(
            strengths.begin(), strengths.end(), [&](double s) { return s >= least; }));
        const double bound = strong < 200 ? 2.0 : least;
        std::erase_if(points, [&](const RidgePoint& p) { return p.strength < bound; });
    }

    const FlatMap& map;
    cv::Mat skip, smooth, xx, yy, xy, dx, dy;
};

/// One straight line in flat millimetres: normal·p = offset.
struct Straight {
    double turn = 0; ///< of the line, radians
    double offset = 0;
    double covered = 0; ///< mm of it that show
    Vec2 way() const { return {std::cos(turn), std::sin(turn)}; }
    Vec2 normal() const { return {-std::sin(turn), std::cos(turn)}; }
};

class LineSearch {
public:
    LineSearch(std::vector<RidgePoint> p, const FlatMap& m, const Image& s)
        : points(std::move(p)), map(m), skip(s) {
        for (RidgePoint& r : points) r.at = map.toField(r.at);
    }

    /// The best lines, the longest first, none like another.
    std::vector<Straight> candidates(std::stop_token stop) {
        vote();
        std::vector<Straight> lines;
        for (int round = 0; round < 12 && !stop.stop_requested(); ++round) {
            int best[2] = {0, 0};
            double most = 0;
            cv::minMaxIdx(votes, nullptr, &most, nullptr, best);
            if (most < 20) break;
            Straight line{best[0] * turnStepDeg * radiansPerDegree, lowest + best[1] * offsetStepMm,
                          0};
            clearAround(best[0], best[1]);
            refine(line);
            line.covered = cover(line);
            const bool known = std::any_of(lines.begin(), lines.end(), [&](const Straight& l) {
                return std::abs(std::remainder(l.turn - line.turn, std::numbers::pi)) < 0.02 &&
                       std::abs(std::abs(l.offset) - std::abs(line.offset)) < 2;
            });
            if (!known) lines.push_back(line);
        }
        std::sort(lines.begin(), lines.end(),
                  [](const Straight& a, const Straight& b) { return a.covered > b.covered; });
        return lines;
    }

    /// True if it shows along enough of the cloth that it crosses.
    bool isDrawn(const Straight& line) const {
        return line.covered >= leastLengthMm && line.covered >= leastShare * visible(line);
    }

    /// True if it is surely a line even with none across it.
    bool isSure(const Straight& line) const {
        const double askew = std::abs(std::remainder(line.turn, std::numbers::pi / 2));
        return line.covered >= sureLengthMm && line.covered >= sureShare * visible(line) &&
               askew < sureDeg * radiansPerDegree;
    }

    /// Places on the line, a millimetre apart, by the middle of what is found there.
    SeenLine seen(const Straight& line) const {
        std::map<int, std::pair<Vec2, double>> cells;
        for (const RidgePoint* p : near(line)) {
            auto& [sum, weight] = cells[static_cast<int>(std::floor(dot(line.way(), p->at)))];
            sum = sum + p->at * p->strength;
            weight += p->strength;
        }
        SeenLine seen;
        for (const auto& [cell, value] : cells)
            seen.places.push_back(value.first * (1 / value.second));
        straighten(seen);
        return seen;
    }

private:
    void vote() {
        turns = static_cast<int>(180 / turnStepDeg);
        const double reach = std::hypot(map.area.width(), map.area.height());
        lowest = -reach;
        offsets = static_cast<int>(2 * reach / offsetStepMm) + 2;
        votes = cv::Mat::zeros(turns, offsets, CV_64F);
        constexpr int around = 4; ///< steps to both sides: how well a ridge knows its way
        for (const RidgePoint& p : points) {
            const int t0 = static_cast<int>(p.turn / radiansPerDegree / turnStepDeg);
            for (int t = t0 - 2 * around; t <= t0 + 2 * around; ++t) {
                const int row = (t % turns + turns) % turns;
                const Straight line{row * turnStepDeg * radiansPerDegree, 0, 0};
                const int column = static_cast<int>(
                    std::lround((dot(line.normal(), p.at) - lowest) / offsetStepMm));
                if (column >= 0 && column < offsets) votes.at<double>(row, column) += 1;
            }
        }
        cv::GaussianBlur(votes, votes, cv::Size(3, 3), 0.7);
    }

    void clearAround(int row, int column) {
        for (int t = row - 5; t <= row + 5; ++t)
            for (int o = column - 5; o <= column + 5; ++o)
                if (o >= 0 && o < offsets && t >= 0 && t < turns) votes.at<double>(t, o) = 0;
    }

    std::vector<const RidgePoint*> near(const Straight& line, double mm = withinMm) const {
        std::vector<const RidgePoint*> list;
        for (const RidgePoint& p : points) {
            if (std::abs(dot(line.normal(), p.at) - line.offset) > mm) continue;
            const double off = std::remainder(p.turn - line.turn, std::numbers::pi);
            if (std::abs(off) < 15 * radiansPerDegree) list.push_back(&p);
        }
        return list;
    }

    /// Straight through what is near, closer and closer.
    void refine(Straight& line) const {
        for (const double mm : {1.2, 0.8, withinMm, withinMm}) {
            const auto list = near(line, mm);
            if (list.size() < 8) return;
            Polyline places;
            for (const RidgePoint* p : list) places.push_back(p->at);
            const MainAxis axis = mainAxisOf(places);
            line.turn = axis.turn;
            line.offset = dot(line.normal(), axis.middle);
        }
    }

    double cover(const Straight& line) const {
        std::set<int> cells;
        for (const RidgePoint* p : near(line))
            cells.insert(static_cast<int>(std::floor(dot(line.way(), p->at))));
        return static_cast<double>(cells.size());
    }

    /// Millimetres of the line on what is looked at.
    double visible(const Straight& line) const {
        const double reach = std::hypot(map.area.width(), map.area.height());
        double sum = 0;
        for (double s = -reach; s < reach; s += 1) {
            const Vec2 px = map.toPixels(line.way() * s + line.normal() * line.offset);
            const int x = static_cast<int>(px.x), y = static_cast<int>(px.y);
            if (px.x < 0 || px.y < 0 || x >= skip.width || y >= skip.height) continue;
            if (!skip.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(skip.width) +
                             static_cast<std::size_t>(x)])
                sum += 1;
        }
        return sum;
    }

    /// A line through the places that are not led astray, and how far those scatter.
    static void straighten(SeenLine& seen) {
        for (int round = 0; round < 4 && seen.places.size() >= 4; ++round) {
            const MainAxis axis = mainAxisOf(seen.places);
            seen.at = axis.middle;
            seen.way = axis.way();
            std::vector<double> off;
            for (const Vec2& p : seen.places) off.push_back(std::abs(cross(seen.way, p - seen.at)));
            std::vector<double> sorted = off;
            std::nth_element(sorted.begin(), sorted.begin() + static_cast<long>(sorted.size() / 2),
                             sorted.end());
            seen.sigmaMm = std::max(0.02, 1.4826 * sorted[sorted.size() / 2]);
            Polyline kept;
            for (std::size_t i = 0; i < off.size(); ++i)
                if (off[i] <= 3 * seen.sigmaMm) kept.push_back(seen.places[i]);
            if (kept.size() == seen.places.size()) break;
            seen.places = std::move(kept);
        }
    }

    std::vector<RidgePoint> points;
    const FlatMap& map;
    const Image& skip;
    cv::Mat votes;
    int turns = 0, offsets = 0;
    double lowest = 0;
};

SeenDatum datumOf(SeenLine a, SeenLine b) {
    // The more level one, pointing right; a tie cannot be told.
    if (std::abs(a.way.y) > std::abs(b.way.y)) std::swap(a, b);
    if (a.way.x < 0) a.way = a.way * -1;
    if (b.way.y < 0) b.way = b.way * -1;
    SeenDatum d;
    const double t = cross(b.at - a.at, b.way) / cross(a.way, b.way);
    d.at = a.at + a.way * t;
    d.rotationDeg = std::atan2(a.way.y, a.way.x) / radiansPerDegree;
    d.squareErrorDeg =
        std::abs(std::atan2(cross(a.way, b.way), dot(a.way, b.way)) / radiansPerDegree - 90);
    d.level = std::move(a);
    d.upright = std::move(b);
    return d;
}

/// The longest pair that crosses about squarely.
std::optional<std::pair<const Straight*, const Straight*>>
crossingPair(const std::vector<Straight>& lines, const LineSearch& search) {
    std::optional<std::pair<const Straight*, const Straight*>> best;
    double most = 0;
    for (std::size_t i = 0; i < lines.size(); ++i)
        for (std::size_t k = i + 1; k < lines.size(); ++k) {
            if (!search.isDrawn(lines[i]) || !search.isDrawn(lines[k])) continue;
            const double angle =
                std::asin(std::min(1.0, std::abs(cross(lines[i].way(), lines[k].way()))));
            if (angle < leastCrossingDeg * radiansPerDegree) continue;
            // Cloth is hooped along the frame: folds and seams that run askew are no datum.
            const double askew = std::abs(std::remainder(lines[i].turn, std::numbers::pi / 2));
            const double sum = (std::min(lines[i].covered, lines[k].covered) +
                                0.2 * (lines[i].covered + lines[k].covered)) *
                               (askew > askewDeg * radiansPerDegree ? 0.7 : 1);
            if (sum <= most) continue;
            most = sum;
            best = {&lines[i], &lines[k]};
        }
    return best;
}

} // namespace

double lengthOf(const SeenLine& line) {
    return line.places.empty() ? 0 : distance(line.places.front(), line.places.back());
}

DrawnLines findDrawnLines(const Image& flatGrey, const FlatMap& map, const Image& skip,
                          std::stop_token stop) {
    LineSearch search(RidgeFinder(flatGrey, map, skip).run(), map, skip);
    const auto lines = search.candidates(stop);
    DrawnLines drawn;
    if (const auto pair = crossingPair(lines, search)) {
        SeenLine a = search.seen(*pair->first), b = search.seen(*pair->second);
        if (a.places.size() >= 10 && b.places.size() >= 10) {
            drawn.datum = datumOf(std::move(a), std::move(b));
            return drawn;
        }
    }
    for (const Straight& line : lines)
        if (search.isSure(line)) {
            drawn.single = search.seen(line);
            break;
        }
    return drawn;
}

} // namespace rapt
