#include "standins/hoop_picture.h"

#include "scan/tags.h"
#include "thread/measures.h"

#include <cairo.h>
#include <numbers>

namespace rapt {
namespace {

constexpr Rgb tableColor{112, 98, 84};
constexpr Rgb hoopColor{58, 62, 66};
constexpr Rgb stabilizerColor{236, 235, 230};
constexpr Rgb paperColor{252, 252, 250};
constexpr Rgb inkColor{18, 18, 20};
constexpr double cardPaperMm = 20;

/// Draws in field millimetres.
class HoopPainter {
public:
    HoopPainter(const HoopScene& s, double pxPerMm) : scene(s) {
        width = static_cast<int>(std::lround(s.area.width() * pxPerMm));
        height = static_cast<int>(std::lround(s.area.height() * pxPerMm));
        surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
        cr = cairo_create(surface);
        cairo_scale(cr, pxPerMm, pxPerMm);
        cairo_translate(cr, -s.area.minX, -s.area.minY);
    }
    HoopPainter(const HoopPainter&) = delete;
    HoopPainter& operator=(const HoopPainter&) = delete;
    ~HoopPainter() {
        cairo_destroy(cr);
        cairo_surface_destroy(surface);
    }

    Image run() {
        setColor(tableColor);
        cairo_paint(cr);
        drawFrame();
        cairo_save(cr);
        fieldPath();
        cairo_clip(cr);
        drawCloth();
        cairo_restore(cr);
        for (const FrameTag& t : scene.hoop.tags) drawFrameTag(t);
        for (const SeenCard& c : scene.cards) drawCard(c);
        return copyOut();
    }

private:
    void setColor(Rgb c, double alpha = 1) {
        cairo_set_source_rgba(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0, alpha);
    }

    void fillBox(const Box& b) {
        cairo_rectangle(cr, b.minX, b.minY, b.width(), b.height());
        cairo_fill(cr);
    }

    void fieldPath() {
        const Hoop& h = scene.hoop;
        // The opening is a little wider than the field that the needle may use.
        const double w = h.widthMm + 4;
        const double t = h.heightMm + 4;
        if (h.shape == Hoop::Shape::rect) {
            cairo_rectangle(cr, -w / 2, -t / 2, w, t);
            return;
        }
        cairo_save(cr);
        cairo_scale(cr, w / 2, t / 2);
        cairo_arc(cr, 0, 0, 1, 0, 2 * std::numbers::pi);
        cairo_restore(cr);
    }

    void drawFrame() {
        setColor(hoopColor);
        fillBox(Box::centredAt({0, 0}, scene.hoop.outerWidthMm, scene.hoop.outerHeightMm));
        setColor(stabilizerColor);
        fieldPath();
        cairo_fill(cr);
    }

    void drawCloth() {
        const Affine& m = scene.clothToField;
        const cairo_matrix_t matrix{m.a, m.c, m.b, m.d, m.tx, m.ty};
        cairo_transform(cr, &matrix);
        setColor(scene.cloth.color);
        fillBox(scene.cloth.box());
        drawWeave();
        // The datum lines, as drawn with a chalk pencil.
        setColor({60, 90, 130}, 0.55);
        cairo_set_line_width(cr, 0.35);
        const Box b = scene.cloth.box();
        cairo_move_to(cr, b.minX, 0);
        cairo_line_to(cr, b.maxX, 0);
        cairo_move_to(cr, 0, b.minY);
        cairo_line_to(cr, 0, b.maxY);
        cairo_stroke(cr);
        for (const StitchList& list : scene.sewn) drawStitches(list);
    }

    void drawWeave() {
        const Box b = scene.cloth.box();
        cairo_set_line_width(cr, 0.3);
        setColor({0, 0, 0}, 0.05);
        for (double y = b.minY; y < b.maxY; y += 1.2) {
            cairo_move_to(cr, b.minX, y);
            cairo_line_to(cr, b.maxX, y);
        }
        for (double x = b.minX; x < b.maxX; x += 1.2) {
            cairo_move_to(cr, x, b.minY);
            cairo_line_to(cr, x, b.maxY);
        }
        cairo_stroke(cr);
    }

