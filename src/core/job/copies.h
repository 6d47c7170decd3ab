#pragma once
// Linked copies of pieces and the outlines round them: what a job says about them. How they become
// placed pieces is in job/expansion.h. Millimetres, degrees, cloth frame.

#include "geometry/vec2.h"
#include "thread/stitch_list.h"

#include <string>
#include <vector>

namespace rapt {

/// One numbered copy that differs from the others.
struct CopyException {
    int copy = 2;         ///< counted from 1, the piece itself
    bool leftOut = false; ///< it is not sewn
    Vec2 shift;           ///< moved by so much
    double turnDeg = 0;   ///< turned about its own middle
    friend bool operator==(const CopyException&, const CopyException&) = default;
};

/// Copies of one or several pieces that follow every change of the originals.
struct Repeat {
    /// Row, grid, ring, mirror, or along a line.
    enum class Kind {
        grid,   ///< rows and columns, to the right and towards the operator
        line,   ///< one after the other in a direction
        circle, ///< round a point
        mirror, ///< across one or both datum lines
    };
    std::string id;
    std::vector<std::string> pieces; ///< ids; a piece is in at most one repeat
    Kind kind = Kind::grid;
    int columns = 2, rows = 1; ///< grid
    int count = 2;             ///< line and circle
    bool byGap = true;         ///< grid, line: the steps are bare gaps, not pitches
    double acrossMm = 5;       ///< grid: between columns; line: along the direction
    double downMm = 5;         ///< grid: between rows
    double directionDeg = 0;   ///< line
    Vec2 centre;               ///< circle
    double sweepDeg = 360;     ///< circle: a full one leaves no copy on the first
    bool turned = true;        ///< circle: copies turn with their place
    bool leftRight = true;     ///< mirror: across the upright datum line
    bool nearFar = false;      ///< mirror: across the level datum line
    std::vector<CopyException> exceptions;
    std::string extra;

    /// How many there are with the original, exceptions included.
    int copies() const;
    /// True if the piece is repeated here.
    bool has(const std::string& pieceId) const;
    /// What is different about a copy (counted from 1), or null.
    const CopyException* exception(int copy) const;
    friend bool operator==(const Repeat&, const Repeat&) = default;
};

/// The most copies that one repeat may have.
inline constexpr int mostCopies = 10'000;

/// A line sewn round a piece before the piece: for cutting along it or for holding the cloth.
struct Outline {
    /// What the outline is sewn as.
    enum class Form {
        rectangle, ///< of its own width and height, centred on the piece
        oval,
        contour, ///< a distance outside the outermost stitches
    };
    Form form = Form::rectangle;
    bool cut = true; ///< a cutting line; otherwise it bastes
    double widthMm = 60, heightMm = 40;
    double cornerMm = 0; ///< radius of a rectangle's corners
    double offsetMm = 3; ///< of a contour
    double stitchLengthMm = 2.5;
    Thread thread;
    std::string extra;
    friend bool operator==(const Outline&, const Outline&) = default;
};

} // namespace rapt
