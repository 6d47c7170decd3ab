#include "library/camera.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "library/records.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 1'000'000;

Camera cameraFrom(const Fields& f) {
    Camera c;
    c.id = f.text("id", "");
    c.width = f.integer("width_px", 0, 0, 100'000);
    c.height = f.integer("height_px", 0, 0, 100'000);
    c.fx = f.number("fx", 1, 1e6);
    c.fy = f.number("fy", 1, 1e6);
    c.cx = f.number("cx", -1e6, 1e6);
    c.cy = f.number("cy", -1e6, 1e6);
    c.rmsPx = f.number("rms_px", 0, 0, 1e6);
    for (const auto& k : f.array("distortion"))
        c.distortion.push_back(numberOf(k, f.path("distortion"), -1e4, 1e4));
    const std::size_t n = c.distortion.size();
    if (n != 0 && n != 4 && n != 5 && n != 8)
        throw FieldError{f.path("distortion"), "must have 0, 4, 5 or 8 values"};
    return c;
}

json cameraJson(const Camera& c) {
    json j{{"fx", c.fx}, {"fy", c.fy}, {"cx", c.cx}, {"cy", c.cy}, {"distortion", c.distortion}};
    j["rms_px"] = c.rmsPx;
    if (!c.id.empty()) j["id"] = c.id;
    if (c.width > 0) j["width_px"] = c.width;
    if (c.height > 0) j["height_px"] = c.height;
    return j;
}

Result<json> readJson(const std::string& path) {
    const Result<std::string> text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    return parseJson(*text, path);
}

} // namespace

Result<Camera> readCameraFile(const std::string& path) {
    const Result<json> root = readJson(path);
    if (!root) return root.error();
    try {
        return cameraFrom(Fields(*root, ""));
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
}

std::string cameraText(const Camera& camera) { return cameraJson(camera).dump(1) + "\n"; }

Status saveUserCamera(const Camera& camera, const std::string& userFolder) {
    return saveRecord(userFolder, "cameras", cameraJson(camera));
}

Result<std::vector<Camera>> readUserCameras(const std::string& userFolder) {
    const std::string path = userFolder + "/cameras.json";
    std::vector<Camera> cameras;
    std::error_code ec;
    if (!std::filesystem::exists(path, ec)) return cameras;
    const Result<json> root = readJson(path);
    if (!root) return root.error();
    try {
        const json& list = Fields(*root, "").array("cameras");
        for (std::size_t i = 0; i < list.size(); ++i)
            cameras.push_back(cameraFrom(Fields(list[i], fmt::format("cameras[{}]", i))));
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return cameras;
}

const Camera* cameraFor(const std::vector<Camera>& cameras, const std::string& id, int width,
                        int height) {
    const auto [shorter, longer] = std::minmax(width, height);
    for (const Camera& c : cameras) {
        const auto [s, l] = std::minmax(c.width, c.height);
        if (c.id == id && s == shorter && l == longer) return &c;
    }
    return nullptr;
}

} // namespace rapt
