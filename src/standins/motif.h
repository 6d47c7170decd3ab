#pragma once
// What is printed on the stand-in's cloth: a leaf with an eyelet and two berries, with true
// outlines to measure regions against.

#include "geometry/polygon.h"
#include "thread/stitch_list.h"

namespace rapt {

struct PrintedPatch {
    Contours outline; ///< cloth frame
    Rgb color;
};

/// Round the datum, about 46 × 26 mm; later ones lie on earlier ones.
std::vector<PrintedPatch> printedMotif();

/// How far the corners of an outline lie from the lines of the true one, at most; mm.
double farthestFrom(const Contours& truth, const Contours& outline);

} // namespace rapt
