#pragma once
// The `"shape"` key of a piece (docs/formats.md). Included by .cpp files only.

#include "formats/json_fields.h"
#include "recipe/shape.h"

namespace rapt {

/// Throws FieldError.
Shape shapeFromJson(const Fields& fields);

nlohmann::json shapeToJson(const Shape& shape);

/// A thread outside a stitch list has no index.
Thread threadFromJson(const Fields& f);
nlohmann::json threadToJson(const Thread& thread);

} // namespace rapt
