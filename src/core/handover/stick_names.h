#pragma once
// Names that a machine shows: the hooping's number in front, then what is left of the job's name.

#include "library/machine.h"

#include <string>
#include <vector>

namespace rapt {

/// The ending of every file that is handed over.
inline constexpr const char* stickEnding = ".stitch.csv";

/// One name (without ending) for each of `count` hoopings, in the machine's letters and no longer
/// than it shows. Long names keep the beginning of every word. None of them, whatever its case, is
/// in `taken` (file names with their ending).
std::vector<std::string> stickNames(const std::string& job, std::size_t count,
                                    const StickRules& rules, const std::vector<std::string>& taken);

} // namespace rapt
