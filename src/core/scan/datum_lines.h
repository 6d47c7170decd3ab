#pragma once
// The two datum lines that were drawn on the cloth, found in a flat picture.

#include "geometry/polygon.h"
#include "scan/flat_picture.h"

#include <stop_token>

namespace rapt {

/// A drawn line: places on it, and how far they scatter about a straight line.
struct SeenLine {
    Polyline places;       ///< field frame, in order along the line
    Vec2 at, way;          ///< a place on the straight line, and its unit direction
    double sigmaMm = 0.05; ///< of the places, across the line
};

/// Both lines and their crossing.
struct SeenDatum {
    Vec2 at;                   ///< the crossing
    double rotationDeg = 0;    ///< of the more level line, −45 to 45
    double squareErrorDeg = 0; ///< absolute departure from 90°
    SeenLine level, upright;
};

/// What was found.
struct DrawnLines {
    std::optional<SeenDatum> datum;
    std::optional<SeenLine> single; ///< where only one line is in the picture
};

/// Thin straight lines, darker or lighter than the cloth, that run across most of it. `skip` is
/// what is no cloth: cards with their hair lines, the frame (non-zero where nothing is looked for).
/// Both cross at 75° to 105°.
DrawnLines findDrawnLines(const Image& flatGrey, const FlatMap& map, const Image& skip,
                          std::stop_token stop = {});

/// How far the line's drawn places are spread along it, mm.
double lengthOf(const SeenLine& line);

} // namespace rapt
