#pragma once
// Records in a person's own library files. Internal to the library.

#include "base/json_fields.h"
#include "base/result.h"
#include "library/machine.h"

namespace rapt {

/// Adds a record to `FOLDER/KEY.json` or replaces the one of the same id there; its keys that we do
/// not know stay, those in `obsolete` go. The file appears whole or not at all.
Status saveRecord(const std::string& folder, const std::string& key, const nlohmann::json& record,
                  const std::vector<const char*>& obsolete = {});

/// Takes the record of that id out of `FOLDER/KEY.json`; nothing happens if it is not there.
Status dropRecord(const std::string& folder, const std::string& key, const std::string& id);

/// A record of machines.json. Throws FieldError.
Machine readMachine(const Fields& fields);

} // namespace rapt
