#pragma once
// How far apart two outlines stand, seen along the x axis.

#include "geometry/polygon.h"

namespace rapt {

/// The least distance in x, over all heights that both have, from the right edge of `left` to the
/// left edge of `right`; negative where they overlap, by how far `right` would have to move to come
/// free. Infinity if they have no height in common. Heights are looked at every `stepMm`.
double gapAlong(const Contours& left, const Contours& right, double stepMm = 0.1);

/// The least distance between two outlines in any direction; 0 where they touch.
double distanceBetween(const Contours& a, const Contours& b);

} // namespace rapt
