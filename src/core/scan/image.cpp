#include "scan/image.h"

#include "base/file_io.h"
#include "scan/picture_facts.h"

#include <csetjmp>
#include <cstdio>
#include <fmt/format.h>
#include <jpeglib.h>
#include <png.h>

namespace rapt {
namespace {

constexpr std::size_t maxFileBytes = 256'000'000;
constexpr std::uint64_t maxPixels = 100'000'000;

Error refuseSize(std::uint64_t w, std::uint64_t h, const std::string& file) {
    return badInput(fmt::format("is {} × {} pixels, the most is 100 million", w, h), {}, file);
}

Result<Image> decodePng(const std::string& bytes, const std::string& file) {
    png_image png{};
    png.version = PNG_IMAGE_VERSION;
    if (!png_image_begin_read_from_memory(&png, bytes.data(), bytes.size()))
        return badInput(fmt::format("is not a whole PNG picture: {}", png.message), {}, file);
    if (std::uint64_t{png.width} * png.height > maxPixels) {
        png_image_free(&png);
        return refuseSize(png.width, png.height, file);
    }
    png.format = PNG_FORMAT_RGB;
    Image image(static_cast<int>(png.width), static_cast<int>(png.height), 3);
    const png_color white{255, 255, 255};
    if (!png_image_finish_read(&png, &white, image.pixels.data(), 0, nullptr))
        return badInput(fmt::format("is not a whole PNG picture: {}", png.message), {}, file);
    return image;
}

/// libjpeg reports errors by calling back; we come back by a jump.
struct JpegErrors {
    jpeg_error_mgr base;
    std::jmp_buf back;
    char text[JMSG_LENGTH_MAX];
};

void leaveJpeg(j_common_ptr info) {
    auto* errors = reinterpret_cast<JpegErrors*>(info->err);
    info->err->format_message(info, errors->text);
    std::longjmp(errors->back, 1);
}

/// Fills `image`; no object with a destructor is made inside, since errors jump out of here.
bool readJpeg(jpeg_decompress_struct& jpeg, JpegErrors& errors, const std::string& bytes,
              Image& image, bool& tooLarge) {
    if (setjmp(errors.back)) return false;
    jpeg_create_decompress(&jpeg);
    jpeg_mem_src(&jpeg, reinterpret_cast<const unsigned char*>(bytes.data()),
                 static_cast<unsigned long>(bytes.size()));
    jpeg_read_header(&jpeg, TRUE);
    tooLarge = std::uint64_t{jpeg.image_width} * jpeg.image_height > maxPixels;
    if (tooLarge) return false;
    jpeg.out_color_space = JCS_RGB;
    jpeg_start_decompress(&jpeg);
    image = Image(static_cast<int>(jpeg.output_width), static_cast<int>(jpeg.output_height), 3);
    while (jpeg.output_scanline < jpeg.output_height) {
        JSAMPROW row = image.at(0, static_cast<int>(jpeg.output_scanline));
        jpeg_read_scanlines(&jpeg, &row, 1);
    }
    // Warnings mean that data was missing and made up.
    return jpeg_finish_decompress(&jpeg) && errors.base.num_warnings == 0;
}

Result<Image> decodeJpeg(const std::string& bytes, const std::string& file) {
    jpeg_decompress_struct jpeg{};
    JpegErrors errors{};
    jpeg.err = jpeg_std_error(&errors.base);
    errors.base.error_exit = leaveJpeg;
    errors.base.output_message = [](j_common_ptr) {};
    Image image;
    bool tooLarge = false;
    const bool good = readJpeg(jpeg, errors, bytes, image, tooLarge);
    const Error sizeError = refuseSize(jpeg.image_width, jpeg.image_height, file);
    jpeg_destroy_decompress(&jpeg);
    if (tooLarge) return sizeError;
    if (!good)
        return badInput(fmt::format("is not a whole JPEG picture {}", errors.text), {}, file);
    const PictureFacts facts = pictureFacts(bytes);
    image = turnedUpright(std::move(image), facts.orientation);
    image.takenBy = facts.takenBy;
    return image;
}

} // namespace

Result<Image> decodeImage(const std::string& bytes, const std::string& file) {
    if (bytes.starts_with("\x89PNG")) return decodePng(bytes, file);
    if (bytes.starts_with("\xFF\xD8\xFF")) return decodeJpeg(bytes, file);
    return badInput("is neither a PNG nor a JPEG picture", {}, file);
}

Result<Image> readImageFile(const std::string& path) {
    const Result<std::string> bytes = readWholeFile(path, maxFileBytes);
    if (!bytes) return bytes.error();
    return decodeImage(*bytes, path);
}

Image toGrey(const Image& image) {
    if (image.channels == 1) return image;
    Image grey(image.width, image.height, 1);
    for (std::size_t i = 0; i < grey.pixels.size(); ++i) {
        const std::uint8_t* p = &image.pixels[3 * i];
        grey.pixels[i] = static_cast<std::uint8_t>((p[0] * 299 + p[1] * 587 + p[2] * 114) / 1000);
    }
    return grey;
}

Result<std::string> encodePng(const Image& image) {
    png_image png{};
    png.version = PNG_IMAGE_VERSION;
    png.width = static_cast<png_uint_32>(image.width);
    png.height = static_cast<png_uint_32>(image.height);
    png.format = image.channels == 1   ? PNG_FORMAT_GRAY
                 : image.channels == 4 ? PNG_FORMAT_RGBA
                                       : PNG_FORMAT_RGB;
    png.flags = PNG_IMAGE_FLAG_FAST;
    png_alloc_size_t size = PNG_IMAGE_PNG_SIZE_MAX(png);
    std::string bytes(size, '\0');
    if (!png_image_write_to_memory(&png, bytes.data(), &size, 0, image.pixels.data(), 0, nullptr))
        return badInput(fmt::format("the picture cannot be encoded: {}", png.message));
    bytes.resize(size);
    return bytes;
}

} // namespace rapt
