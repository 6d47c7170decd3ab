#pragma once
// Resizing stitch-only designs with their spacing, stitch length and look kept: each stretch is
// recognised from its needle points and laid again in its scaled outline. Millimetres.

#include "base/result.h"
#include "respace/options.h"
#include "thread/origin.h"
#include "thread/resize.h"

#include <vector>

namespace rapt {

/// What became of a design.
struct RespaceReport {
    std::size_t satins = 0, fills = 0, runs = 0, ties = 0;
    std::size_t underlays = 0; ///< of the above: below later stitching
    std::size_t unknown = 0;   ///< stretches that were scaled as they are
    std::size_t unknownStitches = 0;
    std::vector<Vec2> unknownAt; ///< where they begin, scaled; at most 100
};

/// The new list, and what became of the stretches. Of the list's records those have an origin that
/// are the input's, scaled: moves, and stretches that were not recognised. The rest was laid
/// afresh.
struct Respaced {
    TracedList list;
    RespaceReport report;
};

/// The design scaled about its origin and laid again. Threads, their order, cuts, and where each
/// stretch starts and ends stay. With both factors 1 and no new spacing it is the same list.
/// Factors may be negative (mirrored). Fails (cannotDo) for factors of 0, options out of range
/// (spacing 0.1–5 mm, share 0–1, longest stitch 1–12.1 mm), and for places beyond ±10,000 mm or
/// more than 4 million stitches.
Result<Respaced> respace(const StitchList& list, ScaleFactors factors,
                         const RespaceOptions& options = {});

/// What a design is made of, without changing it.
RespaceReport surveyStretches(const StitchList& list);

} // namespace rapt
