#pragma once
// A file that somebody drew, whatever it is: an SVG drawing, or a picture to be traced.

#include "svg/drawing.h"

#include <stop_token>

namespace rapt {

/// True for names that end as drawings and pictures do: .svg, .png, .jpg, .jpeg.
bool isDrawingName(const std::string& path);

/// Reads an SVG, or traces a PNG or JPEG (told by what is in the bytes) as 80 mm wide. Fails as
/// readSvg, decodeImage and traced do, with the name of the source.
Result<Drawing> readDrawing(const std::string& bytes, const std::string& name,
                            std::stop_token stop = {});
/// The same of a file.
Result<Drawing> readDrawingFile(const std::string& path, std::stop_token stop = {});

} // namespace rapt
