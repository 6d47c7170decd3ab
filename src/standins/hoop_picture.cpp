#include "standins/hoop_picture.h"

#include "scan/tags.h"
#include "thread/measures.h"

#include <cairo.h>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace rapt {
namespace {

constexpr Rgb tableColor{112, 98, 84};
constexpr Rgb hoopColor{58, 62, 66};
constexpr Rgb stabilizerColor{236, 235, 230};
constexpr Rgb paperColor{252, 252, 250};
constexpr Rgb inkColor{18, 18, 20};
constexpr double cardPaperMm = 20;

/// A cairo drawing in frame millimetres.
struct Sheet {
    cairo_surface_t* surface;
    cairo_t* cr;
    Sheet(int width, int height, const Box& area, double pxPerMm)
        : surface(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height)),
          cr(cairo_create(surface)) {
        cairo_scale(cr, pxPerMm, pxPerMm);
        cairo_translate(cr, -area.minX, -area.minY);
    }
    Sheet(const Sheet&) = delete;
    Sheet& operator=(const Sheet&) = delete;
    ~Sheet() {
        cairo_destroy(cr);
        cairo_surface_destroy(surface);
    }
    cv::Mat pixels() const {
        cairo_surface_flush(surface);
        return cv::Mat(cairo_image_surface_get_height(surface),
                       cairo_image_surface_get_width(surface), CV_8UC4,
                       cairo_image_surface_get_data(surface),
                       static_cast<std::size_t>(cairo_image_surface_get_stride(surface)));
    }
};

/// Draws layer by layer, from the table up.
class HoopPainter {
public:
    HoopPainter(const HoopScene& s, double px)
        : scene(s), pxPerMm(px), width(static_cast<int>(std::lround(s.area.width() * px))),
          height(static_cast<int>(std::lround(s.area.height() * px))),
          whole(width, height, s.area, px), cr(whole.cr) {}

