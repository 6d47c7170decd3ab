#include "sheets/pdf_pages.h"

#include <cairo-ft.h>
#include <cairo-pdf.h>
#include <ft2build.h>
#include FT_FREETYPE_H

namespace rapt {
namespace {

constexpr double pointsPerMm = 72.0 / 25.4;

cairo_status_t appendBytes(void* to, const unsigned char* data, unsigned int size) {
    static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(data), size);
    return CAIRO_STATUS_SUCCESS;
}

} // namespace

struct PdfFonts::Faces {
    cairo_font_face_t* cairo[2] = {nullptr, nullptr};

    Faces() = default;
    Faces(const Faces&) = delete;
    Faces& operator=(const Faces&) = delete;
    ~Faces() {
        for (cairo_font_face_t* face : cairo)
            if (face) cairo_font_face_destroy(face);
    }
};

namespace {

/// A FreeType face with a library of its own. cairo keeps faces in a cache after we let go of
/// them, so the face must live as long as cairo's, not as long as ours.
struct OwnedFace {
    FT_Library library = nullptr;
    FT_Face face = nullptr;

    OwnedFace() { FT_Init_FreeType(&library); }
    OwnedFace(const OwnedFace&) = delete;
    OwnedFace& operator=(const OwnedFace&) = delete;
    ~OwnedFace() {
        if (face) FT_Done_Face(face);
        FT_Done_FreeType(library);
    }
};

cairo_font_face_t* openFace(const std::string& path) {
    static const cairo_user_data_key_t key{};
    auto owned = std::make_unique<OwnedFace>();
    if (FT_New_Face(owned->library, path.c_str(), 0, &owned->face) != 0) return nullptr;
    cairo_font_face_t* face = cairo_ft_font_face_create_for_ft_face(owned->face, 0);
    const auto release = [](void* o) { delete static_cast<OwnedFace*>(o); };
    if (cairo_font_face_set_user_data(face, &key, owned.get(), release) == CAIRO_STATUS_SUCCESS)
        (void)owned.release();
    return face;
}

} // namespace

Result<PdfFonts> PdfFonts::load(const std::string& folder) {
    PdfFonts fonts;
    fonts.faces = std::make_shared<Faces>();
    const char* names[] = {"Lato-Regular.ttf", "Lato-Bold.ttf"};
    for (int i = 0; i < 2; ++i) {
        const std::string path = folder + "/" + names[i];
        fonts.faces->cairo[i] = openFace(path);
        if (!fonts.faces->cairo[i]) return badInput("the face for sheets cannot be read", {}, path);
    }
    return fonts;
}

double PdfFonts::widthMm(const std::string& text, double sizeMm, bool bold) const {
    cairo_surface_t* surface = cairo_recording_surface_create(CAIRO_CONTENT_COLOR, nullptr);
    cairo_t* cr = cairo_create(surface);
    cairo_set_font_face(cr, faces->cairo[bold]);
    cairo_set_font_size(cr, sizeMm);
    cairo_text_extents_t extents;
    cairo_text_extents(cr, text.c_str(), &extents);
    cairo_destroy(cr);
    cairo_surface_destroy(surface);
    return extents.x_advance;
}

struct PdfPages::State {
    PdfFonts fonts;
    std::string bytes;
    cairo_surface_t* surface = nullptr;
    cairo_t* cr = nullptr;
    bool mirrored = false;
    double pixelsPerMm = 0; ///< 0: a PDF
    std::vector<Image> pictures;
};

namespace {

/// The pixels of a finished page.
Image pictureOf(cairo_surface_t* surface) {
    cairo_surface_flush(surface);
    Image picture(cairo_image_surface_get_width(surface), cairo_image_surface_get_height(surface),
                  3);
    const unsigned char* data = cairo_image_surface_get_data(surface);
    const int stride = cairo_image_surface_get_stride(surface);
    std::uint8_t* to = picture.pixels.data();
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x, to += 3) {
            const unsigned char* p = data + static_cast<std::ptrdiff_t>(y) * stride + 4 * x;
            to[0] = p[2];
            to[1] = p[1];
            to[2] = p[0];
        }
    return picture;
}

} // namespace

PdfPages::PdfPages(const PdfFonts& fonts) : state(std::make_unique<State>()) {
    state->fonts = fonts;
    state->surface = cairo_pdf_surface_create_for_stream(appendBytes, &state->bytes, 595, 842);
    cairo_pdf_surface_set_metadata(state->surface, CAIRO_PDF_METADATA_CREATOR, "Rapt Thimble");
    state->cr = cairo_create(state->surface);
}

PdfPages::PdfPages(const PdfFonts& fonts, double pixelsPerMm) : state(std::make_unique<State>()) {
    state->fonts = fonts;
    state->pixelsPerMm = pixelsPerMm;
}

