#include "geometry/polygon.h"

#include <algorithm>
#include <clipper.hpp>
#include <cmath>

namespace rapt {
namespace {

// Clipper works on integers; 1/10,000 mm keeps sewing accuracy with room to spare.
constexpr double clipperScale = 10000.0;
// Farther places, which no layout has, are drawn in: the library throws at them.
constexpr double farthestMm = 100'000;

ClipperLib::cInt toClipper(double mm) {
    return std::isnan(mm) ? 0
                          : std::llround(std::clamp(mm, -farthestMm, farthestMm) * clipperScale);
}

ClipperLib::Paths toClipper(const Contours& contours) {
    ClipperLib::Paths paths;
    for (const Polyline& contour : contours) {
        ClipperLib::Path path;
        for (const Vec2& p : contour) path.emplace_back(toClipper(p.x), toClipper(p.y));
        paths.push_back(std::move(path));
    }
    return paths;
}

Contours fromClipper(const ClipperLib::Paths& paths) {
    Contours contours;
    for (const auto& path : paths) {
        Polyline line;
        for (const auto& p : path)
            line.push_back(
                {static_cast<double>(p.X) / clipperScale, static_cast<double>(p.Y) / clipperScale});
        contours.push_back(std::move(line));
    }
    return contours;
}

void collectComponents(const ClipperLib::PolyNode& node, std::vector<Contours>& parts) {
    for (const ClipperLib::PolyNode* outer : node.Childs) {
        ClipperLib::Paths paths{outer->Contour};
        for (const ClipperLib::PolyNode* hole : outer->Childs) {
            paths.push_back(hole->Contour);
            collectComponents(*hole, parts);
        }
        parts.push_back(fromClipper(paths));
    }
}

ClipperLib::Paths united(const Contours& contours) {
    ClipperLib::Paths paths = toClipper(contours);
    ClipperLib::SimplifyPolygons(paths, ClipperLib::pftEvenOdd);
    return paths;
}

bool inCircle(const Circle& c, Vec2 p) { return distance(c.centre, p) <= c.radius * (1 + 1e-12); }

Circle circleOf(Vec2 a, Vec2 b) { return {lerp(a, b, 0.5), distance(a, b) / 2}; }

Circle circleOf(Vec2 a, Vec2 b, Vec2 c) {
    const Vec2 u = b - a;
    const Vec2 v = c - a;
    const double det = 2 * cross(u, v);
    if (det == 0) {
        Circle best = circleOf(a, b);
        for (const Circle& other : {circleOf(a, c), circleOf(b, c)})
            if (other.radius > best.radius) best = other;
        return best;
    }
    const double uu = dot(u, u);
    const double vv = dot(v, v);
    const Vec2 centre{(v.y * uu - u.y * vv) / det, (u.x * vv - v.x * uu) / det};
    return {a + centre, length(centre)};
}

Contours combined(ClipperLib::ClipType type, const Contours& a, const Contours& b) {
    ClipperLib::Clipper clipper;
    clipper.AddPaths(toClipper(a), ClipperLib::ptSubject, true);
    clipper.AddPaths(toClipper(b), ClipperLib::ptClip, true);
    ClipperLib::Paths result;
    clipper.Execute(type, result, ClipperLib::pftEvenOdd, ClipperLib::pftEvenOdd);
    return fromClipper(result);
}

} // namespace

Box boundsOf(const Polyline& line) {
    Box box;
    for (const Vec2& p : line) box.add(p);
    return box;
}

Box boundsOf(const Contours& contours) {
    Box box;
    for (const Polyline& contour : contours) box.add(boundsOf(contour));
    return box;
}

double lengthOf(const Polyline& line) {
    double sum = 0;
    for (std::size_t i = 1; i < line.size(); ++i) sum += distance(line[i - 1], line[i]);
    return sum;
}

bool contains(const Contours& contours, Vec2 p) {
    bool inside = false;
    for (const Polyline& c : contours)
        for (std::size_t i = 0, j = c.size() - 1; i < c.size(); j = i++)
            if ((c[i].y > p.y) != (c[j].y > p.y) &&
                p.x < (c[j].x - c[i].x) * (p.y - c[i].y) / (c[j].y - c[i].y) + c[i].x)
                inside = !inside;
    return inside;
}

double areaOf(const Contours& contours) {
    double sum = 0;
    for (const auto& path : united(contours)) sum += ClipperLib::Area(path);
    return std::abs(sum) / (clipperScale * clipperScale);
}

Contours offsetContours(const Contours& contours, double mm) {
    ClipperLib::ClipperOffset offset(2.0, 0.01 * clipperScale);
    offset.AddPaths(united(contours), ClipperLib::jtRound, ClipperLib::etClosedPolygon);
    ClipperLib::Paths result;
    offset.Execute(result, mm * clipperScale);
    return fromClipper(result);
}

std::vector<Contours> componentsOf(const Contours& contours) {
    ClipperLib::Clipper clipper;
    clipper.StrictlySimple(true);
    clipper.AddPaths(toClipper(contours), ClipperLib::ptSubject, true);
    ClipperLib::PolyTree tree;
    clipper.Execute(ClipperLib::ctUnion, tree, ClipperLib::pftEvenOdd);
    std::vector<Contours> parts;
    collectComponents(tree, parts);
    return parts;
}

Contours unitedNonZero(const Contours& contours) {
    ClipperLib::Paths paths = toClipper(contours);
    ClipperLib::SimplifyPolygons(paths, ClipperLib::pftNonZero);
    return fromClipper(paths);
}

Contours differenceOf(const Contours& a, const Contours& b) {
    return combined(ClipperLib::ctDifference, a, b);
}

Contours unionOf(const Contours& a, const Contours& b) {
    return combined(ClipperLib::ctUnion, a, b);
}

Contours intersectionOf(const Contours& a, const Contours& b) {
    return combined(ClipperLib::ctIntersection, a, b);
}

double distanceToSegment(Vec2 p, Vec2 a, Vec2 b) {
    const Vec2 ab = b - a;
    const double size = dot(ab, ab);
    const double t = size == 0 ? 0 : std::clamp(dot(p - a, ab) / size, 0.0, 1.0);
    return distance(p, a + ab * t);
}

Polyline convexHull(std::vector<Vec2> points) {
    std::sort(points.begin(), points.end(),
              [](Vec2 a, Vec2 b) { return a.x < b.x || (a.x == b.x && a.y < b.y); });
    points.erase(std::unique(points.begin(), points.end()), points.end());
    if (points.size() < 3) return points;
    Polyline hull(points.size() * 2);
    std::size_t k = 0;
    for (const Vec2& p : points) {
        while (k >= 2 && cross(hull[k - 1] - hull[k - 2], p - hull[k - 2]) <= 0) --k;
        hull[k++] = p;
    }
    const std::size_t lower = k + 1;
    for (std::size_t i = points.size() - 1; i-- > 0;) {
        while (k >= lower && cross(hull[k - 1] - hull[k - 2], points[i] - hull[k - 2]) <= 0) --k;
        hull[k++] = points[i];
    }
    hull.resize(k - 1);
    return hull;
}

Circle smallestCircle(const std::vector<Vec2>& points) {
    if (points.empty()) return {};
    Circle c{points[0], 0};
    for (std::size_t i = 1; i < points.size(); ++i) {
        if (inCircle(c, points[i])) continue;
        c = {points[i], 0};
        for (std::size_t j = 0; j < i; ++j) {
            if (inCircle(c, points[j])) continue;
            c = circleOf(points[i], points[j]);
            for (std::size_t k = 0; k < j; ++k)
                if (!inCircle(c, points[k])) c = circleOf(points[i], points[j], points[k]);
        }
    }
    return c;
}

double sweepWork(const Contours& contours) {
    std::vector<double> tops, bottoms;
    for (const Polyline& line : contours)
        for (std::size_t i = 0, j = line.size() - 1; i < line.size(); j = i++) {
            tops.push_back(std::min(line[i].y, line[j].y));
            bottoms.push_back(std::max(line[i].y, line[j].y));
        }
    std::sort(tops.begin(), tops.end());
    std::sort(bottoms.begin(), bottoms.end());
    double work = 0;
    std::size_t ended = 0;
    for (std::size_t begun = 0; begun < tops.size(); ++begun) {
        while (bottoms[ended] < tops[begun]) ++ended;
        work += static_cast<double>(begun - ended);
    }
    return work;
}

} // namespace rapt
