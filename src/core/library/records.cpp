#include "library/records.h"

#include "base/file_io.h"
#include "base/folder_lock.h"

#include <filesystem>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 8'000'000;

Result<json> readRecords(const std::string& path, const std::string& key) {
    const Result<std::string> text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    if (!root->is_object() || !root->contains(key) || !(*root)[key].is_array())
        return badInput("has no list of " + key, key, path);
    return root;
}

bool hasId(const json& record, const std::string& id) {
    return record.is_object() && record.contains("id") && record["id"] == id;
}

} // namespace

Status saveRecord(const std::string& folder, const std::string& key, const json& record,
                  const std::vector<const char*>& obsolete) {
    const FolderLock lock(folder);
    const std::string path = folder + "/" + key + ".json";
    json root{{key, json::array()}};
    std::error_code ec;
    if (std::filesystem::exists(path, ec)) {
        Result<json> known = readRecords(path, key);
        if (!known) return known.error();
        root = std::move(*known);
    }
    for (json& known : root[key])
        if (hasId(known, record.value("id", ""))) {
            known.update(record);
            for (const char* gone : obsolete) known.erase(gone);
            return writeWholeFile(path, root.dump(1) + "\n");
        }
    root[key].push_back(record);
    return writeWholeFile(path, root.dump(1) + "\n");
}

Status dropRecord(const std::string& folder, const std::string& key, const std::string& id) {
    const std::string path = folder + "/" + key + ".json";
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return done();
    const FolderLock lock(folder);
    Result<json> root = readRecords(path, key);
    if (!root) return root.error();
    json kept = json::array();
    for (json& record : (*root)[key])
        if (!hasId(record, id)) kept.push_back(std::move(record));
    (*root)[key] = std::move(kept);
    return writeWholeFile(path, root->dump(1) + "\n");
}

} // namespace rapt
