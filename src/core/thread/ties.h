#pragma once
// Small stitches that hold the ends of a thread. Millimetres.

#include "geometry/polygon.h"
#include "thread/origin.h"

#include <array>

namespace rapt {

/// Stitches of a tie are so long.
inline constexpr double tieStitchMm = 0.6;

/// What is sewn before the first of these needle points to hold it: itself, and a point along the
/// thread that follows (beside it, if there is no other).
std::array<Vec2, 2> tieBefore(const Polyline& points);
/// What is sewn after the last of these needle points to hold it.
std::array<Vec2, 2> tieAfter(const Polyline& points);

/// The list with a tie at every end of a thread that has none yet. Ends that a jump leads from and
/// to without a trim are no ends.
TracedList tieEnds(const StitchList& list);

/// The same for a list made of another, at the ends that the other does not have; those that it has
/// are as their maker left them.
TracedList tieMadeEnds(const StitchList& input, const TracedList& made);

/// A record at an end of a thread that is none in the input and is not tied there: fewer than two
/// further penetrations lie within 1.5 mm of it (docs/measures.md, Conservation). Nothing if all
/// ends that were made hold.
std::optional<std::size_t> untiedEnd(const StitchList& input, const TracedList& made);

} // namespace rapt
