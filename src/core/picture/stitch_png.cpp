// A PNG at true scale, and a film of several in one file.

#include "picture/thread_canvas.h"

#include <algorithm>
#include <boost/crc.hpp>
#include <cmath>

namespace rapt {
namespace {

std::string number(std::uint32_t value, int bytes = 4) {
    std::string text;
    for (int shift = 8 * (bytes - 1); shift >= 0; shift -= 8)
        text += static_cast<char>(value >> shift & 255);
    return text;
}

std::uint32_t numberAt(const std::string& bytes, std::size_t at) {
    std::uint32_t value = 0;
    for (std::size_t i = 0; i < 4; ++i)
        value = value << 8 | static_cast<unsigned char>(bytes[at + i]);
    return value;
}

/// Of a PNG (ISO/IEC 15948): length, name, data, CRC of the last two.
std::string chunk(const std::string& name, const std::string& data) {
    boost::crc_32_type crc;
    crc.process_bytes(name.data(), name.size());
    crc.process_bytes(data.data(), data.size());
    return number(static_cast<std::uint32_t>(data.size())) + name + data + number(crc.checksum());
}

std::string resolution(double pxPerMm) {
    const auto perMetre = static_cast<std::uint32_t>(std::lround(pxPerMm * 1000));
    return chunk("pHYs", number(perMetre) + number(perMetre) + '\1');
}

constexpr std::size_t headSize = 8 + 25; // signature and IHDR

/// All data of a PNG's IDAT chunks.
std::string dataOf(const std::string& png) {
    std::string data;
    for (std::size_t at = 8; at + 12 <= png.size();) {
        const std::size_t size = numberAt(png, at);
        if (png.compare(at + 4, 4, "IDAT") == 0) data += png.substr(at + 8, size);
        at += 12 + size;
    }
    return data;
}

/// One film, frame by frame.
class Film {
public:
    explicit Film(double framesPerSecond) : rate(framesPerSecond) {}

    /// A part of the picture that takes the place of what is there.
    Status add(const Image& image, int x, int y, double stands = 1) {
        const auto png = encodePng(image);
        if (!png) return png.error();
        const bool first = count == 0;
        if (first) head = png->substr(0, headSize);
        const auto delay = static_cast<std::uint32_t>(std::lround(1000 * stands / rate));
        // No disposal; what is drawn takes the place of what was there.
        body += chunk("fcTL", number(order++) + number(static_cast<std::uint32_t>(image.width)) +
                                  number(static_cast<std::uint32_t>(image.height)) +
                                  number(static_cast<std::uint32_t>(x)) +
                                  number(static_cast<std::uint32_t>(y)) +
                                  number(std::min(delay, 60'000u), 2) + number(1000, 2) +
                                  std::string(2, '\0'));
        body += chunk("fdAT", number(order++) + dataOf(*png));
        ++count;
        return done();
    }
    /// With the picture that readers of plain PNG show.
    Result<std::string> file(const Image& still, double pxPerMm) const {
        const auto png = encodePng(still);
        if (!png) return png.error();
        return head + chunk("acTL", number(count) + number(1)) + resolution(pxPerMm) +
               chunk("IDAT", dataOf(*png)) + body + chunk("IEND", {});
    }

private:
    double rate;
    std::string head, body;
    std::uint32_t order = 0, count = 0;
};

} // namespace

Result<std::string> threadPng(const StitchList& list, const PictureOptions& options,
                              std::stop_token stop) {
    const auto area = pictureArea(list, options);
    if (!area) return area.error();
    ThreadCanvas canvas(list, *area, options);
    constexpr std::size_t atOnce = 4096;
    for (std::size_t i = 0; i < list.stitches.size(); i += atOnce) {
        if (stop.stop_requested()) return cancelled();
        canvas.draw(i, i + atOnce);
    }
    auto png = encodePng(canvas.copy(0, 0, canvas.width(), canvas.height()));
    if (png) png->insert(headSize, resolution(options.pxPerMm));
    return png;
}

Result<std::string> stitchFilm(const StitchList& list, const FilmOptions& options,
                               std::stop_token stop) {
    if (options.frames < 2 || options.frames > 600)
        return cannotDo("a film has from 2 to 600 frames");
    if (!(options.seconds >= 0.1 && options.seconds <= 600))
        return cannotDo("a film lasts from 0.1 to 600 seconds");
    PictureOptions picture = options.picture;
    if (!picture.ground) picture.ground = Rgb{255, 255, 255};
    const auto area = pictureArea(list, picture);
    if (!area) return area.error();
    ThreadCanvas canvas(list, *area, picture);
    const double rate = options.frames / options.seconds;
    Film film(rate);
    if (Status s = film.add(canvas.copy(0, 0, canvas.width(), canvas.height()), 0, 0); !s)
        return s.error();
    const std::size_t all = list.stitches.size();
    const auto frames = static_cast<std::size_t>(options.frames);
    for (std::size_t k = 1; k < frames; ++k) {
        if (stop.stop_requested()) return cancelled();
        const Box changed = canvas.draw(all * (k - 1) / (frames - 1), all * k / (frames - 1));
        // Every frame has a pixel at least.
        const int x =
            changed.empty() ? 0 : std::clamp(static_cast<int>(changed.minX), 0, canvas.width() - 1);
        const int y = changed.empty()
                          ? 0
                          : std::clamp(static_cast<int>(changed.minY), 0, canvas.height() - 1);
        const int right =
            changed.empty() ? 1
                            : std::clamp(static_cast<int>(changed.maxX) + 1, x + 1, canvas.width());
        const int low = changed.empty() ? 1
                                        : std::clamp(static_cast<int>(changed.maxY) + 1, y + 1,
                                                     canvas.height());
        const double stands = k + 1 == frames ? 2 * rate : 1;
        if (Status s = film.add(canvas.copy(x, y, right - x, low - y), x, y, stands); !s)
            return s.error();
    }
    return film.file(canvas.copy(0, 0, canvas.width(), canvas.height()), picture.pxPerMm);
}

} // namespace rapt
