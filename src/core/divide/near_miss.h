#pragma once
// Small changes of the layout that save a whole clamping.

#include "divide/division.h"
#include "job/edit.h"

namespace rapt {

/// A change that is nearly nothing, and what it brings.
struct NearMiss {
    std::string text; ///< "move the tail 7 mm left: hooped twice instead of three times"
    Edit edit;
    int clampings = 0; ///< with it
};

/// Moves (up to 25 mm), small turns and shrinkings (to 92 %) of one or two pieces with which fewer
/// clampings do, the smallest first; each was divided again to prove it, and lays no piece on a
/// neighbour that it was clear of. At most three. Part of them when stopped.
std::vector<NearMiss> nearMisses(const Job& job, StitchCache& cache, const DivideOptions& options,
                                 const Library& library, const Division& division,
                                 std::stop_token stop = {});

} // namespace rapt
