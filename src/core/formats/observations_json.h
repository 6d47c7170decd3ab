#pragma once
// Observations as they stand in job files and in what `rapt fit` reads (docs/formats.md). Internal
// to readers and writers of JSON.

#include "base/json_fields.h"
#include "job/observation.h"

namespace rapt {

/// Throws FieldError for what is missing, not finite or makes no sense.
Observation observationFrom(const Fields& fields);
nlohmann::json observationJson(const Observation& observation);

/// Throws FieldError for other than two finite numbers.
Vec2 placeFrom(const nlohmann::json& value, const std::string& path);

} // namespace rapt
