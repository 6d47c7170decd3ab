#pragma once
// How a branch of the axis comes out of a meeting. Near the meeting the axis bends towards its
// middle; direction and width are taken where the branch is itself again. Internal to stroke.cpp.

#include "letter/columns/axis.h"

namespace rapt {

/// Where a branch stops in the outline.
struct BranchEnd {
    std::size_t keepFrom = 0; ///< index of the first point that is the branch's own
    Vec2 at;                  ///< that point
    Vec2 out;                 ///< unit direction away from the meeting
    double halfWidth = 0;     ///< of the branch
};

/// The end of a branch at a node (or its free end, of which all points are kept).
BranchEnd branchEnd(const AxisBranch& branch, bool atTo, const AxisNode& node, bool meets);

} // namespace rapt
