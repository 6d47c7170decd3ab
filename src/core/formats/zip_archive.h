#pragma once
// ZIP archives in memory, by libzip.

#include "base/result.h"

#include <map>
#include <memory>
#include <string>

namespace rapt {

using ArchiveMembers = std::map<std::string, std::shared_ptr<const std::string>>;

/// Unpacks an archive. Refused are names that leave the archive (`../`, absolute, backslashes),
/// doubled names, encrypted members, more than 4,096 members, and declared sizes over 64 MB for
/// one or 128 MB for all, which are checked before anything is unpacked. `file` names errors.
Result<ArchiveMembers> unpackArchive(const std::string& bytes, const std::string& file);

/// Packs members in name order; the same members give the same bytes.
Result<std::string> packArchive(const ArchiveMembers& members);

/// True for a relative name without `..`, `.`, empty or backslashed parts.
bool isInsideName(const std::string& name);

} // namespace rapt
