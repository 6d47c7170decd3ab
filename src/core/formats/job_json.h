#pragma once
// job.json to a Job and back (docs/formats.md, docs/formats.md). Included by .cpp files only.

#include "formats/zip_archive.h"
#include "job/job.h"

#include <nlohmann/json_fwd.hpp>

namespace rapt {

/// Reads job.json; stitch lists and other members come from `members`. Throws FieldError.
Job jobFromJson(const nlohmann::json& root, const ArchiveMembers& members);

/// The inverse of jobFromJson.
nlohmann::json jobToJson(const Job& job);

} // namespace rapt