PdfPages::~PdfPages() {
    if (state->cr) cairo_destroy(state->cr);
    if (state->surface) cairo_surface_destroy(state->surface);
}

void PdfPages::begin(double widthMm, double heightMm) {
    if (const double k = state->pixelsPerMm; k > 0) {
        state->surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24,
                                                    static_cast<int>(std::lround(widthMm * k)),
                                                    static_cast<int>(std::lround(heightMm * k)));
        state->cr = cairo_create(state->surface);
        cairo_set_source_rgb(state->cr, 1, 1, 1);
        cairo_paint(state->cr);
        cairo_save(state->cr);
        cairo_scale(state->cr, k, k);
        return;
    }
    cairo_pdf_surface_set_size(state->surface, widthMm * pointsPerMm, heightMm * pointsPerMm);
    cairo_save(state->cr);
    cairo_scale(state->cr, pointsPerMm, pointsPerMm);
}

void PdfPages::end() {
    cairo_restore(state->cr);
    if (state->pixelsPerMm > 0) {
        state->pictures.push_back(pictureOf(state->surface));
        cairo_destroy(std::exchange(state->cr, nullptr));
        cairo_surface_destroy(std::exchange(state->surface, nullptr));
        return;
    }
    cairo_show_page(state->cr);
}

void PdfPages::enter(Vec2 at, const Box& window, bool mirror, double scale) {
    cairo_save(state->cr);
    cairo_translate(state->cr, at.x, at.y);
    cairo_scale(state->cr, scale, scale);
    cairo_rectangle(state->cr, 0, 0, window.width(), window.height());
    cairo_clip(state->cr);
    cairo_translate(state->cr, -window.minX, -window.minY);
    if (mirror) cairo_scale(state->cr, -1, 1);
    state->mirrored = mirror;
}

void PdfPages::leave() {
    cairo_restore(state->cr);
    state->mirrored = false;
}

void PdfPages::polyline(const Polyline& points, Rgb color, double widthMm) {
    cairo_t* cr = state->cr;
    cairo_set_source_rgb(cr, color.r / 255.0, color.g / 255.0, color.b / 255.0);
    cairo_set_line_width(cr, widthMm);
    // Butt ends: a line measures what it should from end to end.
    cairo_set_line_cap(cr, CAIRO_LINE_CAP_BUTT);
    cairo_set_line_join(cr, CAIRO_LINE_JOIN_BEVEL);
    // Setting text leaves a point behind, from which a line would start.
    cairo_new_path(cr);
    for (const Vec2& p : points) cairo_line_to(cr, p.x, p.y);
    cairo_stroke(cr);
}

void PdfPages::line(Vec2 a, Vec2 b, Rgb color, double widthMm) { polyline({a, b}, color, widthMm); }

void PdfPages::dashedLine(Vec2 a, Vec2 b, Rgb color, double widthMm) {
    const double dashes[] = {4, 1, 1, 1};
    cairo_set_dash(state->cr, dashes, 4, 0);
    line(a, b, color, widthMm);
    cairo_set_dash(state->cr, nullptr, 0, 0);
}

void PdfPages::rectangle(const Box& b, Rgb color, double widthMm) {
    polyline(
        {{b.minX, b.minY}, {b.maxX, b.minY}, {b.maxX, b.maxY}, {b.minX, b.maxY}, {b.minX, b.minY}},
        color, widthMm);
}

void PdfPages::fill(const Polyline& outline, Rgb color) {
    cairo_t* cr = state->cr;
    cairo_set_source_rgb(cr, color.r / 255.0, color.g / 255.0, color.b / 255.0);
    cairo_new_path(cr);
    for (const Vec2& p : outline) cairo_line_to(cr, p.x, p.y);
    cairo_close_path(cr);
    cairo_fill(cr);
}

void PdfPages::text(Vec2 at, const std::string& words, double sizeMm, bool bold) {
    cairo_t* cr = state->cr;
    cairo_save(cr);
    cairo_translate(cr, at.x, at.y);
    if (state->mirrored) cairo_scale(cr, -1, 1);
    cairo_set_source_rgb(cr, 0.11, 0.16, 0.2);
    cairo_set_font_face(cr, state->fonts.faces->cairo[bold]);
    cairo_set_font_size(cr, sizeMm);
    cairo_move_to(cr, 0, 0);
    cairo_show_text(cr, words.c_str());
    cairo_restore(cr);
}

std::vector<Image> PdfPages::takePictures() { return std::move(state->pictures); }

Result<std::string> PdfPages::finish() {
    cairo_destroy(state->cr);
    state->cr = nullptr;
    cairo_surface_finish(state->surface);
    const cairo_status_t status = cairo_surface_status(state->surface);
    if (status != CAIRO_STATUS_SUCCESS)
        return badInput(std::string("the PDF cannot be made: ") + cairo_status_to_string(status));
    return std::move(state->bytes);
}

} // namespace rapt
