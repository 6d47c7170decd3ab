#pragma once
// The OBSERVATIONS.json that `rapt fit` reads (docs/formats.md).

#include "base/result.h"
#include "job/observation.h"

namespace rapt {

/// Fails (badInput) with file, key and reason.
Result<std::vector<Observation>> readObservationsFile(const std::string& path);

} // namespace rapt
