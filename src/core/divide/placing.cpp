#include "divide/placing.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr double roundingMm = 1e-4;

struct Range {
    double low, high;
    bool empty() const { return low > high; }
};

Vec2 turnedBack(Vec2 p, double degrees) {
    const Turn t = turnOf(-degrees);
    return {t.cosine * p.x - t.sine * p.y, t.sine * p.x + t.cosine * p.y};
}

Vec2 turnedForth(Vec2 p, double degrees) { return turnedBack(p, -degrees); }

bool allReached(const Hoop& hoop, Vec2 centre, const std::vector<Polyline>& hulls) {
    for (const Polyline& hull : hulls)
        for (const Vec2& p : hull)
            if (!hoop.reaches(p - centre)) return false;
    if (!hoop.band) return true;
    return std::all_of(hulls.begin(), hulls.end(), [&](const Polyline& hull) {
        const Box box = boundsOf(hull);
        return box.maxY - centre.y <= hoop.band->fromMm + roundingMm ||
               box.minY - centre.y >= hoop.band->toMm - roundingMm;
    });
}

/// Heights of the field's centre at which no hull meets the band, nearest to the middle first.
std::vector<double> heightsClearOfBand(const Hoop& hoop, Range range,
                                       const std::vector<Polyline>& hulls) {
    std::vector<double> heights{(range.low + range.high) / 2, range.low, range.high};
    for (const Polyline& hull : hulls) {
        const Box box = boundsOf(hull);
        heights.push_back(box.minY - hoop.band->toMm);   // the hull just below the band
        heights.push_back(box.maxY - hoop.band->fromMm); // or just above it
    }
    std::erase_if(heights, [&](double y) {
        return y < range.low - roundingMm || y > range.high + roundingMm;
    });
    const double middle = heights.empty() ? 0 : (range.low + range.high) / 2;
    std::sort(heights.begin(), heights.end(),
              [&](double a, double b) { return std::abs(a - middle) < std::abs(b - middle); });
    return heights;
}

/// Centres worth trying, in the turned frame.
std::vector<Vec2> centresToTry(const Hoop& hoop, const std::vector<Polyline>& hulls) {
    Box box;
    for (const Polyline& hull : hulls) box.add(boundsOf(hull));
    if (hoop.shape == Hoop::Shape::oval) {
        // Scaled to a circle, the best centre is that of the smallest circle round the corners.
        std::vector<Vec2> points;
        const double squeeze = hoop.widthMm / hoop.heightMm;
        for (const Polyline& hull : hulls)
            for (const Vec2& p : hull) points.push_back({p.x, p.y * squeeze});
        const Vec2 c = smallestCircle(points).centre;
        return {{c.x, c.y / squeeze}};
    }
    const Range y{box.maxY - hoop.heightMm / 2, box.minY + hoop.heightMm / 2};
    if (box.width() > hoop.widthMm + roundingMm || y.low > y.high + roundingMm) return {};
    if (!hoop.band) return {box.centre()};
    std::vector<Vec2> centres;
    for (const double height : heightsClearOfBand(hoop, y, hulls))
        centres.push_back({box.centre().x, height});
    return centres;
}

} // namespace

std::optional<Pose> placeHoop(const Hoop& hoop, double turnDeg,
                              const std::vector<const Footprint*>& footprints) {
    std::vector<Polyline> hulls;
    for (const Footprint* f : footprints) {
        Polyline& hull = hulls.emplace_back(f->hull);
        for (Vec2& p : hull) p = turnedBack(p, turnDeg);
    }
    for (const Vec2 centre : centresToTry(hoop, hulls)) {
        if (!allReached(hoop, centre, hulls)) continue;
        for (const double grid : {1.0, 0.5, 0.1}) {
            const Vec2 forth = turnedForth(centre, turnDeg);
            const Vec2 round{std::round(forth.x / grid) * grid + 0.0,
                             std::round(forth.y / grid) * grid + 0.0};
            if (allReached(hoop, turnedBack(round, turnDeg), hulls))
                return Pose{round.x, round.y, turnDeg, false, 1, 1};
        }
        const Vec2 exact = turnedForth(centre, turnDeg);
        return Pose{exact.x, exact.y, turnDeg, false, 1, 1};
    }
    return std::nullopt;
}

bool fitTogether(const Hoop& hoop, Vec2 a, Vec2 b) {
    return std::any_of(hoop.turns.begin(), hoop.turns.end(), [&](double turn) {
        const Vec2 d = turnedBack(b - a, turn);
        const double x = std::abs(d.x) / (hoop.widthMm + 2 * roundingMm);
        const double y = std::abs(d.y) / (hoop.heightMm + 2 * roundingMm);
        return hoop.shape == Hoop::Shape::oval ? std::hypot(x, y) <= 1 : x <= 1 && y <= 1;
    });
}

} // namespace rapt
