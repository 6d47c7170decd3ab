#pragma once
// Which stitchings lie on each other. Internal to ordering; millimetres, cloth frame.

#include "geometry/polygon.h"
#include "thread/stitch_list.h"

#include <cstdint>
#include <vector>

namespace rapt {

/// Where one stitching lies: the outlines of its satins and fills, and the cells of 0.4 mm that its
/// thread crosses.
struct SewnGround {
    Contours cover;                   ///< drawn in by half the distance that counts as touching
    std::vector<std::uint64_t> runs;  ///< cells of its runs, sorted
    std::vector<std::uint64_t> cells; ///< all its cells, sorted
    Box box;
};

/// The cells that a list sews on.
SewnGround groundOf(const StitchList& list);

/// True if the outlines overlap by more than 0.2 mm, or a run of one crosses anything of the other.
bool overlap(const SewnGround& a, const SewnGround& b);

} // namespace rapt
