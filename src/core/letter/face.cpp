#include "letter/face.h"

#include "base/file_io.h"

#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_OUTLINE_H

#include <fribidi.h>
#include <hb.h>

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <mutex>

namespace rapt {
namespace {

constexpr std::size_t maxFontBytes = 64u << 20;

/// Collects an outline in font units, +y up as fonts have it.
struct Flattener {
    Contours contours;
    double tolerance = 1; ///< font units

    static Vec2 point(const FT_Vector* v) {
        return {static_cast<double>(v->x), static_cast<double>(v->y)};
    }
    Polyline& line() { return contours.back(); }

    static int move(const FT_Vector* to, void* self) {
        static_cast<Flattener*>(self)->contours.push_back({point(to)});
        return 0;
    }
    static int lineTo(const FT_Vector* to, void* self) {
        static_cast<Flattener*>(self)->line().push_back(point(to));
        return 0;
    }
    static int conicTo(const FT_Vector* c, const FT_Vector* to, void* self) {
        auto& f = *static_cast<Flattener*>(self);
        const Vec2 a = f.line().back(), b = point(c), d = point(to);
        return f.cubic(a, lerp(a, b, 2.0 / 3), lerp(d, b, 2.0 / 3), d);
    }
    static int cubicTo(const FT_Vector* c1, const FT_Vector* c2, const FT_Vector* to, void* self) {
        auto& f = *static_cast<Flattener*>(self);
        return f.cubic(f.line().back(), point(c1), point(c2), point(to));
    }
    /// Even steps of the parameter; their number from the second differences of the control
    /// points: a chord strays from a curve by at most |second derivative| / 8 per step squared.
    int cubic(Vec2 a, Vec2 b, Vec2 c, Vec2 d) {
        const double bend = 6 * std::max(length(a - b * 2 + c), length(b - c * 2 + d));
        const int n =
            std::clamp(static_cast<int>(std::ceil(std::sqrt(bend / (8 * tolerance)))), 1, 64);
        for (int i = 1; i <= n; ++i) {
            const double t = static_cast<double>(i) / n, u = 1 - t;
            line().push_back(a * (u * u * u) + b * (3 * u * u * t) + c * (3 * u * t * t) +
                             d * (t * t * t));
        }
        return 0;
    }
};

std::string utf8Of(hb_codepoint_t c) {
    std::string out;
    const auto push = [&out](std::uint32_t byte) { out.push_back(static_cast<char>(byte)); };
    if (c < 0x80) {
        push(c);
    } else if (c < 0x800) {
        push(0xC0 | (c >> 6));
        push(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        push(0xE0 | (c >> 12));
        push(0x80 | ((c >> 6) & 0x3F));
        push(0x80 | (c & 0x3F));
    } else {
        push(0xF0 | (c >> 18));
        push(0x80 | ((c >> 12) & 0x3F));
        push(0x80 | ((c >> 6) & 0x3F));
        push(0x80 | (c & 0x3F));
    }
    return out;
}

/// A stretch of a text, in bytes, that runs one way.
struct TextRun {
    std::size_t first = 0, size = 0;
    bool rightToLeft = false;
};

/// The code points of a text, and the byte at which each begins (and the end).
void decode(const std::string& text, std::vector<FriBidiChar>& points,
            std::vector<std::size_t>& bytes) {
    hb_buffer_t* plain = hb_buffer_create();
    hb_buffer_add_utf8(plain, text.data(), static_cast<int>(text.size()), 0, -1);
    unsigned count = 0;
    const hb_glyph_info_t* characters = hb_buffer_get_glyph_infos(plain, &count);
    for (unsigned i = 0; i < count; ++i) {
        points.push_back(characters[i].codepoint);
        bytes.push_back(characters[i].cluster);
    }
    bytes.push_back(text.size());
    hb_buffer_destroy(plain);
}

/// The runs from left to right as they are seen, by the bidirectional algorithm (UAX #9).
std::vector<TextRun> runsAsSeen(const std::string& text) {
    std::vector<FriBidiChar> points;
    std::vector<std::size_t> bytes;
    decode(text, points, bytes);
    const auto n = static_cast<FriBidiStrIndex>(points.size());
    std::vector<FriBidiCharType> types(points.size());
    std::vector<FriBidiBracketType> brackets(points.size());
    std::vector<FriBidiLevel> levels(points.size());
    fribidi_get_bidi_types(points.data(), n, types.data());
    fribidi_get_bracket_types(points.data(), n, types.data(), brackets.data());
    FriBidiParType paragraph = FRIBIDI_PAR_ON;
    const bool known =
        n > 0 && fribidi_get_par_embedding_levels_ex(types.data(), brackets.data(), n, &paragraph,
                                                     levels.data()) != 0;
    if (!known) return {{0, text.size(), false}};
    std::vector<TextRun> runs;
    std::vector<int> levelOf;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (i == 0 || levels[i] != levels[i - 1]) {
            runs.push_back({bytes[i], 0, (levels[i] & 1) != 0});
            levelOf.push_back(levels[i]);
        }
        runs.back().size = bytes[i + 1] - runs.back().first;
    }
    // Rule L2: from the highest level down, what stands at it or above is turned round.
    const int highest = *std::max_element(levelOf.begin(), levelOf.end());
    for (int level = highest; level > 0; --level)
        for (std::size_t i = 0; i < runs.size();) {
            std::size_t end = i;
            while (end < runs.size() && levelOf[end] >= level) ++end;
            const auto from = static_cast<std::ptrdiff_t>(i), to = static_cast<std::ptrdiff_t>(end);
            std::reverse(runs.begin() + from, runs.begin() + to);
            std::reverse(levelOf.begin() + from, levelOf.begin() + to);
            i = std::max(end, i + 1);
        }
    return runs;
}

/// The characters of a text that a font does not have, each once: asked for one by one, as a shaper
/// may hide them in a cluster. An accent typed by itself counts with the letter that it sits on.
std::vector<std::string> missingIn(const std::string& text, hb_font_t* font) {
    std::vector<FriBidiChar> points;
    std::vector<std::size_t> bytes;
    decode(text, points, bytes);
    hb_unicode_funcs_t* unicode = hb_unicode_funcs_get_default();
    const auto has = [&](hb_codepoint_t c) {
        hb_codepoint_t glyph = 0;
        return hb_font_get_nominal_glyph(font, c, &glyph) && glyph != 0;
    };
    std::vector<std::string> missing;
    hb_codepoint_t composed = 0; // of the letter so far
    for (const hb_codepoint_t c : points) {
        hb_codepoint_t both = 0;
        if (composed != 0 && hb_unicode_compose(unicode, composed, c, &both) && has(both)) {
            composed = both;
            continue;
        }
        composed = c;
        const bool invisible = (c >= 0x200B && c <= 0x200F) || (c >= 0x202A && c <= 0x202E) ||
                               (c >= 0x2066 && c <= 0x2069);
        const std::string shown = utf8Of(c);
        if (!has(c) && !invisible &&
            std::find(missing.begin(), missing.end(), shown) == missing.end())
            missing.push_back(shown);
    }
    return missing;
}

} // namespace

struct Face::Impl {
    std::string path;
    std::string bytes; ///< both libraries read from it
    FT_Library library = nullptr;
    FT_Face face = nullptr;
    hb_face_t* hbFace = nullptr;
    hb_font_t* hbFont = nullptr;
    double cap = 0; ///< top of a flat capital, font units
    double x = 0, top = 0, foot = 0;
    mutable std::mutex lock; ///< FreeType loads glyphs into one slot

