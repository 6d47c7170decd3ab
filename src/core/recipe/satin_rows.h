#pragma once
// Columns of satin as rungs, and their stitches: to and fro over the rungs, short rows in bends,
// and the underlay. Letters and shapes are sewn by the same. Millimetres.

#include "geometry/polygon.h"

#include <vector>

namespace rapt {

/// One crossing of a column; the thread goes from one rung's end to the other end of the next.
struct Rung {
    Vec2 left, right; ///< seen along the column
    /// Between both ends of the row.
    Vec2 middle() const { return lerp(left, right, 0.5); }
    /// Of the column at this row.
    double width() const { return distance(left, right); }
};

/// A column of satin. Neighbouring rungs are half a pitch apart on the centre line and never cross.
struct Column {
    std::vector<Rung> rungs;
    double strokeMm = 0; ///< median width of the stroke before it was widened
    bool closed = false; ///< a ring: the last rungs lie over the first
    bool thin = false;   ///< too thin for satin: three runs along its middle
    bool filled = false; ///< sewn as a fill whose rows lie along the rungs
};

/// Satin (or a fill along the rungs, or runs where the column is thin) from one rung to another,
/// appended to `out`. `pullMm` is added to the width, half on each side; a negative one leaves at
/// least a fifth of it. Row ends farther apart than 0.50 mm outside a bend get short rows between
/// them; inside, row ends within 0.25 mm of the last full one stop short. Rows over 7 mm are split.
void appendCover(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                 double pullMm);

/// A run along the middle of the column from one rung to another, in bends `leaning` to the outside
/// if asked; begins beside the last point.
void appendCentreRun(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                     bool leaning);

/// Edge runs or zigzag by width between two rungs: out of `from`, to `to` and back to `from`. None
/// in narrow or short columns.
void appendUnderlay(Polyline& out, const Column& column, std::size_t from, std::size_t to);

} // namespace rapt
