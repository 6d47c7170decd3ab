#pragma once
// The load map as a picture, for files and for the cloth.

#include "load/limits.h"
#include "scan/image.h"

namespace rapt {

/// Colours in steps of the limit (below a half, to it, over it), the limit itself as a dark
/// contour; one picture pixel or more a cell, at most 4,000 pixels along a side. White where
/// nothing is sewn. Empty maps give a picture of one pixel.
Image loadPicture(const LoadMap& map, LoadKind kind, const LoadLimits& limits);

} // namespace rapt
