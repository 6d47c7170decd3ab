#pragma once
// Repeats, outlines and artwork in job.json (docs/formats.md). Included by .cpp files only.

#include "base/json_fields.h"
#include "job/job.h"

namespace rapt {

/// Each throws a FieldError that names the key.
Repeat repeatFromJson(const Fields& f);
/// The inverse of repeatFromJson.
nlohmann::json repeatToJson(const Repeat& repeat);
/// Throws FieldError for what is out of range.
Outline outlineFromJson(const Fields& f);
/// The inverse of outlineFromJson.
nlohmann::json outlineToJson(const Outline& outline);
/// Throws FieldError for what is out of range.
Artwork artworkFromJson(const Fields& f);
/// The inverse of artworkFromJson.
nlohmann::json artworkToJson(const Artwork& artwork);

} // namespace rapt
