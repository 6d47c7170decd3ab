#include "formats/needles_file.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "library/records.h"

#include <filesystem>
#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 4'000'000;

std::optional<Cone> readCone(const json& value, const std::string& path) {
    if (value.is_null()) return std::nullopt;
    const Fields f(value, path);
    Cone cone;
    cone.thread.name = f.text("name");
    cone.thread.weight = f.number("weight", 40, 1, 1000);
    if (!parseRgb(f.text("color"), cone.thread.color))
        throw FieldError{f.path("color"), "must be a colour such as #1f4e79"};
    if (f.has("left_m")) cone.leftM = f.number("left_m", -1e6, 1e6);
    cone.fixed = f.flag("fixed", false);
    return cone;
}

} // namespace

Result<ThreadedMachines> readNeedles(const std::string& userFolder) {
    const std::string path = userFolder + "/needles.json";
    ThreadedMachines machines;
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return machines;
    const Result<std::string> text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    const Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        const json& list = Fields(*root, "").array("needles");
        for (std::size_t i = 0; i < list.size(); ++i) {
            const Fields f(list[i], fmt::format("needles[{}]", i));
            Needles& needles = machines[f.text("id")];
            const json& cones = f.array("cones");
            for (std::size_t k = 0; k < cones.size() && k < 64; ++k)
                needles.push_back(readCone(cones[k], fmt::format("{}[{}]", f.path("cones"), k)));
        }
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return machines;
}

Status saveNeedles(const std::string& machine, const Needles& needles,
                   const std::string& userFolder) {
    json cones = json::array();
    for (const auto& cone : needles) {
        if (!cone) {
            cones.push_back(nullptr);
            continue;
        }
        json one{{"name", cone->thread.name},
                 {"color", formatRgb(cone->thread.color)},
                 {"weight", cone->thread.weight}};
        if (cone->leftM) one["left_m"] = *cone->leftM;
        if (cone->fixed) one["fixed"] = true;
        cones.push_back(std::move(one));
    }
    return saveRecord(userFolder, "needles", {{"id", machine}, {"cones", cones}});
}

} // namespace rapt
