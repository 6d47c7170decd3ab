#pragma once
// The smoothed middle line of a stroke, addressed by its length. Internal to the columns.

#include "letter/columns/stroke.h"

namespace rapt {

/// Place and direction on a stroke; before its start and beyond its end it goes on straight
/// (round and round for a ring).
class CentreLine {
public:
    /// The middle of a stroke, turned.
    CentreLine(const Stroke& stroke, double turnDeg);
    /// In millimetres.
    double length() const { return total; }
    /// The place at a length along it.
    Vec2 at(double s) const;
    /// Unit direction of a row, pointing to the right of the stroke.
    Vec2 across(double s) const;
    /// Half of the stroke's width there.
    double radius(double s) const;

private:
    double wrapped(double s) const;
    Vec2 directionAt(double s) const;

    std::vector<Vec2> points; ///< evenly spaced
    std::vector<Vec2> directions;
    std::vector<double> radii;
    double step = 0.1, total = 0;
    double cosTurn = 1, sinTurn = 0;
    bool closed = false;
};

} // namespace rapt
