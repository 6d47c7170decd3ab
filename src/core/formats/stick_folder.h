#pragma once
// A stick, as a folder: what is on it, and writing to it so that it holds the earlier state or the
// new one.

#include "handover/handover.h"

namespace rapt {

/// What a folder holds; a missing one whose parent is there is empty. Files that are no stitch
/// lists count for their places. Fails (badInput) if it cannot be looked at.
Result<Receiver> readStick(const std::string& folder, const Machine& machine);

/// Writes the files, proves them by reading them back, and then removes those in `remove`. Fails
/// (badInput) with file and reason; the folder then holds what it held, or, where even that could
/// not be undone, the error names what stayed.
Status writeStick(const std::string& folder, const Handover& plan,
                  const std::vector<std::string>& remove);

} // namespace rapt
