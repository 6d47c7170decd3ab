#pragma once
// Lettering set on its line: where every letter stands. Millimetres, piece frame.

#include "base/result.h"
#include "geometry/pose.h"
#include "letter/face.h"
#include "letter/lettering.h"

namespace rapt {

/// One letter as set: a character, or several that became one glyph, with its marks.
struct PlacedLetter {
    std::string text;
    int index = 0; ///< among the letters of the text, spaces too
    int line = 0;
    std::size_t byte = 0;   ///< of the whole text, where it begins
    Vec2 at;                ///< baseline point under the middle of the advance, before nudges
    double rotationDeg = 0; ///< of the baseline there
    double advanceMm = 0;   ///< with tracking and word gap
    double scale = 1;
    /// A letter as it is shaped.
    struct Glyph {
        std::uint32_t glyph = 0;
        double dxMm = 0, dyMm = 0; ///< from the letter's own origin
    };
    std::vector<Glyph> glyphs; ///< empty for spaces
    Affine map; ///< from the letter's frame (origin at its pen place) to the piece frame
};

/// Two neighbours of a joined script that should hold together.
struct LetterJoin {
    int left = 0, right = 0; ///< letters
    double overlapMm = 0;    ///< after the move; negative is a gap
    double movedMm = 0;      ///< how far the right one, and all after it, was moved
    bool closed = true;      ///< they overlap by at least 0.3 mm
};

/// All letters in their places.
struct Setting {
    std::vector<PlacedLetter> letters; ///< in the order of the text, as they are read
    std::vector<LetterJoin> joins;
    std::vector<std::string> missing; ///< characters the face does not have
    double widthMm = 0;               ///< of the longest line, along its baseline
    double roomMm = 0;                ///< length of the circle or path; 0 on a straight line
};

inline constexpr double leastJoinMm = 0.3;

/// Sets the words. Fails (cannotDo) with all problems of the lettering, for letters that the face
/// does not have (naming them), and for words longer than the circle or path they stand on.
Result<Setting> setLettering(const Lettering& lettering, const Face& face, bool joined);

/// The outline of a placed letter in the piece frame.
Contours outlineOf(const PlacedLetter& letter, const Face& face, double capHeightMm);

} // namespace rapt
