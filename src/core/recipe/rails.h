#pragma once
// Rails of satin columns: beside a line of even width, and out of the outline of a narrow shape.
// Millimetres.

#include "geometry/polygon.h"

#include <optional>

namespace rapt {

/// The two sides of a column; both run the same way.
struct Rails {
    Polyline left, right;
};

/// How a column ends.
enum class ColumnEnd { butt, round, square };

/// Columns of an even width along a line. The line is cut at sharp corners (over 50°); the column
/// that arrives covers the corner, the next butts against it with a small overlap. On tight bends
/// the inner rail goes no farther than the middle of the bend, so that no crossing folds back. A
/// closed line gives columns that meet where it begins.
std::vector<Rails> railsAlong(const Polyline& line, bool closed, double widthMm, ColumnEnd end);

/// The rails of a narrow shape without holes: a long outline with two ends, nowhere wider than
/// `mostWidthMm`, at least three times as long as wide. Nothing if the outline is no such shape:
/// its columns would leave bare ground or lie outside.
std::optional<Rails> railsOfNarrow(const Polyline& outline, double mostWidthMm);

} // namespace rapt
