#pragma once
// What the rows of the strokes leave bare gets the neighbours' rows lengthened into it. Internal to
// the columns.

#include "letter/columns/columns.h"

namespace rapt {

/// Lengthens rows, adds rows at the ends of columns, and at last adds columns of their own, until
/// no bare place wider than a thread is left in the outline.
void coverLeftovers(const Contours& outline, std::vector<Column>& columns, double pitchMm);

/// Parallel rows over a part or a left-over bit, upright as seen.
Column uprightRows(const Contours& outline, double pitchMm);

} // namespace rapt
