#pragma once
// Between which sizes a design can be used with its stitches kept.

#include "library/library.h"
#include "thread/stitch_list.h"

#include <stop_token>
#include <string>

namespace rapt {

/// One end of the range and why it is there.
struct RangeEnd {
    double scale = 1;
    std::string reason; ///< such as "below it 3.6 layers are passed"
};

/// The sizes at which a design can be sewn.
struct SafeRange {
    RangeEnd least, most;
    /// No size suits: the design is too dense for the cloth where its rows already gape.
    bool empty() const { return least.scale > most.scale; }
    /// Ends count.
    bool contains(double scale) const {
        return scale >= least.scale - 1e-9 && scale <= most.scale + 1e-9;
    }
};

/// Scales from 0.1 to 10. The least: where layers or hits reach the fabric's limit (they go as 1/k
/// and 1/k²; found by measuring at a few scales, as the window does not shrink) or 2 % of the
/// stitches become short. The most: where rows lie farther apart than 1.25 thread widths or a
/// stitch passes 7 mm (12.1 mm if one does already). Source: docs/measures.md.
SafeRange safeRange(const StitchList& design, const Fabric& fabric, std::stop_token stop = {});

} // namespace rapt
