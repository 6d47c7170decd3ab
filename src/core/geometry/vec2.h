#pragma once
// Points and boxes in millimetres. Every frame has +x right and +y towards the operator, so a
// positive angle turns clockwise as seen (docs/formats.md).

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace rapt {

/// A place or a way; millimetres unless a header says otherwise.
struct Vec2 {
    double x = 0;
    double y = 0;
    friend bool operator==(const Vec2&, const Vec2&) = default;
};

/// Sum, part by part.
inline Vec2 operator+(Vec2 a, Vec2 b) { return {a.x + b.x, a.y + b.y}; }
/// Difference, part by part: the way from b to a.
inline Vec2 operator-(Vec2 a, Vec2 b) { return {a.x - b.x, a.y - b.y}; }
/// Longer by a factor.
inline Vec2 operator*(Vec2 a, double k) { return {a.x * k, a.y * k}; }
/// Positive while both point the same way.
inline double dot(Vec2 a, Vec2 b) { return a.x * b.x + a.y * b.y; }
/// Positive where b turns clockwise (as seen) from a.
inline double cross(Vec2 a, Vec2 b) { return a.x * b.y - a.y * b.x; }
/// In the unit of its parts.
inline double length(Vec2 a) { return std::hypot(a.x, a.y); }
/// Straight from a to b.
inline double distance(Vec2 a, Vec2 b) { return length(b - a); }
/// On the line from a (t = 0) to b (t = 1), and beyond.
inline Vec2 lerp(Vec2 a, Vec2 b, double t) { return a + (b - a) * t; }

/// An axis-parallel box; empty until the first point is added.
struct Box {
    double minX = std::numeric_limits<double>::infinity();
    double minY = std::numeric_limits<double>::infinity();
    double maxX = -std::numeric_limits<double>::infinity();
    double maxY = -std::numeric_limits<double>::infinity();

    /// True before anything was added.
    bool empty() const { return minX > maxX; }
    /// 0 for an empty box.
    double width() const { return empty() ? 0 : maxX - minX; }
    /// 0 for an empty box.
    double height() const { return empty() ? 0 : maxY - minY; }
    /// The middle; not a number for an empty box.
    Vec2 centre() const { return {(minX + maxX) / 2, (minY + maxY) / 2}; }
    /// Grows until it holds the place.
    void add(Vec2 p) {
        minX = std::min(minX, p.x);
        minY = std::min(minY, p.y);
        maxX = std::max(maxX, p.x);
        maxY = std::max(maxY, p.y);
    }
    /// Grows until it holds the other box; an empty one changes nothing.
    void add(const Box& b) {
        if (b.empty()) return;
        add(Vec2{b.minX, b.minY});
        add(Vec2{b.maxX, b.maxY});
    }
    /// Grown by `d` on every side (shrunken if negative).
    Box grown(double d) const { return {minX - d, minY - d, maxX + d, maxY + d}; }
    /// Edges count.
    bool contains(Vec2 p) const { return p.x >= minX && p.x <= maxX && p.y >= minY && p.y <= maxY; }
    /// The point of the box that is nearest to p.
    Vec2 nearest(Vec2 p) const {
        return {std::clamp(p.x, minX, maxX), std::clamp(p.y, minY, maxY)};
    }
    /// True also where only edges touch.
    bool overlaps(const Box& b) const {
        return !empty() && !b.empty() && minX <= b.maxX && b.minX <= maxX && minY <= b.maxY &&
               b.minY <= maxY;
    }
    /// All round, from the least corner, clockwise as seen.
    std::array<Vec2, 4> corners() const {
        return {Vec2{minX, minY}, {maxX, minY}, {maxX, maxY}, {minX, maxY}};
    }
    /// The box of that width and height around a middle.
    static Box centredAt(Vec2 c, double w, double h) {
        return {c.x - w / 2, c.y - h / 2, c.x + w / 2, c.y + h / 2};
    }
    friend bool operator==(const Box&, const Box&) = default;
};

/// Shortest distance between two boxes; 0 where they overlap.
inline double boxGap(const Box& a, const Box& b) {
    const double dx = std::max({0.0, a.minX - b.maxX, b.minX - a.maxX});
    const double dy = std::max({0.0, a.minY - b.maxY, b.minY - a.maxY});
    return std::hypot(dx, dy);
}

} // namespace rapt
