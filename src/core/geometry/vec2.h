#pragma once
// Points and boxes in millimetres. Every frame has +x right and +y towards the operator, so a
// positive angle turns clockwise as seen (docs/formats.md).

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace rapt {

struct Vec2 {
    double x = 0;
    double y = 0;
    friend bool operator==(const Vec2&, const Vec2&) = default;
};

inline Vec2 operator+(Vec2 a, Vec2 b) { return {a.x + b.x, a.y + b.y}; }
inline Vec2 operator-(Vec2 a, Vec2 b) { return {a.x - b.x, a.y - b.y}; }
inline Vec2 operator*(Vec2 a, double k) { return {a.x * k, a.y * k}; }
inline double dot(Vec2 a, Vec2 b) { return a.x * b.x + a.y * b.y; }
inline double cross(Vec2 a, Vec2 b) { return a.x * b.y - a.y * b.x; }
inline double length(Vec2 a) { return std::hypot(a.x, a.y); }
inline double distance(Vec2 a, Vec2 b) { return length(b - a); }
inline Vec2 lerp(Vec2 a, Vec2 b, double t) { return a + (b - a) * t; }

/// An axis-parallel box; empty until the first point is added.
struct Box {
    double minX = std::numeric_limits<double>::infinity();
    double minY = std::numeric_limits<double>::infinity();
    double maxX = -std::numeric_limits<double>::infinity();
    double maxY = -std::numeric_limits<double>::infinity();

    bool empty() const { return minX > maxX; }
    double width() const { return empty() ? 0 : maxX - minX; }
    double height() const { return empty() ? 0 : maxY - minY; }
    Vec2 centre() const { return {(minX + maxX) / 2, (minY + maxY) / 2}; }
    void add(Vec2 p) {
        minX = std::min(minX, p.x);
        minY = std::min(minY, p.y);
        maxX = std::max(maxX, p.x);
        maxY = std::max(maxY, p.y);
    }
    void add(const Box& b) {
        if (b.empty()) return;
        add(Vec2{b.minX, b.minY});
        add(Vec2{b.maxX, b.maxY});
    }
    /// Grown by `d` on every side (shrunken if negative).
    Box grown(double d) const { return {minX - d, minY - d, maxX + d, maxY + d}; }
    bool contains(Vec2 p) const { return p.x >= minX && p.x <= maxX && p.y >= minY && p.y <= maxY; }
    /// The point of the box that is nearest to p.
    Vec2 nearest(Vec2 p) const {
        return {std::clamp(p.x, minX, maxX), std::clamp(p.y, minY, maxY)};
    }
    bool overlaps(const Box& b) const {
        return !empty() && !b.empty() && minX <= b.maxX && b.minX <= maxX && minY <= b.maxY &&
               b.minY <= maxY;
    }
    /// All round, from the least corner, clockwise as seen.
    std::array<Vec2, 4> corners() const {
        return {Vec2{minX, minY}, {maxX, minY}, {maxX, maxY}, {minX, maxY}};
    }
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
