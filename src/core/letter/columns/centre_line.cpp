#include "letter/columns/centre_line.h"

#include <algorithm>
#include <numbers>

namespace rapt {
namespace {

/// The axis trembles by the sampling; it is smoothed over this share of the half width.
constexpr double smoothShare = 0.45;
/// Directions are taken over this share of the half width, before and after.
constexpr double directionShare = 0.35;

std::ptrdiff_t folded(std::ptrdiff_t i, std::ptrdiff_t n, bool closed) {
    if (closed) return ((i % (n - 1)) + (n - 1)) % (n - 1);
    return std::clamp<std::ptrdiff_t>(i, 0, n - 1);
}

/// Gaussian means of evenly spaced points. Open lines go on beyond their ends by point mirroring,
/// so that the ends stay where they are.
std::vector<Vec2> smoothed(const std::vector<Vec2>& points, double sigma, bool closed) {
    const auto n = static_cast<std::ptrdiff_t>(points.size());
    const auto reach = std::min<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(3 * sigma) + 1, n - 1);
    const auto get = [&](std::ptrdiff_t i) {
        if (closed || (i >= 0 && i < n))
            return points[static_cast<std::size_t>(folded(i, n, closed))];
        const bool before = i < 0;
        const Vec2 end = before ? points.front() : points.back();
        const auto mirror = before ? -i : 2 * (n - 1) - i;
        return end * 2 -
               points[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(mirror, 0, n - 1))];
    };
    std::vector<Vec2> result;
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        Vec2 sum;
        double weights = 0;
        for (std::ptrdiff_t k = -reach; k <= reach; ++k) {
            const double x = static_cast<double>(k) / sigma;
            const double w = std::exp(-x * x / 2);
            sum = sum + get(i + k) * w;
            weights += w;
        }
        result.push_back(sum * (1 / weights));
    }
    return result;
}

} // namespace

CentreLine::CentreLine(const Stroke& stroke, double turnDeg) : closed(stroke.closed) {
    const double turn = turnDeg * std::numbers::pi / 180;
    cosTurn = std::cos(turn);
    sinTurn = std::sin(turn);
    const double half = std::max(0.1, stroke.halfWidth());
    const double rough = stroke.length();
    const auto n = static_cast<std::size_t>(
        std::clamp(std::ceil(rough / std::min(0.1, half / 4)), 4.0, 20000.0));
    std::vector<Vec2> even;
    std::vector<double> evenRadii;
    double gone = 0;
    std::size_t k = 1;
    for (std::size_t i = 0; i <= n; ++i) {
        const double want = rough * static_cast<double>(i) / static_cast<double>(n);
        while (k + 1 < stroke.points.size() &&
               gone + distance(stroke.points[k - 1].at, stroke.points[k].at) < want) {
            gone += distance(stroke.points[k - 1].at, stroke.points[k].at);
            ++k;
        }
        const double size = distance(stroke.points[k - 1].at, stroke.points[k].at);
        const double t = size > 0 ? std::clamp((want - gone) / size, 0.0, 1.0) : 0;
        even.push_back(lerp(stroke.points[k - 1].at, stroke.points[k].at, t));
        evenRadii.push_back(stroke.points[k - 1].radius * (1 - t) + stroke.points[k].radius * t);
    }
    const double spacing = rough / static_cast<double>(n);
    const double sigma = std::max(1.0, smoothShare * half / spacing);
    points = smoothed(even, sigma, closed);
    radii = evenRadii;
    total = lengthOf(points);
    step = total / static_cast<double>(points.size() - 1);

    const auto count = static_cast<std::ptrdiff_t>(points.size());
    const auto reach =
        std::max<std::ptrdiff_t>(1, static_cast<std::ptrdiff_t>(directionShare * half / spacing));
    for (std::ptrdiff_t i = 0; i < count; ++i) {
        const Vec2 d = points[static_cast<std::size_t>(folded(i + reach, count, closed))] -
                       points[static_cast<std::size_t>(folded(i - reach, count, closed))];
        const double size = rapt::length(d);
        directions.push_back(size > 0 ? d * (1 / size) : Vec2{1, 0});
    }
}

double CentreLine::wrapped(double s) const {
    if (!closed) return s;
    s = std::fmod(s, total);
    return s < 0 ? s + total : s;
}

Vec2 CentreLine::at(double given) const {
    const double s = wrapped(given);
    if (s < 0) return points.front() + directions.front() * s;
    if (s > total) return points.back() + directions.back() * (s - total);
    const auto i = std::min(points.size() - 2, static_cast<std::size_t>(s / step));
    return lerp(points[i], points[i + 1], s / step - static_cast<double>(i));
}

Vec2 CentreLine::directionAt(double given) const {
    const double s = std::clamp(wrapped(given), 0.0, total);
    const auto i = std::min(points.size() - 2, static_cast<std::size_t>(s / step));
    const Vec2 d = lerp(directions[i], directions[i + 1], s / step - static_cast<double>(i));
    const double size = rapt::length(d);
    return size > 0 ? d * (1 / size) : directions[i];
}

Vec2 CentreLine::across(double s) const {
    const Vec2 d = directionAt(s);
    const Vec2 right{-d.y, d.x};
    return {right.x * cosTurn - right.y * sinTurn, right.x * sinTurn + right.y * cosTurn};
}

double CentreLine::radius(double given) const {
    const double s = std::clamp(wrapped(given), 0.0, total);
    const auto i = std::min(radii.size() - 2, static_cast<std::size_t>(s / step));
    const double t = s / step - static_cast<double>(i);
    return radii[i] * (1 - t) + radii[i + 1] * t;
}

} // namespace rapt
