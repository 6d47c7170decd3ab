#pragma once
// What a frame's ring presses on, and whether it holds the cloth. Millimetres, cloth frame.

#include "divide/hooping_lists.h"
#include "job/finding.h"

namespace rapt {

/// Findings about the frames of a plan; nothing of the ring where the item is floated: its ring on
/// stitching that was sewn before (`ring-stitching`), on a thick place (`ring-thick`), on a button
/// or zip
/// (`ring-hard`); cloth that does not reach under the ring on every side (`ring-cloth`, unless the
/// item is floated); a frame that stands turned as it cannot be clamped (`hooping-turn`), or that
/// the job's machine does not take (`hooping-machine`). With a
/// move of the frame where one mends it and its own stitching stays in its fields.
std::vector<Finding> ringFindings(const Job& job, const std::vector<HoopingList>& lists,
                                  const Library& library);

/// Moves the frames of a new plan, as far as their fields have room with `marginMm` kept free along
/// their edges, so that their rings press on nothing; pinned ones stay.
void clearRings(Job& job, const std::vector<HoopingList>& lists, const Library& library,
                double marginMm);

/// A hooping after its frame was turned about the frame's middle and moved; its marks stay.
Hooping movedHooping(Hooping hooping, Vec2 by, double turnDeg);

/// The same clamping elsewhere, its marks made anew; it is pinned there.
Edit moveClamping(int clamping, Vec2 by, double turnDeg, const Library& library);

/// Keeps a clamping where it stands when the layout is planned again, or lets it go.
Edit pinClamping(int clamping, bool pinned);

/// The opening of a frame and its outer edge, as corners in the frame.
struct RingShape {
    Box opening, outer;
};
RingShape ringOf(const Hoop& hoop);

} // namespace rapt
