#pragma once
// Needle points in a line: where coated and leather-like cloth would tear.

#include "thread/stitch_list.h"

#include <stop_token>
#include <vector>

namespace rapt {

/// The strip in which holes are counted: so long and so wide, in any of 24 directions. Cloth tears
/// along a line of some length; needle points nearer to each other than `holeMm` along it are one
/// hole, however many passes share it.
inline constexpr double perforationLengthMm = 8.0;
inline constexpr double perforationWidthMm = 0.3;
inline constexpr double holeMm = 0.25;

/// A line of needle points that is too close.
struct PerforatedLine {
    Vec2 at;                 ///< its middle
    double directionDeg = 0; ///< clockwise from +x, 0 to 180
    double hitsPerMm = 0;    ///< holes
};

/// The places where more needle points than `limitPerMm` lie along a line, the worst first; places
/// nearer than a strip's length to a worse one are left out.
std::vector<PerforatedLine> perforatedLines(const StitchList& list, double limitPerMm,
                                            std::stop_token stop = {});

} // namespace rapt
