#pragma once
// A motif repeated to an exact length, or round an exact outer size. Millimetres.

#include "base/result.h"
#include "job/job.h"

namespace rapt {

/// What lies in the corners of a frame.
enum class BorderCorner {
    block, ///< one motif, fitted into a square of the strip's width
    open,  ///< nothing: room for a design of the person's own
};

struct BorderRequest {
    double lengthMm = 0;            ///< of the strip, or the frame's outer width
    std::optional<double> heightMm; ///< the frame's outer height; a strip without it
    double stripMm = 0;             ///< how wide the strip is
    BorderCorner corner = BorderCorner::block;
};

/// How the motif is repeated.
struct BorderPlan {
    int along = 0, down = 0;        ///< motifs of one long side, of one high side (without corners)
    double alongMm = 0, downMm = 0; ///< length of one of them
    double scaleAlong = 1, scaleDown = 1, scaleAcross = 1;
};

/// By how much a motif may be made longer or shorter than in proportion.
inline constexpr double mostBorderStretch = 0.08;

/// Whole motifs: scaled in proportion until the motif is as high as the strip is wide, then by at
/// most 8 % in length. Fails (cannotDo) with the nearest lengths that work.
Result<BorderPlan> planBorder(const Box& motif, const BorderRequest& request);

/// The border as a job, centred on the datum, as linked copies; its stitching is exactly as large
/// as asked for. `member` names the motif in the archive.
Result<Job> borderJob(const StitchList& motif, const std::string& member,
                      const BorderRequest& request);

} // namespace rapt
