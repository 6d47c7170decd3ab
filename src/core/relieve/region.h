#pragma once
// An area asked many times what lies inside it. Millimetres.

#include "geometry/polygon.h"

namespace rapt {

/// The even-odd inside of contours, with its edges sorted for fast questions. Immutable.
class Region {
public:
    /// What the contours surround, holes taken out.
    explicit Region(Contours contours);

    /// True if nothing is surrounded.
    bool empty() const { return edges.empty(); }
    /// Of the contours.
    const Box& bounds() const { return box; }
    /// The contours themselves.
    const Contours& contours() const { return lines; }

    /// Even-odd; edges are undecided.
    bool contains(Vec2 p) const;

    /// The places between 0 and 1 where the way from a to b enters or leaves, in order.
    void crossings(Vec2 a, Vec2 b, std::vector<double>& at) const;

    /// Calls `visit(from, to, inside)` for the parts of the way from a to b, in order; the first
    /// begins exactly at a and the last ends exactly at b.
    template<class Visit>
    void eachPart(Vec2 a, Vec2 b, Visit visit) const {
        std::vector<double> at;
        crossings(a, b, at);
        at.push_back(1);
        double from = 0;
        Vec2 begin = a;
        const double length = distance(a, b);
        const Vec2 across = length > 0 ? Vec2{a.y - b.y, b.x - a.x} * (edgeMm / length) : Vec2{};
        for (const double to : at) {
            const Vec2 end = to == 1 ? b : lerp(a, b, to);
            visit(begin, end, isInside(lerp(a, b, (from + to) / 2), across));
            begin = end;
            from = to;
        }
    }

    /// How much of the way from a to b lies inside.
    double insideMm(Vec2 a, Vec2 b) const;

private:
    /// What runs along the edge, from one place on it to another, is not inside: else what was cut
    /// off along it would be cut again.
    static constexpr double edgeMm = 0.02;
    bool isInside(Vec2 p, Vec2 across) const {
        return contains(p) && contains(p + across) && contains(p - across);
    }

    struct Edge {
        Vec2 a, b;
    };
    std::size_t stripOf(double y) const;

    Contours lines;
    Box box;
    double stripMm = 1;
    std::vector<Edge> edges;         ///< strip by strip; an edge stands in all it touches
    std::vector<std::size_t> strips; ///< first edge of each; one more at the end
};

} // namespace rapt
