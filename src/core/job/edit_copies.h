#pragma once
// Edits of linked copies and of outlines.

#include "job/edit.h"

namespace rapt {

/// Adds a repeat or replaces the one of the same id; its pieces leave other repeats. An id is given
/// if it has none.
Edit setRepeat(Repeat repeat);
/// The originals stay, their copies go.
Edit removeRepeat(const std::string& repeatId);
/// Every copy becomes a piece of its own where it stands.
Edit unlinkCopies(const std::string& repeatId);
/// One numbered copy differs: replaces an earlier exception of that copy; one that says nothing
/// is taken away.
Edit setException(const std::string& repeatId, const CopyException& exception);
/// Sets or takes away the outline of the pieces.
Edit setOutline(std::vector<std::string> ids, std::optional<Outline> outline);

} // namespace rapt
