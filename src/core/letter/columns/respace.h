#pragma once
// Rows at an even pitch on the centre line. Internal to the columns.

#include "letter/columns/columns.h"

namespace rapt {

/// The same strip with its rungs half a pitch apart along the line of their middles. Where the
/// middles drift to a side faster than the column goes on, rows lie at most `mostDenser` times
/// denser across themselves.
void respace(Column& column, double pitchMm, double mostDenser);

} // namespace rapt
