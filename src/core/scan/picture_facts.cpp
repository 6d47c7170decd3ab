#include "scan/picture_facts.h"

#include <array>
#include <libexif/exif-data.h>
#include <memory>
#include <opencv2/core.hpp>

namespace rapt {
namespace {

std::string textOf(ExifData* data, ExifTag tag) {
    ExifEntry* entry = exif_content_get_entry(data->ifd[EXIF_IFD_0], tag);
    if (!entry) return {};
    std::array<char, 128> text{};
    exif_entry_get_value(entry, text.data(), text.size());
    std::string value(text.data());
    while (!value.empty() && value.back() == ' ') value.pop_back();
    return value;
}

} // namespace

PictureFacts pictureFacts(const std::string& bytes) {
    PictureFacts facts;
    const std::unique_ptr<ExifData, void (*)(ExifData*)> data(
        exif_data_new_from_data(reinterpret_cast<const unsigned char*>(bytes.data()),
                                static_cast<unsigned>(bytes.size())),
        [](ExifData* d) {
            if (d) exif_data_unref(d);
        });
    if (!data) return facts;
    if (ExifEntry* e = exif_content_get_entry(data->ifd[EXIF_IFD_0], EXIF_TAG_ORIENTATION);
        e && e->size >= 2) {
        const int value = exif_get_short(e->data, exif_data_get_byte_order(data.get()));
        if (value >= 1 && value <= 8) facts.orientation = value;
    }
    const std::string maker = textOf(data.get(), EXIF_TAG_MAKE);
    const std::string model = textOf(data.get(), EXIF_TAG_MODEL);
    facts.takenBy = maker.empty() || model.empty() ? maker + model : maker + " " + model;
    return facts;
}

Image turnedUpright(Image image, int orientation) {
    if (orientation <= 1 || orientation > 8) return image;
    const int type = image.channels == 3 ? CV_8UC3 : CV_8UC1;
    const cv::Mat from(image.height, image.width, type, image.pixels.data());
    const bool onSide = orientation >= 5;
    Image upright(onSide ? image.height : image.width, onSide ? image.width : image.height,
                  image.channels);
    cv::Mat to(upright.height, upright.width, type, upright.pixels.data());
    cv::Mat turned = from;
    if (orientation == 3 || orientation == 4) cv::rotate(from, turned, cv::ROTATE_180);
    if (orientation >= 5 && orientation <= 7) cv::rotate(from, turned, cv::ROTATE_90_CLOCKWISE);
    if (orientation == 8) cv::rotate(from, turned, cv::ROTATE_90_COUNTERCLOCKWISE);
    constexpr int acrossX = 1, acrossY = 0;
    if (orientation == 2 || orientation == 4 || orientation == 5)
        cv::flip(turned, to, acrossX);
    else if (orientation == 7)
        cv::flip(turned, to, acrossY);
    else
        turned.copyTo(to);
    return upright;
}

} // namespace rapt
