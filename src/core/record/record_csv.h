#pragma once
// Records as a CSV file with open columns (docs/formats.md, "Records").

#include "base/result.h"
#include "record/stitch_out.h"

#include <string>
#include <string_view>
#include <vector>

namespace rapt {

/// What the uid of a row that had none begins with.
inline constexpr const char* rowUid = "row-";

/// A header line and a line a record.
std::string formatRecordsCsv(const std::vector<StitchOut>& records);

/// Reads all or nothing; `file` names the place of an error, with line and column. Columns may
/// stand in any order; those that are not there stay empty, those that we do not know are refused.
/// `id` and `revision` are left out. A record without `uid` gets one that follows from its content
/// (and from how often the file holds it), so that reading the file again doubles nothing.
Result<std::vector<StitchOut>> parseRecordsCsv(std::string_view text, const std::string& file);

} // namespace rapt
