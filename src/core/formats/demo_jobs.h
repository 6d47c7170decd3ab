#pragma once
// The demo jobs: folders under data/demo/ packed into job files.

#include "base/result.h"

#include <string>
#include <vector>

namespace rapt {

/// Packs every folder below `source` that holds a job.json into FOLDER.rapt below `target`, which
/// is made when missing. Gives the file names in order.
Result<std::vector<std::string>> writeDemoJobs(const std::string& source,
                                               const std::string& target);

} // namespace rapt
