#include "picture/thread_canvas.h"

#include "thread/measures.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace rapt {
namespace {

double part(int value, double factor) { return std::clamp(value * factor, 0.0, 255.0) / 255; }

/// Thread shines most where it runs across the light.
double sheen(Vec2 way, double size) {
    return 0.84 + 0.26 * std::abs(way.x * 0.8 - way.y * 0.6) / size;
}

} // namespace

Result<Box> pictureArea(const StitchList& list, const PictureOptions& options) {
    const Box box = extentsOf(list);
    if (box.empty()) return cannotDo("there is no stitch to draw");
    if (!(options.pxPerMm >= 0.1 && options.pxPerMm <= 100))
        return cannotDo("a picture has from 0.1 to 100 pixels a millimetre");
    const Box area = box.grown(options.marginMm);
    const double side = std::max(area.width(), area.height()) * options.pxPerMm;
    if (side > mostPictureSide)
        return cannotDo(fmt::format(
            "the picture would be {:.0f} pixels long, {} at most; take {:.1f} "
            "pixels a millimetre or fewer",
            side, mostPictureSide, std::floor(10 * mostPictureSide * options.pxPerMm / side) / 10));
    return area;
}

ThreadCanvas::ThreadCanvas(const StitchList& l, const Box& a, const PictureOptions& options)
    : list(l), area(a), scale(options.pxPerMm), clear(!options.ground),
      wide(std::max(1, static_cast<int>(std::ceil(a.width() * scale)))),
      high(std::max(1, static_cast<int>(std::ceil(a.height() * scale)))), widths(widthTable(l)),
      surface(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, wide, high)),
      pen(cairo_create(surface.get())) {
    for (const Thread& t : list.threads) colours[t.index] = t.color;
    cairo_set_line_cap(pen.get(), CAIRO_LINE_CAP_ROUND);
    if (options.ground) {
        const Rgb g = *options.ground;
        cairo_set_source_rgb(pen.get(), g.r / 255.0, g.g / 255.0, g.b / 255.0);
        cairo_paint(pen.get());
    }
}

void ThreadCanvas::line(Vec2 a, Vec2 b, Rgb c, double factor, double width) {
    cairo_set_source_rgb(pen.get(), part(c.r, factor), part(c.g, factor), part(c.b, factor));
    cairo_set_line_width(pen.get(), width);
    cairo_move_to(pen.get(), a.x, a.y);
    cairo_line_to(pen.get(), b.x, b.y);
    cairo_stroke(pen.get());
}

void ThreadCanvas::stitch(Vec2 a, Vec2 b, std::uint8_t thread) {
    const double size = distance(a, b), width = static_cast<double>(widths[thread]) * scale;
    if (size == 0) return;
    const Rgb colour = colours[thread];
    const double light = sheen(b - a, size);
    // Thinner than a few pixels there is no room for edges.
    if (width < 2.5) return line(a, b, colour, light, std::max(width, 0.6));
    line(a, b, colour, 0.66 * light, width);
    line(a, b, colour, light, 0.72 * width);
    const Vec2 lift{-0.12 * width, -0.14 * width};
    line(lerp(a, b, 0.12) + lift, lerp(a, b, 0.88) + lift, colour, 1.2 * light, 0.22 * width);
}

Box ThreadCanvas::draw(std::size_t from, std::size_t to) {
    Box changed;
    const auto place = [&](const Stitch& s) {
        return (s.at() - Vec2{area.minX, area.minY}) * scale;
    };
    for (std::size_t i = from; i < to && i < list.stitches.size(); ++i) {
        const Stitch& s = list.stitches[i];
        if (s.op == Op::stitch && sewing && needle) {
            const Vec2 a = place(*needle), b = place(s);
            stitch(a, b, s.thread);
            Box box;
            box.add(a);
            box.add(b);
            changed.add(box.grown(static_cast<double>(widths[s.thread]) * scale + 1));
        }
        sewing = sewing || s.op == Op::stitch;
        if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
    }
    return changed;
}

Image ThreadCanvas::copy(int x, int y, int width, int height) const {
    cairo_surface_flush(surface.get());
    const unsigned char* bytes = cairo_image_surface_get_data(surface.get());
    const int stride = cairo_image_surface_get_stride(surface.get());
    Image image(width, height, clear ? 4 : 3);
    for (int j = 0; j < height; ++j)
        for (int i = 0; i < width; ++i) {
            std::uint32_t pixel = 0;
            std::memcpy(&pixel, bytes + (y + j) * stride + (x + i) * 4, 4);
            const std::uint32_t alpha = pixel >> 24;
            const auto straight = [&](int shift) {
                const std::uint32_t v = pixel >> shift & 255;
                return static_cast<std::uint8_t>(alpha ? std::min(255u, v * 255 / alpha) : 0);
            };
            std::uint8_t* out = image.at(i, j);
            out[0] = straight(16);
            out[1] = straight(8);
            out[2] = straight(0);
            if (clear) out[3] = static_cast<std::uint8_t>(alpha);
        }
    return image;
}

} // namespace rapt
