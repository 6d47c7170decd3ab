#pragma once
// Earlier stitching, or sewn crosses, found in a scan: the picture is laid over the rendered plan.

#include "scan/flat_picture.h"
#include "thread/stitch_list.h"

#include <stop_token>

namespace rapt {

/// Where stitching lies against where it was expected.
struct StitchMatch {
    Vec2 expected;        ///< its middle, in the plan
    Vec2 seen;            ///< the same in the picture
    double turnDeg = 0;   ///< clockwise as seen
    double agreement = 0; ///< correlation of picture and plan, up to 1
    double sigmaMm = 0, sigmaDeg = 0;
};

/// How far from its plan stitching is looked for, and how much of it must be in view.
struct MatchReach {
    double mm = 8;
    double deg = 4;
    std::size_t leastStitches = 8; ///< a sewn cross has so many
};

/// Looks for the list (in the picture's frame, as expected); `covered` are convex places that cards
/// and lines hide. What differs from the cloth's colour is
/// compared, so that light that falls off and threads of any colour do no harm. Nothing where
/// nothing agrees.
std::optional<StitchMatch> matchStitches(const Image& flatRgb, const FlatMap& map,
                                         const StitchList& expected, const MatchReach& reach = {},
                                         const std::vector<Polyline>& covered = {},
                                         std::stop_token stop = {});

} // namespace rapt
