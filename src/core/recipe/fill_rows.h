#pragma once
// The rows of a fill and how they hang together. Internal to the recipes; millimetres, in the
// turned frame where rows are level.

#include "geometry/polygon.h"
#include "thread/stitch_list.h"

#include <optional>
#include <vector>

namespace rapt {

/// One stretch of one row inside the shape.
struct RowInterval {
    double left = 0, right = 0;
    int row = 0;
    std::vector<int> above; ///< overlapping intervals of the row before
    std::vector<int> below;
    int section = -1;

    /// No room for a stitch across: a tip, which is sewn along its middle.
    bool isThin() const { return right - left < shortStitchMm; }
};

/// All rows over the even-odd inside of closed contours. `pullMm` lengthens every row by half of it
/// at both ends; rows that then touch become one.
class FillRows {
public:
    /// Rows through contours that are turned so that rows run along x. `through` is a height where
    /// some row would lie; without it the first and last row lie on the outline's edge.
    FillRows(const Contours& turned, double spacingMm, double pullMm,
             std::optional<double> through = {});

    /// Of a row, in the turned frame.
    double y(int row) const { return firstY + row * spacing; }
    /// The row's number in the count that `through` began.
    int numberOf(int row) const { return firstNumber + row; }
    /// Left or right end of an interval.
    Vec2 endOf(int interval, bool left) const {
        const RowInterval& r = intervals[static_cast<std::size_t>(interval)];
        if (r.isThin()) return {(r.left + r.right) / 2, y(r.row)};
        return {left ? r.left : r.right, y(r.row)};
    }
    /// By number, in the order of rows.
    const RowInterval& operator[](int i) const { return intervals[static_cast<std::size_t>(i)]; }
    /// The interval nearest to a point; −1 without any.
    int nearest(Vec2 p) const;

    std::vector<RowInterval> intervals; ///< by row, then from left to right

private:
    void collectCrossings(const Contours& turned, std::vector<std::vector<double>>& crossings);
    void addRow(int row, std::vector<double>& xs, double reach);
    void link();

    double firstY = 0;
    double spacing = 0.4;
    int firstNumber = 0;
};

/// A stack of intervals that can be sewn to and fro without leaving the shape.
struct Section {
    std::vector<int> intervals; ///< from top to bottom, one a row
    /// The section's first interval.
    int first() const { return intervals.front(); }
    /// The section's last interval.
    int last() const { return intervals.back(); }
};
/// Parts of the shape that can be filled without a lift.
std::vector<Section> sectionsOf(FillRows& rows);

/// Bends of a short way that stays inside the shape from `eye`, on the first interval of `way`, to
/// `goal`, on its last; each interval touches the one before.
Polyline wayInside(const FillRows& rows, const std::vector<int>& way, Vec2 eye, Vec2 goal);

/// Travel stitches along such a way from the last point of `out`.
void appendTravel(const FillRows& rows, const std::vector<int>& way, Vec2 goal, Polyline& out);

/// The same by the fewest rows from wherever `out` ends to a goal near an interval. False, and
/// nothing added, if the rows do not hang together.
bool travelInside(const FillRows& rows, int toInterval, Vec2 goal, Polyline& out);

} // namespace rapt
