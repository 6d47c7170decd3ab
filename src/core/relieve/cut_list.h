#pragma once
// Taking an area out of bare stitches. Millimetres.

#include "relieve/region.h"
#include "thread/stitch_list.h"

namespace rapt {

/// How stitches are cut.
struct CutOptions {
    double leastPieceMm = 0.5; ///< shorter remains of a row are left out
    double leastRunMm = 2;     ///< shorter remains of a run are not worth two ties
    double leastRemainMm2 = 4; ///< smaller remains of satins and fills go too, if they are hidden
};

/// The list without what lies inside `removed`. Cut threads are tied off and begun with small
/// stitches; over the gap the needle jumps after a trim. Rows that are cut keep their needle points
/// outside. `hidden` is the area that cannot be seen (of which `removed` is the inner part): small
/// remains inside it go too. Stretches that do not touch the area are the same stitches as before.
StitchList cutOut(const StitchList& list, const Region& removed, const Region& hidden,
                  const CutOptions& options = {});

} // namespace rapt
