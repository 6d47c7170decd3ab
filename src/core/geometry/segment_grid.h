#pragma once
// Many line segments, and how far a place is from the nearest of them. Millimetres.

#include "geometry/vec2.h"

#include <cstdint>
#include <optional>
#include <vector>

namespace rapt {

/// A straight piece from a to b.
struct Segment {
    Vec2 a, b;
};

/// Segments sorted into square cells. Immutable after it is made; any thread may ask.
class SegmentGrid {
public:
    /// Sorts them by place.
    explicit SegmentGrid(std::vector<Segment> segments);

    /// True without any segment.
    bool empty() const { return all.empty(); }
    /// Of all segments.
    const Box& bounds() const { return box; }

    /// The nearest place on a segment.
    struct Nearest {
        double distance = 0;
        Vec2 at; ///< the nearest point on a segment
    };
    /// The nearest point of all segments within `atMost`; nothing if all are farther.
    std::optional<Nearest> nearest(Vec2 p, double atMost) const;

    /// The nearest segment is at least and at most so far away; without looking at segments.
    struct Bounds {
        double least = 0, most = 0;
    };
    /// Quick bounds of the distance from a place to the nearest segment.
    Bounds distanceBounds(Vec2 p) const;

private:
    void spreadDistances();
    int column(double x) const;
    int row(double y) const;
    void searchCell(int i, int j, Vec2 p, Nearest& best) const;

    std::vector<Segment> all;
    Box box;
    double cell = 2;
    int columns = 0, rows = 0;
    std::vector<std::uint32_t> starts;  ///< first entry of a cell; one more at the end
    std::vector<std::uint32_t> entries; ///< indices into `all`
    std::vector<float> apart; ///< of a cell's middle from that of the nearest cell in use, in cells
};

} // namespace rapt
