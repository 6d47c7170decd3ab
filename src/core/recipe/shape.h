#pragma once
// Shapes that are stitched afresh at any size: runs, fills and satins by recipe, not by needle
// points. Millimetres and degrees in the piece frame.

#include "geometry/polygon.h"
#include "thread/stitch_list.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// What an outline becomes.
enum class StitchKind {
    run,   ///< one line of stitches along `lines[0]`, `lines[1]`, …
    fill,  ///< rows over the even-odd inside of the closed `lines`
    satin, ///< to and fro between the rails `lines[0]` and `lines[1]`
};

/// What is sewn below a fill or a satin, to hold the cloth and lift the cover.
enum class Underlay {
    none,
    light, ///< fill: a run along the inside of the edges; satin: a run along the centre
    full,  ///< fill: also wide rows across; satin: edge runs, and a zigzag in wide columns
};

/// One stretch of one kind in one thread.
struct ShapePart {
    StitchKind kind = StitchKind::fill;
    Thread thread;
    std::vector<Polyline> lines;
    double spacingMm = 0.40; ///< fill row spacing, satin pitch (docs/measures.md); unused by runs
    double stitchLengthMm = 3.0; ///< of runs and of the stitches inside fill rows
    double angleDeg = 0;         ///< of fill rows, clockwise from +x
    Underlay underlay = Underlay::none;
    double pullMm = 0;   ///< added to the length of fill rows and the width of satins, half a side
    int passes = 1;      ///< how often a run is sewn, to and fro
    bool smooth = false; ///< the lines are points of a smooth curve (centripetal Catmull-Rom)
    bool exact = false;  ///< the points of a run are its needle points
    bool paired = false; ///< satin: point i of one rail faces point i of the other (the ladder)
    std::string extra;   ///< unknown keys of the file, kept
};

/// What a shape piece holds: its parts are stitched in order.
struct Shape {
    std::vector<ShapePart> parts;
    std::string extra;
    double mostLayers = 0; ///< that the cloth takes: crowded rows of satins keep to it; 0: unknown
};

/// The same shape with its geometry scaled about the origin. Spacing, length and the angle of the
/// rows stay, so stitching the result keeps the look of the thread. Factors may be negative.
Shape scaled(const Shape& shape, double scaleX, double scaleY);

/// About how many stitches a shape takes, without stitching it; never far too low. For refusing
/// sizes that no machine and no memory would take.
double estimatedStitches(const Shape& shape);

/// True for a fill whose outline would keep the polygon library busy for seconds, as it lies or
/// turned to its rows.
bool isTangled(const ShapePart& fill);

/// Stitches a shape: threads numbered from 1 in order of first use, no stitch over 12.1 mm. Parts
/// of one thread that begin where the last one ended are sewn on; others get a trim and a jump.
StitchList stitchShape(const Shape& shape);

/// The penetrations of single parts, in order, starting and ending where the sewing does. A move
/// that must not lay thread (between islands of a fill) starts a new polyline.
std::vector<Polyline> stitchRun(const ShapePart& part);
/// A run along lines that follow each other; each begins and ends with a needle point.
Polyline runThrough(const std::vector<Polyline>& lines, double stitchLengthMm);
/// Rows, line by line; a new line is a jump. `through` is the height, in the frame turned so that
/// rows are level, of a row that other fills go on from.
std::vector<Polyline> stitchFill(const ShapePart& part, std::optional<double> through = {});
/// Crossings, line by line.
std::vector<Polyline> stitchSatin(const ShapePart& part);

} // namespace rapt
