#pragma once
// Letters as columns of satin: the outline of a glyph becomes rows across its strokes. Works on
// any outline; nothing is known of the alphabet. Millimetres, glyph frame (baseline y = 0, +y
// down).

#include "recipe/satin_rows.h"

#include <vector>

namespace rapt {

/// One connected part of a glyph: its outline (outer contour and holes) and what covers it.
struct LetterPart {
    Contours outline;
    std::vector<Column> columns; ///< where two overlap, the earlier runs on
};

/// A change to one column that a person asked for.
struct ColumnChange {
    int column = 0;     ///< counted through all parts of the glyph, from 0
    double turnDeg = 0; ///< turns the rows, clockwise as seen, at most ±60
    bool fill = false;  ///< sewn as a fill along the rows
    friend bool operator==(const ColumnChange&, const ColumnChange&) = default;
};

/// How columns are laid.
struct ColumnOptions {
    double capHeightMm = 20;
    double pitchMm = 0.40;
    std::vector<ColumnChange> changes;
    /// Where rows lie aslant, the pitch along the centre line leaves less between them across
    /// themselves: they may lie so much denser there.
    double mostDenser = 1.25;
};

/// The columns of a glyph. The contours may overlap as fonts draw them (non-zero winding); specks
/// under 0.02 mm² are dropped. Every part with an area gets at least one column.
std::vector<LetterPart> columnsOf(const Contours& glyph, const ColumnOptions& options);

/// The strip that a column's rungs cover, as even-odd contours.
Contours regionOf(const Column& column);

} // namespace rapt
