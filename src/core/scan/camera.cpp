#include "scan/camera.h"

#include "base/file_io.h"
#include "base/json_fields.h"

namespace rapt {

Result<Camera> readCameraFile(const std::string& path) {
    const Result<std::string> text = readWholeFile(path, 1'000'000);
    if (!text) return text.error();
    const Result<nlohmann::json> root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        const Fields f(*root, "");
        Camera c;
        c.fx = f.number("fx", 1, 1e6);
        c.fy = f.number("fy", 1, 1e6);
        c.cx = f.number("cx", -1e6, 1e6);
        c.cy = f.number("cy", -1e6, 1e6);
        for (const auto& k : f.array("distortion"))
            c.distortion.push_back(numberOf(k, "distortion", -1e4, 1e4));
        const std::size_t n = c.distortion.size();
        if (n != 0 && n != 4 && n != 5 && n != 8)
            throw FieldError{"distortion", "must have 0, 4, 5 or 8 values"};
        return c;
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
}

} // namespace rapt
