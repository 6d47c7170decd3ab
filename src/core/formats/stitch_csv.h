#pragma once
// Stitch lists as files: *.stitch.csv (docs/formats.md).

#include "base/result.h"
#include "thread/stitch_list.h"

#include <string>
#include <string_view>

namespace rapt {

/// Reads the text of a stitch list. Everything malformed is refused with "line N" as its place;
/// nothing is guessed. `file` is only used to name the place of an error.
Result<StitchList> parseStitchCsv(std::string_view text, const std::string& file);

/// Reads a stitch list from disk (at most 256 MB).
Result<StitchList> readStitchFile(const std::string& path);

/// The text of a list: 0.0001 mm or finer, and a jump after every trim and thread change. Such a
/// jump that was missing is added where the needle stands, so that no measure changes.
std::string formatStitchCsv(const StitchList& list);

} // namespace rapt
