#pragma once
// Repeats, outlines and artwork in job.json (docs/formats.md). Included by .cpp files only.

#include "base/json_fields.h"
#include "job/job.h"

namespace rapt {

/// Each throws a FieldError that names the key.
Repeat repeatFromJson(const Fields& f);
nlohmann::json repeatToJson(const Repeat& repeat);
Outline outlineFromJson(const Fields& f);
nlohmann::json outlineToJson(const Outline& outline);
Artwork artworkFromJson(const Fields& f);
nlohmann::json artworkToJson(const Artwork& artwork);

} // namespace rapt
