#pragma once
// Where a frame and the fields of its positions stand on the cloth. Millimetres, degrees.

#include "geometry/polygon.h"
#include "geometry/pose.h"
#include "library/library.h"

namespace rapt {

/// Spare for rounding when places are compared with a field's edge.
inline constexpr double fieldRoundingMm = 1e-4;

/// The pose of a position's field, where the frame stands at `frame`; `slideMm` moves it along the
/// frame's x.
Pose fieldPose(const Pose& frame, const FramePosition& position, double slideMm = 0);

/// A place turned about the origin, clockwise as seen.
Vec2 turned(Vec2 p, double degrees);

/// The outline of a field or of the frame's outer edge, moved outwards by `growMm`; ovals with 64
/// corners. In the field frame.
Polyline fieldOutline(const Hoop& hoop, double growMm = 0);

/// True if all places (field frame) lie in the field, `marginMm` away from its edge.
bool holds(const Hoop& hoop, const Polyline& places, double marginMm = 0);

/// Why a machine cannot sew in a frame, or empty: it does not take it, or reaches less than its
/// field.
std::string frameProblem(const Hoop& hoop, const Machine& machine);

} // namespace rapt
