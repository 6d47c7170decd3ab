#pragma once
// The `"shape"` key of a piece (docs/formats.md). Included by .cpp files only.

#include "base/json_fields.h"
#include "recipe/shape.h"

namespace rapt {

/// Throws FieldError.
Shape shapeFromJson(const Fields& fields);

/// The inverse of shapeFromJson.
nlohmann::json shapeToJson(const Shape& shape);

/// A line as a list of [x, y].
Polyline polylineFromJson(const nlohmann::json& value, const std::string& path);
/// A list of [x, y].
nlohmann::json polylineToJson(const Polyline& line);

/// A thread outside a stitch list has no index.
Thread threadFromJson(const Fields& f);
/// The inverse of threadFromJson.
nlohmann::json threadToJson(const Thread& thread);

} // namespace rapt
