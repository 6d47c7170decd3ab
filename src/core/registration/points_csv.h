#pragma once
// Planned and seen points as a file: columns name,plan_x,plan_y,seen_x,seen_y (docs/formats.md,
// "The command", fit).

#include "registration/fit.h"

namespace rapt {

/// Refuses what is malformed with its line. At most 10,000 points.
Result<std::vector<PointPair>> readPointsFile(const std::string& path);
/// Fails (badInput) with file, line and reason.
Result<std::vector<PointPair>> parsePointsCsv(const std::string& text, const std::string& file);

} // namespace rapt
