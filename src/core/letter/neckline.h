#pragma once
// Words that follow a neckline: from what is measured on the garment to the circle that the words
// stand on. Millimetres and degrees; the frame's origin is the middle of the neck circle, the
// centre front lies towards the operator (+y). Angles are counted from the centre front, positive
// to the right as seen.

#include "base/result.h"
#include "geometry/polygon.h"
#include "letter/lettering.h"

namespace rapt {

/// Radius of the circle through both ends and the lowest point of a neck of this width and depth:
/// (w²/4 + d²) / 2d (chord and height of a circular segment). Fails (cannotDo) for sizes that are
/// not positive.
Result<double> neckRadius(double widthMm, double depthMm);
/// The circle through three points; fails if they lie on one line.
Result<Circle> circleThrough(Vec2 a, Vec2 b, Vec2 c);
/// The circle nearest to a traced curve in the sense of Kåsa's algebraic least squares (Kåsa 1976,
/// "A circle fitting procedure and its error analysis"), and how far the curve strays from it
/// (RMS). Fails for fewer than three points and for a straight line.
struct TracedCircle {
    Circle circle;
    double rmsMm = 0;
};
/// The circle through a traced edge. Fails (cannotDo) for a straight one.
Result<TracedCircle> circleAlong(const Polyline& traced);

/// Where the middle of the words comes to lie.
enum class NeckPlace {
    angle,        ///< by an angle from the centre front
    fromCentre,   ///< by a length along the edge from the centre front
    fromShoulder, ///< by a length along the edge from the right shoulder seam
};

/// Words along a neckline.
struct NeckWords {
    double radiusMm = 90;     ///< of the neck's edge
    double halfAngleDeg = 70; ///< from the centre front to a shoulder seam
    double fromEdgeMm = 12;   ///< from the edge to the tops of the capitals
    NeckPlace place = NeckPlace::angle;
    double at = 0;            ///< degrees or mm, as `place` says
    bool toLeft = false;      ///< the words lie on the left half instead
    bool levelInHoop = false; ///< turned so that the words' middle lies level, for a one-sided hoop
};

/// Half the angle that a neck of this width and depth spans between its shoulder ends.
double neckHalfAngle(double widthMm, double depthMm);

/// Where they lie and what to mind.
struct NeckPlan {
    double baselineRadiusMm = 0;
    double angleDeg = 0; ///< of the words' middle
    double turnDeg = 0;  ///< the garment is turned by so much, clockwise, to lie level in the hoop
    double usedMm = 0;   ///< length of the words along their baseline
    double freeLeftMm = 0;  ///< from the words' ends to the shoulder seams, along the baseline;
    double freeRightMm = 0; ///< negative where they reach beyond
    LetterLine line;        ///< to letter with
    std::vector<Polyline> garment; ///< neck edge, centre front and shoulder seams, same frame
};

/// The plan for words of this length and cap height. Fails (cannotDo) for a radius or a place that
/// makes no sense.
Result<NeckPlan> planNeckWords(const NeckWords& neck, double wordsMm, double capHeightMm);

} // namespace rapt
