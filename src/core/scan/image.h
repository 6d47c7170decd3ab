#pragma once
// Pictures in memory; PNG and JPEG in, PNG out.

#include "base/result.h"

#include <cstdint>
#include <string>
#include <vector>

namespace rapt {

/// Rows from top to bottom, `channels` bytes a pixel: 1 (grey), 3 (red, green, blue),
/// or for writing 4 (with alpha).
struct Image {
    int width = 0;
    int height = 0;
    int channels = 3;
    std::vector<std::uint8_t> pixels;
    std::string takenBy; ///< maker and model of the camera, if the file says

    Image() = default;
    /// A black picture of that size.
    Image(int w, int h, int c)
        : width(w), height(h), channels(c),
          pixels(static_cast<std::size_t>(w) * static_cast<std::size_t>(h) *
                 static_cast<std::size_t>(c)) {}
    /// The first channel of a pixel.
    std::uint8_t* at(int x, int y) {
        return &pixels[(static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                        static_cast<std::size_t>(x)) *
                       static_cast<std::size_t>(channels)];
    }
};

/// Decodes a PNG or JPEG of at most 100 million pixels (checked before memory is taken) to RGB,
/// upright as its metadata say (EXIF). `file` names errors.
Result<Image> decodeImage(const std::string& bytes, const std::string& file);
/// PNG or JPEG. Fails (badInput) with file and reason.
Result<Image> readImageFile(const std::string& path);

/// By luminance; a grey one is returned as it is.
Image toGrey(const Image& image);

/// The bytes of a PNG file.
Result<std::string> encodePng(const Image& image);

} // namespace rapt
