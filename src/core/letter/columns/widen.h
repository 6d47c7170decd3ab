#pragma once
// Thin strokes made wide enough for satin. Internal to the columns.

#include "letter/columns/columns.h"
#include "letter/columns/row_line.h"

namespace rapt {

/// Strokes under 0.8 mm are widened towards it, by at most 0.4 mm in all and less beside a counter;
/// what stays under 0.4 mm in the mean is marked thin. `outline` tells where the letter is,
/// `bounds` how far its part reaches: nothing is widened beyond that, so that heights stay true.
void widenThinStrokes(std::vector<Column>& columns, const RowCutter& outline, const Box& bounds);

} // namespace rapt
