#pragma once
// Lettering as it stands in job.json (docs/formats.md). Included by .cpp files only.

#include "base/json_fields.h"
#include "letter/lettering.h"

namespace rapt {

/// Throws FieldError. What can be read but not sewn (no text, an unknown face, an absurd size) is
/// kept: it becomes a finding of the piece, and nothing is lost.
Lettering letteringFromJson(const Fields& f);
/// The inverse of letteringFromJson.
nlohmann::json letteringToJson(const Lettering& lettering);

} // namespace rapt
