#pragma once
// What dense stitching hides. Millimetres, in the frame of the list.

#include "geometry/polygon.h"
#include "thread/stitch_list.h"

namespace rapt {

/// The outlines of all satins and fills whose own thread makes at least `leastLayers` layers
/// (docs/measures.md): of each alone, or of two thinner ones where they lie on each other. Runs
/// hide nothing. Even-odd contours.
Contours denseCover(const StitchList& list, double leastLayers);

} // namespace rapt