    void drawStitches(const StitchList& list) {
        const auto widths = widthTable(list);
        cairo_set_line_cap(cr, CAIRO_LINE_CAP_ROUND);
        for (const Thread& t : list.threads) {
            setColor(t.color);
            cairo_set_line_width(cr, static_cast<double>(widths[t.index]));
            walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
                const Stitch& s = list.stitches[i];
                if (!from || s.thread != t.index) return;
                cairo_move_to(cr, from->at().x, from->at().y);
                cairo_line_to(cr, s.at().x, s.at().y);
            });
            cairo_stroke(cr);
        }
    }

    /// The tag upright and centred on the present origin.
    void drawTag(int id, double edge) {
        const auto cells = tagCells(id);
        const double cell = edge / 8;
        cairo_set_antialias(cr, CAIRO_ANTIALIAS_BEST);
        setColor(inkColor);
        for (std::size_t y = 0; y < 8; ++y)
            for (std::size_t x = 0; x < 8; ++x)
                if (cells[y][x])
                    cairo_rectangle(cr, -edge / 2 + static_cast<double>(x) * cell,
                                    -edge / 2 + static_cast<double>(y) * cell, cell, cell);
        cairo_fill(cr);
    }

    void drawFrameTag(const FrameTag& t) {
        cairo_save(cr);
        cairo_translate(cr, t.at.x, t.at.y);
        setColor(paperColor);
        fillBox(Box::centredAt({0, 0}, t.sizeMm * 1.28, t.sizeMm * 1.28));
        drawTag(t.id, t.sizeMm);
        cairo_restore(cr);
    }

    void drawCard(const SeenCard& card) {
        cairo_save(cr);
        cairo_translate(cr, card.at.x, card.at.y);
        cairo_rotate(cr, card.rotationDeg * std::numbers::pi / 180);
        setColor(inkColor, 0.8);
        cairo_set_line_width(cr, 0.15);
        for (const Vec2 way : {Vec2{1, 0}, Vec2{-1, 0}, Vec2{0, 1}, Vec2{0, -1}}) {
            cairo_move_to(cr, way.x * cardPaperMm / 2, way.y * cardPaperMm / 2);
            cairo_line_to(cr, way.x * cardHairLineMm, way.y * cardHairLineMm);
        }
        cairo_stroke(cr);
        setColor(paperColor);
        fillBox(Box::centredAt({0, 0}, cardPaperMm, cardPaperMm));
        drawTag(card.id, cardEdgeMm);
        setColor(inkColor);
        cairo_move_to(cr, -1.2, -cardPaperMm / 2 - 0.6);
        cairo_line_to(cr, 1.2, -cardPaperMm / 2 - 0.6);
        cairo_line_to(cr, 0, -cardPaperMm / 2 - 3);
        cairo_fill(cr);
        cairo_restore(cr);
    }

    Image copyOut() {
        cairo_surface_flush(surface);
        const unsigned char* data = cairo_image_surface_get_data(surface);
        const int stride = cairo_image_surface_get_stride(surface);
        Image image(width, height, 3);
        for (int y = 0; y < height; ++y) {
            const auto* row = reinterpret_cast<const std::uint32_t*>(data + y * stride);
            for (int x = 0; x < width; ++x) {
                std::uint8_t* p = image.at(x, y);
                p[0] = static_cast<std::uint8_t>(row[x] >> 16);
                p[1] = static_cast<std::uint8_t>(row[x] >> 8);
                p[2] = static_cast<std::uint8_t>(row[x]);
            }
        }
        return image;
    }

    const HoopScene& scene;
    int width = 0, height = 0;
    cairo_surface_t* surface = nullptr;
    cairo_t* cr = nullptr;
};

} // namespace

Image drawHoop(const HoopScene& scene, double pxPerMm) { return HoopPainter(scene, pxPerMm).run(); }

} // namespace rapt
