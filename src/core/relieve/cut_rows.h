#pragma once
// Taking an area out of the rows of a satin or fill. Internal to relieving; millimetres.

#include "relieve/cut_list.h"
#include "respace/stretches.h"

namespace rapt {

/// Needle points that are sewn one after the other.
struct Fragment {
    Polyline points;
    bool startsChain = false; ///< where the whole chain started: nothing was cut before it
    bool endsChain = false;
};

/// What is left of the rows, section by section; in each the rows are sewn to and fro as they were.
/// Small remains of which hardly anything is outside `hidden` are left out.
std::vector<Fragment> cutRows(const SewnChain& chain, const SewnStretch& band,
                              const Region& removed, const Region& hidden,
                              const CutOptions& options);

} // namespace rapt
