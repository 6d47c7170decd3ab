#pragma once
// A TrueType or OpenType face: outlines in millimetres and shaped words. FreeType reads the file,
// HarfBuzz shapes (kerning, ligatures, marks, right-to-left); their types stay behind this header.

#include "base/result.h"
#include "geometry/polygon.h"

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace rapt {

/// One glyph of a shaped line. Lengths in units of the cap height: multiply by it to get mm.
struct ShapedGlyph {
    std::uint32_t glyph = 0;
    std::size_t cluster = 0; ///< byte of the text where its character begins
    double x = 0, y = 0;     ///< where its origin stands, from the line's start, +y down
    double advance = 0;
    bool mark = false; ///< sits on the glyph before and takes no room of its own
};

/// A shaped line; glyphs run from left to right as seen, whatever the script.
struct ShapedLine {
    std::vector<ShapedGlyph> glyphs;
    double width = 0;                 ///< sum of the advances, in cap heights
    std::vector<std::string> missing; ///< characters that the face does not have
};

/// An opened face. Immutable after it is opened; safe to use from several threads.
class Face {
public:
    /// Opens a font file of at most 64 MB. Fails (badInput) for damaged files, bitmap-only fonts
    /// and faces without a usable capital height; the error names the file.
    static Result<std::shared_ptr<const Face>> open(const std::string& path);
    ~Face();

    /// Of the font's file.
    const std::string& path() const;
    /// Family and style as the file says, e.g. "Lato Bold".
    std::string name() const;
    /// Height of a lower-case x, in cap heights.
    double xHeight() const;
    /// From the top of the highest to the foot of the lowest plain letter (A-Z, a-z), in cap
    /// heights.
    double totalHeight() const;

    /// Shapes one line of UTF-8 text. Spaces are glyphs without an outline. `letterSpaced` turns
    /// optional ligatures off, so that every letter can be spaced.
    ShapedLine shape(const std::string& text, bool letterSpaced = false) const;

    /// The outline of a glyph at a cap height, flattened to 0.005 mm or 1/4000 of the cap height,
    /// +y down, origin on the baseline. As the font draws it: contours may overlap.
    Contours outline(std::uint32_t glyph, double capHeightMm) const;

private:
    struct Impl;
    explicit Face(std::unique_ptr<Impl> i);
    std::unique_ptr<Impl> impl;
};

} // namespace rapt
