#include "standins/thumbnail.h"

#include "thread/measures.h"

#include <cairo.h>

namespace rapt::standins {

Image thumbnail(const StitchList& list, int width, int height) {
    cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    cairo_t* cr = cairo_create(surface);
    cairo_set_source_rgb(cr, 1, 1, 1);
    cairo_paint(cr);
    const Box box = extentsOf(list).grown(1);
    const double scale =
        list.stitches.empty() ? 1 : std::min(width / box.width(), height / box.height());
    cairo_translate(cr, width / 2.0, height / 2.0);
    cairo_scale(cr, scale, scale);
    if (!list.stitches.empty()) cairo_translate(cr, -box.centre().x, -box.centre().y);
    cairo_set_line_width(cr, std::max(0.4, 0.7 / scale));
    int thread = -1;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        if (s.thread != thread) {
            cairo_stroke(cr);
            const Thread* t = list.find(s.thread);
            const Rgb c = t ? t->color : Rgb{};
            cairo_set_source_rgb(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0);
        }
        thread = s.thread;
        const Vec2 at = s.at();
        if (!from || from->op != Op::stitch) cairo_move_to(cr, at.x, at.y);
        cairo_line_to(cr, at.x, at.y);
    });
    cairo_stroke(cr);
    cairo_surface_flush(surface);
    Image picture(width, height, 3);
    const unsigned char* data = cairo_image_surface_get_data(surface);
    const int stride = cairo_image_surface_get_stride(surface);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const unsigned char* p = data + y * stride + 4 * x;
            std::uint8_t* to = picture.at(x, y);
            to[0] = p[2];
            to[1] = p[1];
            to[2] = p[0];
        }
    cairo_destroy(cr);
    cairo_surface_destroy(surface);
    return picture;
}

} // namespace rapt::standins
