#pragma once
// What is sewn at a place.

#include "job/stitching.h"

namespace rapt {

/// The span sewn uppermost within `reachMm` of a place (cloth frame); null if there is none.
const PieceSpan* spanAt(const StitchedJob& job, Vec2 at, double reachMm);

/// The pieces whose stitches' boxes reach into a box (cloth frame), each once, in sewing order.
std::vector<std::string> piecesIn(const StitchedJob& job, const Box& box);

} // namespace rapt
