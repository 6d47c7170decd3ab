#include "library/records.h"

#include "base/file_io.h"

#include <filesystem>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 8'000'000;

} // namespace

Status saveRecord(const std::string& folder, const std::string& key, const json& record,
                  const std::vector<const char*>& obsolete) {
    const std::string path = folder + "/" + key + ".json";
    json root{{key, json::array()}};
    std::error_code ec;
    if (std::filesystem::exists(path, ec)) {
        const Result<std::string> text = readWholeFile(path, maxBytes);
        if (!text) return text.error();
        const Result<json> known = parseJson(*text, path);
        if (!known) return known.error();
        root = *known;
        if (!root.is_object() || !root.contains(key) || !root[key].is_array())
            return badInput("has no list of " + key, key, path);
    }
    std::filesystem::create_directories(folder, ec);
    for (json& known : root[key])
        if (known.is_object() && known.value("id", "") == record.value("id", "")) {
            known.update(record);
            for (const char* gone : obsolete) known.erase(gone);
            return writeWholeFile(path, root.dump(1) + "\n");
        }
    root[key].push_back(record);
    return writeWholeFile(path, root.dump(1) + "\n");
}

} // namespace rapt
