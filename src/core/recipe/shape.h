#pragma once
// Shapes that are stitched afresh at any size: runs, fills and satins by recipe, not by needle
// points. Millimetres and degrees in the piece frame.

#include "geometry/polygon.h"
#include "thread/stitch_list.h"

#include <string>
#include <vector>

namespace rapt {

enum class StitchKind {
    run,   ///< one line of stitches along `lines[0]`, `lines[1]`, …
    fill,  ///< rows over the even-odd inside of the closed `lines`
    satin, ///< to and fro between the rails `lines[0]` and `lines[1]`
};

/// One stretch of one kind in one thread.
struct ShapePart {
    StitchKind kind = StitchKind::fill;
    Thread thread;
    std::vector<Polyline> lines;
    double spacingMm = 0.40;     ///< fill row spacing, satin pitch (contract §2); unused by runs
    double stitchLengthMm = 3.0; ///< of runs and of the stitches inside fill rows
    double angleDeg = 0;         ///< of fill rows, clockwise from +x
    std::string extra;           ///< unknown keys of the file, kept
};

/// What a shape piece holds: its parts are stitched in order.
struct Shape {
    std::vector<ShapePart> parts;
    std::string extra;
};

/// The same shape with its geometry scaled about the origin. Spacing, length and the angle of the
/// rows stay, so stitching the result keeps the look of the thread. Factors may be negative.
Shape scaled(const Shape& shape, double scaleX, double scaleY);

/// About how many stitches a shape takes, without stitching it; never far too low. For refusing
/// sizes that no machine and no memory would take.
double estimatedStitches(const Shape& shape);

/// Stitches a shape: threads numbered from 1 in order of first use, a jump before every part and a
/// trim after it, no stitch over 12.1 mm.
StitchList stitchShape(const Shape& shape);

/// The penetrations of single parts, in order, starting and ending where the sewing does. A move
/// that must not lay thread (between islands of a fill) starts a new polyline.
std::vector<Polyline> stitchRun(const ShapePart& part);
std::vector<Polyline> stitchFill(const ShapePart& part);
std::vector<Polyline> stitchSatin(const ShapePart& part);

} // namespace rapt
