#pragma once
// Taking an area out of bare stitches. Millimetres.

#include "relieve/region.h"
#include "thread/origin.h"

namespace rapt {

/// How stitches are cut.
struct CutOptions {
    double leastPieceMm = 0.5; ///< shorter remains of a row are left out
    double leastRunMm = 2;     ///< shorter remains of a run are not worth two ties
    double leastRemainMm2 = 4; ///< smaller remains of satins and fills go too, if they are hidden
    /// By record: needle points outside the area that must stay, however short what is left with
    /// them. Empty: none must.
    std::vector<bool> mustStay{};

    bool stays(std::int64_t record) const {
        return record >= 0 && static_cast<std::size_t>(record) < mustStay.size() &&
               mustStay[static_cast<std::size_t>(record)];
    }
};

/// The list without what lies inside `removed`. Cut threads are tied off and begun with small
/// stitches; over the gap the needle jumps after a trim. Every needle point outside stays. `hidden`
/// is the area that cannot be seen (of which `removed` is the inner part): small remains inside it
/// go too. Chains that do not touch the area are the same stitches as before.
TracedList cutOut(const StitchList& list, const Region& removed, const Region& hidden,
                  const CutOptions& options = {});

} // namespace rapt
