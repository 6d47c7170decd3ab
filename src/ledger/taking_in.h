#pragma once
// Records out of a CSV into a ledger, so that nothing is doubled.

#include "ledger/ledger.h"

namespace rapt {

/// Keeps those that are not there yet, all or none; gives how many. A record is there if its uid
/// is, or, where the file gave it none (record/record_csv.h), if everything else about it is.
Result<std::size_t> takeIn(Ledger& ledger, const std::vector<StitchOut>& records);

} // namespace rapt
