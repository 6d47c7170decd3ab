#pragma once
// Words as a person asks for them: text, face, real size, and the line they stand on. A value;
// letter/setting.h sets it and letter/stitching.h turns it into stitches. Millimetres and degrees.

#include "base/value.h"
#include "letter/columns/columns.h"
#include "thread/stitch_list.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// What the baseline follows.
enum class LineKind {
    straight, ///< origin on the first baseline, in the middle of the widest line
    arc,      ///< origin at the circle's centre
    circle,   ///< an arc whose letters are spread round the whole circle
    path,     ///< along `path`, in the piece frame
};
/// Which side of the arc the letters stand on.
enum class ArcSide {
    outside, ///< tops away from the centre, the middle at the circle's top, read clockwise
    inside,  ///< tops towards the centre, the middle at the circle's bottom
};
/// How lines of words lie to each other.
enum class Alignment { left, centre, right };

/// What the words stand on.
struct LetterLine {
    LineKind kind = LineKind::straight;
    double radiusMm = 100; ///< of the baseline circle
    ArcSide side = ArcSide::outside;
    double middleDeg = 0; ///< the middle of the words is turned so far round the circle, clockwise
    bool upright = false; ///< letters stay upright instead of following the curve
    bool even = false;    ///< gaps between letters are kept as wide as on a straight line
    Polyline path;
    std::string extra; ///< unknown keys of the file, kept
    friend bool operator==(const LetterLine&, const LetterLine&) = default;
};

/// A change to one letter. Letters are counted through the text, spaces too, line ends not.
struct LetterChange {
    int letter = 0;
    double dxMm = 0, dyMm = 0; ///< along the baseline and away from its top side
    double turnDeg = 0;
    double scale = 1;
    std::optional<Thread> thread;
    std::vector<ColumnChange> columns;
    friend bool operator==(const LetterChange&, const LetterChange&) = default;
};

/// Words as they are asked for.
struct Lettering {
    RAPT_VALUE(Lettering);
    std::string text;        ///< UTF-8; line ends start new lines
    std::string face;        ///< id of the face
    double capHeightMm = 20; ///< baseline to the top of a flat capital
    double trackingMm = 0;   ///< added to every advance
    double wordGapMm = 0;    ///< added to every space
    double lineGapMm = 0;    ///< from baseline to baseline; 0 is 1.6 cap heights
    Alignment alignment = Alignment::centre;
    LetterLine line;
    Thread thread{1, {29, 42, 51}, 40, "Ink"};
    double pitchMm = 0.40;
    double pullMm = 0; ///< added to the width of every column
    bool underlay = true;
    /// Layers that the cloth takes; 0 where nothing is known of it. Crowded rows are thinned and
    /// underlay is left out to keep to it, as far as the ground stays covered.
    double mostLayers = 0;
    std::vector<LetterChange> letters;
    std::string extra; ///< unknown keys of the file, kept

    /// What was changed by hand on a letter (counted from 0), or null.
    const LetterChange* change(int letter) const;
    /// The change of a letter, made if there is none yet.
    LetterChange& changeOf(int letter);
    /// From baseline to baseline, in millimetres.
    double lineGap() const { return lineGapMm > 0 ? lineGapMm : 1.6 * capHeightMm; }
};

/// The same words `k` times as large; thread, pitch and pull stay.
Lettering scaled(const Lettering& lettering, double k);

inline constexpr double smallestCapMm = 2, largestCapMm = 400;

/// Everything that is wrong with what was asked for, in words; empty if it can be set.
std::vector<std::string> problemsOf(const Lettering& lettering);

} // namespace rapt