    Image run() {
        setColor(tableColor);
        cairo_paint(cr);
        drawFrame();
        cairo_save(cr);
        fieldPath();
        cairo_clip(cr);
        scene.drawIns.empty() ? drawCloth() : drawDrawnInCloth();
        drawCreases();
        drawRingShadow();
        cairo_restore(cr);
        for (const FrameTag& t : scene.hoop.tags) drawFrameTag(t);
        for (const SeenCard& c : scene.cards) drawCard(c);
        return copyOut();
    }

private:
    /// The cloth alone, then every pixel fetched from where its place came from.
    void drawDrawnInCloth() {
        Sheet cloth(width, height, scene.area, pxPerMm);
        cairo_t* const outer = cr;
        cr = cloth.cr;
        drawCloth();
        cr = outer;
        cv::Mat from(height, width, CV_32FC2);
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x) {
                const Vec2 p{scene.area.minX + (x + 0.5) / pxPerMm,
                             scene.area.minY + (y + 0.5) / pxPerMm};
                Vec2 q = p;
                // The way back, by a fixed point: draw-in is small and smooth.
                for (int i = 0; i < 3; ++i) q = q + p - drawnIn(q);
                from.at<cv::Vec2f>(y, x) = {
                    static_cast<float>((q.x - scene.area.minX) * pxPerMm - 0.5),
                    static_cast<float>((q.y - scene.area.minY) * pxPerMm - 0.5)};
            }
        Sheet moved(width, height, scene.area, pxPerMm);
        cv::Mat to = moved.pixels();
        cv::remap(cloth.pixels(), to, from, cv::noArray(), cv::INTER_LINEAR);
        cairo_surface_mark_dirty(moved.surface);
        cairo_save(cr);
        cairo_identity_matrix(cr);
        cairo_set_source_surface(cr, moved.surface, 0, 0);
        cairo_paint(cr);
        cairo_restore(cr);
    }

    Vec2 drawnIn(Vec2 p) const {
        for (const DrawIn& d : scene.drawIns) p = d.moved(p);
        return p;
    }

    /// Soft folds of light and dark from edge to edge.
    void drawCreases() {
        if (scene.creases <= 0) return;
        for (int i = 0; i < 3; ++i) {
            const double y = scene.area.minY + scene.area.height() * (0.3 + 0.2 * i);
            const double slope = 0.35 * (i - 1);
            cairo_pattern_t* fold =
                cairo_pattern_create_linear(-6 * slope, y - 6, 6 * slope, y + 6);
            cairo_pattern_add_color_stop_rgba(fold, 0, 0, 0, 0, 0);
            cairo_pattern_add_color_stop_rgba(fold, 0.35, 0, 0, 0, 0.22 * scene.creases);
            cairo_pattern_add_color_stop_rgba(fold, 0.65, 1, 1, 1, 0.18 * scene.creases);
            cairo_pattern_add_color_stop_rgba(fold, 1, 1, 1, 1, 0);
            cairo_set_source(cr, fold);
            cairo_paint(cr);
            cairo_pattern_destroy(fold);
        }
    }

    /// The ring stands higher than the cloth.
    void drawRingShadow() {
        for (int i = 0; i < 6; ++i) {
            setColor({0, 0, 0}, 0.035);
            cairo_set_line_width(cr, 1.5 + 1.6 * i);
            fieldPath();
            cairo_stroke(cr);
        }
    }

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
        cairo_save(cr);
        const Affine& m = scene.clothToField;
        const cairo_matrix_t matrix{m.a, m.c, m.b, m.d, m.tx, m.ty};
        cairo_transform(cr, &matrix);
        setColor(scene.cloth.color);
        fillBox(scene.cloth.box());
        drawWeave();
        for (const PrintedPatch& patch : scene.motif) drawPatch(patch);
        if (scene.datumLines) drawDatumLines();
        for (const StitchList& list : scene.sewn) drawStitches(list);
        cairo_restore(cr);
    }

    void drawPatch(const PrintedPatch& patch) {
        cairo_new_path(cr);
        for (const Polyline& line : patch.outline) {
            cairo_new_sub_path(cr);
            for (const Vec2& p : line) cairo_line_to(cr, p.x, p.y);
            cairo_close_path(cr);
        }
        cairo_set_fill_rule(cr, CAIRO_FILL_RULE_EVEN_ODD);
        setColor(patch.color, 0.9);
        cairo_fill(cr);
    }

    /// As drawn with a chalk pencil.
    void drawDatumLines() {
        setColor({60, 90, 130}, 0.55);
        cairo_set_line_width(cr, 0.35);
        const Box b = scene.cloth.box();
        cairo_move_to(cr, b.minX, 0);
        cairo_line_to(cr, b.maxX, 0);
        cairo_move_to(cr, 0, b.minY);
        cairo_line_to(cr, 0, b.maxY);
        cairo_stroke(cr);
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

    /// Thread shines along its middle.
    void drawStitches(const StitchList& list) {
        const auto widths = widthTable(list);
        cairo_set_line_cap(cr, CAIRO_LINE_CAP_ROUND);
        for (const Thread& t : list.threads)
            for (const auto& [share, light] : {std::pair{1.0, 0.78}, std::pair{0.55, 1.06}}) {
                const auto lit = [l = light](std::uint8_t c) {
                    return static_cast<std::uint8_t>(std::min(255.0, c * l));
                };
                setColor({lit(t.color.r), lit(t.color.g), lit(t.color.b)});
                cairo_set_line_width(cr, share * static_cast<double>(widths[t.index]));
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
        Image image(width, height, 3);
        cv::Mat to(height, width, CV_8UC3, image.pixels.data());
        cv::cvtColor(whole.pixels(), to, cv::COLOR_BGRA2RGB);
        return image;
    }

    const HoopScene& scene;
    double pxPerMm;
    int width, height;
    Sheet whole;
    cairo_t* cr; ///< what is drawn on
};

} // namespace

Vec2 DrawIn::moved(Vec2 p) const {
    const Vec2 d = p - middle;
    const double r = length(d) / radiusMm;
    if (r < 1e-9) return p;
    // Steepest at the edge of what is sewn, fading away outside.
    return p - d * (amountMm / length(d) * r * std::exp(1 - r));
}

Vec2 HoopScene::place(Vec2 onCloth) const {
    Vec2 p = clothToField(onCloth);
    for (const DrawIn& d : drawIns) p = d.moved(p);
    return p;
}

Image drawHoop(const HoopScene& scene, double pxPerMm) { return HoopPainter(scene, pxPerMm).run(); }

} // namespace rapt
