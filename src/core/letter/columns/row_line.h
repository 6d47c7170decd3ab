#pragma once
// Where a straight row runs inside contours. Internal to the columns.

#include "geometry/polygon.h"

#include <optional>

namespace rapt {

/// A stretch of a row: millimetres from its middle along its direction.
struct Stretch {
    double from = 0, to = 0;
    /// How long it is.
    double size() const { return to - from; }
    /// True if they share more than a point.
    bool overlaps(const Stretch& o) const { return from < o.to && o.from < to; }
};

/// Contours prepared for many rows.
class RowCutter {
public:
    RowCutter() = default;
    /// Cuts rows out of these contours.
    explicit RowCutter(const Contours& contours);
    /// The stretches of the line through `middle` that lie inside, in order.
    std::vector<Stretch> inside(Vec2 middle, Vec2 direction) const;
    /// True without any edge.
    bool empty() const { return edges.empty(); }

private:
    struct Edge {
        Vec2 a, b;
    };
    std::vector<Edge> edges;
};

/// What is left of stretches when others are taken away. Both in order.
std::vector<Stretch> without(const std::vector<Stretch>& from, const std::vector<Stretch>& taken);

} // namespace rapt
