#pragma once
// Pictures in memory; PNG and JPEG in, PNG out.

#include "base/result.h"

#include <cstdint>
#include <string>
#include <vector>

namespace rapt {

/// Rows from top to bottom, `channels` bytes a pixel: 1 (grey) or 3 (red, green, blue).
struct Image {
    int width = 0;
    int height = 0;
    int channels = 3;
    std::vector<std::uint8_t> pixels;

    Image() = default;
    Image(int w, int h, int c)
        : width(w), height(h), channels(c),
          pixels(static_cast<std::size_t>(w) * static_cast<std::size_t>(h) *
                 static_cast<std::size_t>(c)) {}
    std::uint8_t* at(int x, int y) {
        return &pixels[(static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                        static_cast<std::size_t>(x)) *
                       static_cast<std::size_t>(channels)];
    }
};

/// Decodes a PNG or JPEG of at most 64 million pixels (checked before memory is taken) to RGB.
/// `file` names errors.
Result<Image> decodeImage(const std::string& bytes, const std::string& file);
Result<Image> readImageFile(const std::string& path);

Image toGrey(const Image& image);

Result<std::string> encodePng(const Image& image);

} // namespace rapt
