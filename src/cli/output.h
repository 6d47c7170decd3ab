#pragma once
// Core values as JSON and as lines for people.

#include "cli/json.h"
#include "job/finding.h"
#include "thread/measures.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt::cli {

nlohmann::ordered_json pointJson(Vec2 p);
nlohmann::ordered_json pointJson(const std::optional<Vec2>& p);
/// The number, or null.
nlohmann::ordered_json orNull(const std::optional<double>& value);
nlohmann::ordered_json boxJson(const Box& box);
nlohmann::ordered_json findingsJson(const std::vector<Finding>& findings);

/// The keys of `info`, added to an answer.
void addMeasures(nlohmann::ordered_json& json, const Measures& m);
std::string measuresText(const std::string& title, const Measures& m);

std::string findingsText(const std::vector<Finding>& findings);

} // namespace rapt::cli