    ~Impl() {
        if (hbFont) hb_font_destroy(hbFont);
        if (hbFace) hb_face_destroy(hbFace);
        if (face) FT_Done_Face(face);
        if (library) FT_Done_FreeType(library);
    }

    Contours contoursOf(std::uint32_t glyph, double toleranceUnits) const {
        Flattener flattener;
        flattener.tolerance = toleranceUnits;
        const std::lock_guard guard(lock);
        if (FT_Load_Glyph(face, glyph, FT_LOAD_NO_SCALE | FT_LOAD_NO_BITMAP)) return {};
        if (face->glyph->format != FT_GLYPH_FORMAT_OUTLINE) return {};
        const FT_Outline_Funcs functions{
            Flattener::move, Flattener::lineTo, Flattener::conicTo, Flattener::cubicTo, 0, 0};
        if (FT_Outline_Decompose(&face->glyph->outline, &functions, &flattener)) return {};
        return std::move(flattener.contours);
    }
    Box boundsOfLetter(char letter) const {
        const FT_UInt glyph = FT_Get_Char_Index(face, static_cast<FT_ULong>(letter));
        return glyph ? boundsOf(contoursOf(glyph, 1)) : Box{};
    }
    /// Cap height, x-height and the reach of plain letters, from the outlines: what the tables of
    /// a font claim is often not what it draws.
    bool findHeights() {
        for (const char flat : {'H', 'I', 'E', 'T', 'Z', 'x', '0'})
            if (const Box box = boundsOfLetter(flat); !box.empty() && box.maxY > 0) {
                cap = box.maxY;
                break;
            }
        const Box small = boundsOfLetter('x');
        x = small.empty() ? cap : small.maxY;
        Box all;
        for (char c = 'A'; c <= 'Z'; ++c) all.add(boundsOfLetter(c));
        for (char c = 'a'; c <= 'z'; ++c) all.add(boundsOfLetter(c));
        top = all.empty() ? cap : all.maxY;
        foot = all.empty() ? 0 : all.minY;
        return cap > 0;
    }
};

Face::Face(std::unique_ptr<Impl> i) : impl(std::move(i)) {}
Face::~Face() = default;

Result<std::shared_ptr<const Face>> Face::open(const std::string& path) {
    Result<std::string> bytes = readRegularFile(path, maxFontBytes);
    if (!bytes) return bytes.error();
    auto impl = std::make_unique<Impl>();
    impl->path = path;
    impl->bytes = std::move(*bytes);
    if (FT_Init_FreeType(&impl->library)) return cannotDo("no memory for reading faces", {}, path);
    if (FT_New_Memory_Face(impl->library, reinterpret_cast<const FT_Byte*>(impl->bytes.data()),
                           static_cast<FT_Long>(impl->bytes.size()), 0, &impl->face))
        return badInput("is not a TrueType or OpenType face, or is damaged", {}, path);
    if (!FT_IS_SCALABLE(impl->face))
        return badInput("holds only pictures of letters, no outlines", {}, path);
    FT_Select_Charmap(impl->face, FT_ENCODING_UNICODE);
    hb_blob_t* blob = hb_blob_create(impl->bytes.data(), static_cast<unsigned>(impl->bytes.size()),
                                     HB_MEMORY_MODE_READONLY, nullptr, nullptr);
    impl->hbFace = hb_face_create(blob, 0);
    hb_blob_destroy(blob);
    impl->hbFont = hb_font_create(impl->hbFace);
    if (!impl->findHeights())
        return badInput("has no plain letter to measure its capitals by", {}, path);
    return std::shared_ptr<const Face>(new Face(std::move(impl)));
}

const std::string& Face::path() const { return impl->path; }

std::string Face::name() const {
    const std::string family = impl->face->family_name ? impl->face->family_name : "";
    const std::string style = impl->face->style_name ? impl->face->style_name : "";
    if (family.empty()) return style;
    return style.empty() || style == "Regular" ? family : family + " " + style;
}

double Face::xHeight() const { return impl->x / impl->cap; }
double Face::totalHeight() const { return (impl->top - impl->foot) / impl->cap; }

ShapedLine Face::shape(const std::string& text, bool letterSpaced) const {
    ShapedLine line;
    const hb_feature_t noLigatures[] = {
        {HB_TAG('l', 'i', 'g', 'a'), 0, 0, static_cast<unsigned>(-1)},
        {HB_TAG('c', 'l', 'i', 'g'), 0, 0, static_cast<unsigned>(-1)}};
    const double unit = 1 / impl->cap;
    double pen = 0;
    for (const TextRun& run : runsAsSeen(text)) {
        hb_buffer_t* buffer = hb_buffer_create();
        hb_buffer_add_utf8(buffer, text.data(), static_cast<int>(text.size()),
                           static_cast<unsigned>(run.first), static_cast<int>(run.size));
        hb_buffer_guess_segment_properties(buffer);
        hb_buffer_set_direction(buffer, run.rightToLeft ? HB_DIRECTION_RTL : HB_DIRECTION_LTR);
        hb_shape(impl->hbFont, buffer, letterSpaced ? noLigatures : nullptr, letterSpaced ? 2 : 0);
        unsigned count = 0;
        const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(buffer, &count);
        const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(buffer, &count);
        for (unsigned i = 0; i < count; ++i) {
            ShapedGlyph g;
            g.glyph = infos[i].codepoint;
            g.cluster = infos[i].cluster;
            g.x = (pen + places[i].x_offset) * unit;
            g.y = -places[i].y_offset * unit;
            g.advance = places[i].x_advance * unit;
            // A mark shares its letter's cluster, or takes no room at all.
            g.mark = places[i].x_advance == 0;
            pen += places[i].x_advance;
            line.glyphs.push_back(g);
        }
        hb_buffer_destroy(buffer);
    }
    line.width = pen / impl->cap;
    line.missing = missingIn(text, impl->hbFont);
    return line;
}

Contours Face::outline(std::uint32_t glyph, double capHeightMm) const {
    const double mm = capHeightMm / impl->cap;
    Contours contours = impl->contoursOf(glyph, std::max(0.005, capHeightMm / 4000) / mm);
    for (Polyline& line : contours)
        for (Vec2& p : line) p = {p.x * mm, -p.y * mm};
    return contours;
}

} // namespace rapt
