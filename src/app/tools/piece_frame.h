#pragma once
// The frame round one piece: its handles, and what dragging them makes of its pose.

#include "job/job.h"

#include <array>
#include <optional>

namespace rapt::app {

/// Places on the frame in units of its half sides: (−1,−1) is the upper left corner of the piece
/// as it was drawn, before it was mirrored or turned.
struct Handle {
    int x = 0, y = 0;
    bool turns = false; ///< the handle above the frame
    bool isCorner() const { return x != 0 && y != 0; }
};
const std::array<Handle, 9>& handles();

/// How far the turning handle stands off the frame on the screen.
inline constexpr double handleLiftPx = 26;

/// Extents of the piece before its scale, from those of its stitches.
std::optional<Box> unscaledBox(const Piece& piece, const Box& extents);

/// Where a handle is in the cloth frame; the turning handle stands `liftMm` off the frame.
Vec2 handlePlace(const Handle& handle, const Box& unscaled, const Pose& pose, double liftMm);

/// The pose after a handle was dragged to `to`. Corners keep the proportion unless `free`; the
/// opposite corner or side stays where it is. Turning snaps to 15° steps if `steps`.
Pose draggedPose(const Handle& handle, const Box& unscaled, const Pose& start, Vec2 from, Vec2 to,
                 bool free, bool steps);

} // namespace rapt::app
