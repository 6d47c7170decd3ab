#pragma once
// From columns to needle points: one connected part of a letter is sewn without a cut. Columns are
// a tree of touching neighbours; the thread goes out along their middles, as underlay and hidden
// travel, and comes back in satin. Millimetres.

#include "letter/columns/columns.h"

#include <optional>

namespace rapt {

/// How columns are sewn.
struct SewOptions {
    double pullMm = 0;    ///< added to the width of every column, half on each side
    bool underlay = true; ///< edge runs and zigzag by width; the centre run is always there
    /// In bends the centre run leans to the outside, where satin lies thinner: for light cloth.
    bool leaningRun = false;
};

/// The needle points of one part, begun as near to `entry` as its columns allow, or where it ends
/// if there is none, and ended at the column end nearest to `exit`. Empty for a part without
/// columns. No stitch over 12.1 mm; satin over 7 mm is split. Row ends farther apart than 0.50 mm
/// outside a bend get short rows between them; inside, row ends within 0.25 mm of the last full one
/// stop short.
Polyline sewPart(const LetterPart& part, std::optional<Vec2> entry, Vec2 exit,
                 const SewOptions& options);

} // namespace rapt
