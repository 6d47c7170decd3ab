#pragma once
// Where satin columns meet, bend or end in a corner, their rows pile up. Rows that lie on ground
// which others cover as well stop short there, or are left out. Millimetres, piece frame.

#include "thread/stitch_list.h"

namespace rapt {

/// What a lettering is kept to where nothing is said of the cloth, in layers.
inline constexpr double usualMostLayers = 3.0;

/// What rows are thinned to for a cloth that takes so much (0 where nothing is known of it): a
/// little below it, so that what lies over it will find some room.
double thinningTarget(double mostLayers);

/// Draws back row ends, and leaves out rows, where the averaged thread load (load/load_map.h)
/// passes `mostLayers`; only where no ground becomes bare that was covered, and only as far as it
/// helps. What cannot be mended so is left as it is. Jumps, trims, ties and threads stay.
void thinCrowdedRows(StitchList& list, double mostLayers);

} // namespace rapt
