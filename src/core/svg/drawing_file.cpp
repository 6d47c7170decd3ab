#include "svg/drawing_file.h"

#include "base/file_io.h"
#include "svg/trace.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr std::size_t mostBytes = 64'000'000;

} // namespace

bool isDrawingName(const std::string& path) {
    std::string name = path;
    std::transform(name.begin(), name.end(), name.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    for (const char* ending : {".svg", ".png", ".jpg", ".jpeg"})
        if (name.ends_with(ending)) return true;
    return false;
}

Result<Drawing> readDrawing(const std::string& bytes, const std::string& name,
                            std::stop_token stop) {
    if (!bytes.starts_with("\x89PNG") && !bytes.starts_with("\xFF\xD8\xFF"))
        return readSvg(bytes, name);
    const auto picture = decodeImage(bytes, name);
    if (!picture) return picture.error();
    auto drawing = traced(*picture, {}, std::move(stop));
    if (!drawing) return drawing.error().inside(name);
    return drawing;
}

Result<Drawing> readDrawingFile(const std::string& path, std::stop_token stop) {
    const auto bytes = readWholeFile(path, mostBytes);
    if (!bytes) return bytes.error();
    return readDrawing(*bytes, path, std::move(stop));
}

} // namespace rapt
