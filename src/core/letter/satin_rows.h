#pragma once
// The stitches of one column: satin to and fro over its rungs, and its underlay. Internal to
// sewing.

#include "letter/sewing.h"

namespace rapt {

/// Satin (or a fill along the rungs, or runs where the column is thin) from one rung to another,
/// appended to `out`.
void appendCover(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                 const SewOptions& options);

/// A run along the middle of the column from one rung to another, in bends `leaning` to the outside
/// if asked; begins beside the last point.
void appendCentreRun(Polyline& out, const Column& column, std::size_t from, std::size_t to,
                     bool leaning);

/// Edge runs or zigzag by width between two rungs: out of `from`, to `to` and back to `from`.
void appendUnderlay(Polyline& out, const Column& column, std::size_t from, std::size_t to);

} // namespace rapt
