#pragma once
// Resizing a stitch list with its stitches kept.

#include "base/result.h"
#include "thread/stitch_list.h"

#include <optional>

namespace rapt {

/// What was asked for. Exactly one of scale, width and height is given, or width and height
/// together with `free`.
struct ResizeRequest {
    std::optional<double> scale;
    std::optional<double> widthMm;
    std::optional<double> heightMm;
    bool free = false; ///< the sides need not keep their proportion
};

struct ScaleFactors {
    double x = 1;
    double y = 1;
};

/// The factors that bring a design of these extents to the size asked for. Fails (cannotDo) for a
/// side of no extent, sizes and scales that are not over 0, and contradictory requests.
Result<ScaleFactors> scaleFactors(const ResizeRequest& request, const Box& extents);

/// The same stitches moved, scaled about the origin. Fails (cannotDo), naming the largest scale
/// that works, if a stitch would be longer than 12.1 mm or a place lie beyond ±10,000 mm.
Result<StitchList> resizeKeepingStitches(const StitchList& list, ScaleFactors factors);

} // namespace rapt
