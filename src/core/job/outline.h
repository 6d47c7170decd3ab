#pragma once
// The line of an outline as a shape that can be stitched.

#include "job/copies.h"
#include "recipe/shape.h"

namespace rapt {

/// The outline round a stitched piece, in the frame of its list: a closed run whose needle points
/// reach exactly the width and height asked for, or lie the offset away from the nearest stitch.
/// An empty list gives no parts.
Shape outlineShape(const Outline& outline, const StitchList& around);

/// The outer contours of everything nearer than `offsetMm` to the thread of a list; round corners,
/// holes closed. Within 0.05 mm of the true distance.
Contours contoursAround(const StitchList& list, double offsetMm);

} // namespace rapt
