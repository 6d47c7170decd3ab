#pragma once
// A drawing flattened to what one sees: areas that lie beside each other, in few colours, with what
// is hidden left out.

#include "svg/drawing.h"

#include <stop_token>

namespace rapt {

struct SeenOptions {
    /// At most so many colours; without, colours that hardly differ (CIEDE2000 under 8) become one,
    /// and no more than twelve are kept.
    std::optional<int> threads;
    double tuckMm = 0.6; ///< how far an area reaches under a neighbour that is sewn after it
};

/// Its size: of all that is painted, strokes with their width. Empty if nothing is.
Box extentsOf(const Drawing& drawing);
/// Sized about the page's corner, strokes and all.
Drawing scaled(Drawing drawing, double factor);

/// Painter's algorithm on areas (Clipper): what is opaque hides what lies under it, what is
/// transparent blends with it (source over, W3C Compositing 1; over nothing, with white), clips
/// cut. Then areas of like colour are joined and the colours ordered as they were painted, by their
/// areas; each reaches `tuckMm` under those sewn after it. Strokes that can be sewn as lines stay
/// lines, last, without what later areas hide. A page of white is no area. What was left out or
/// changed is added to `unsupported`. Fails (cannotDo) for drawings of more than 5,000 elements and
/// where the areas have more edges than can be worked out; fails (cancelled) when stopped.
Result<Drawing> asSeen(const Drawing& drawing, const SeenOptions& options = {},
                       std::stop_token stop = {});

} // namespace rapt
