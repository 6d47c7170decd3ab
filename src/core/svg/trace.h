#pragma once
// A picture with flat colours (a logo, a child's drawing) as areas, to be sewn like a drawing.

#include "scan/image.h"
#include "svg/drawing.h"

#include <stop_token>

namespace rapt {

struct TraceOptions {
    int colours = 12;         ///< at most, the ground not counted; 1 to 24
    double widthMm = 80;      ///< of the picture
    double speckleMm = 0.8;   ///< smaller spots (edge of a square of their area) are left out
    bool keepsGround = false; ///< the colour that runs along the edges is an area too
};

/// Areas of few colours, traced by potrace, the largest first; each even-odd with its holes, in
/// millimetres on a page of the picture's size. The ground (the colour of most of the picture's
/// rim) is left open: where it is paper, nearly white, everywhere; another only as far as it is
/// joined to the rim. Fails (cannotDo) for pictures without flat areas (photographs) and of one
/// colour, and (cancelled) when stopped.
Result<Drawing> traced(const Image& rgb, const TraceOptions& options = {},
                       std::stop_token stop = {});

} // namespace rapt
