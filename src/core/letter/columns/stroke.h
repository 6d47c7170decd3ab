#pragma once
// Strokes: the axis put together into the lines that a column of satin runs along. Millimetres.

#include "letter/columns/axis.h"

namespace rapt {

/// A place on a stroke where others leave it.
struct StrokeMeeting {
    double at = 0;                    ///< length along the stroke
    double radius = 0;                ///< of the largest disc there
    bool left = false, right = false; ///< on which sides, seen along the stroke
    int node = -1;                    ///< of the axis; -1 at a corner
    bool through = false;             ///< the stroke runs on here
};

/// A line with widths.
struct Stroke {
    std::vector<AxisPoint> points; ///< samples are -1 where the axis was bridged
    std::vector<StrokeMeeting> meetings;
    bool closed = false; ///< a ring; the first point repeats as the last
    bool startsAtMeeting = false, endsAtMeeting = false;

    /// Along its middle.
    double length() const;
    double halfWidth() const; ///< the median radius
};

/// The strokes of an axis, in the order of precedence: where two overlap, the earlier runs on and
/// the later butts against it.
std::vector<Stroke> strokesOf(const Axis& axis);

} // namespace rapt
