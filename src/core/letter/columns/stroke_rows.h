#pragma once
// Rows across one stroke. Internal to the columns.

#include "letter/columns/centre_line.h"
#include "letter/columns/columns.h"
#include "letter/columns/row_line.h"

namespace rapt {

/// Which rows are wanted.
struct RowRequest {
    const Stroke* stroke = nullptr;
    const RowCutter* part = nullptr;    ///< the outline
    const RowCutter* covered = nullptr; ///< earlier columns; may be empty
    const RowCutter* barred = nullptr;  ///< the same less the overlap: no row goes in there
    double pitchMm = 0.40;
    double turnDeg = 0;
};

/// The columns along a stroke: mostly one; several where earlier columns cross it.
std::vector<Column> rowsAcross(const RowRequest& request);

/// Shortens rungs so that none crosses an earlier one of its column.
void keepFromCrossing(std::vector<Rung>& rungs);

} // namespace rapt
