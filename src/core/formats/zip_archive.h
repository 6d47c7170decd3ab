#pragma once
// ZIP archives in memory, by libzip.

#include "base/result.h"

#include <map>
#include <memory>
#include <string>

namespace rapt {

using ArchiveMembers = std::map<std::string, std::shared_ptr<const std::string>>;

/// Unpacks an archive. Refused are names that leave the archive (`../`, absolute, backslashes),
/// doubled names, encrypted members, and more or larger members than formats/limits.h allows, which
/// is checked before anything is unpacked. `file` names errors.
Result<ArchiveMembers> unpackArchive(const std::string& bytes, const std::string& file);

/// Packs members in name order; the same members give the same bytes. Fails (cannotDo) for what
/// unpackArchive would refuse.
Result<std::string> packArchive(const ArchiveMembers& members);

/// True for a relative name without `..`, `.`, empty or backslashed parts.
bool isInsideName(const std::string& name);

} // namespace rapt
