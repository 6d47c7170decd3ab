#pragma once
// Small stitches that hold the ends of cut threads. Millimetres.

#include "thread/stitch_list.h"

namespace rapt {

/// Stitches of a tie are so long.
inline constexpr double tieStitchMm = 0.7;

/// The point of a tie: so far from an end towards the stitch next to it.
Vec2 tiePoint(Vec2 end, Vec2 towards);

/// Ties both ends of every trim inside a list that are not tied yet.
StitchList tieCuts(const StitchList& list);

} // namespace rapt
