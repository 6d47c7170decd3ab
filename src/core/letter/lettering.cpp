#include "letter/lettering.h"

#include "base/file_io.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace rapt {

RAPT_VALUE_MEMBERS(Lettering)

const LetterChange* Lettering::change(int letter) const {
    const auto it = std::find_if(letters.begin(), letters.end(),
                                 [letter](const LetterChange& c) { return c.letter == letter; });
    return it == letters.end() ? nullptr : &*it;
}

LetterChange& Lettering::changeOf(int letter) {
    for (LetterChange& c : letters)
        if (c.letter == letter) return c;
    LetterChange added;
    added.letter = letter;
    letters.push_back(added);
    return letters.back();
}

Lettering scaled(const Lettering& lettering, double k) {
    Lettering result = lettering;
    for (double* length : {&result.capHeightMm, &result.trackingMm, &result.wordGapMm,
                           &result.lineGapMm, &result.line.radiusMm})
        *length *= k;
    for (Vec2& p : result.line.path) p = p * k;
    for (LetterChange& c : result.letters) {
        c.dxMm *= k;
        c.dyMm *= k;
    }
    return result;
}

std::vector<std::string> problemsOf(const Lettering& l) {
    std::vector<std::string> problems;
    if (trimmed(l.text).empty()) problems.emplace_back("there is no text to letter");
    if (!isPlainUtf8(l.text)) problems.emplace_back("the text is not valid UTF-8");
    if (l.text.size() > 2000)
        problems.emplace_back("the text is longer than 2000 bytes; letter it in parts");
    if (!(l.capHeightMm >= smallestCapMm && l.capHeightMm <= largestCapMm))
        problems.push_back(
            fmt::format("a cap height of {:.6g} mm cannot be sewn; it can be {} to {} mm",
                        l.capHeightMm, smallestCapMm, largestCapMm));
    if (!(std::abs(l.trackingMm) <= 200))
        problems.push_back(
            fmt::format("a tracking of {:.6g} mm is out of reach; at most ±200 mm", l.trackingMm));
    const bool round = l.line.kind == LineKind::arc || l.line.kind == LineKind::circle;
    if (round && !(l.line.radiusMm >= 0.5 * l.capHeightMm && l.line.radiusMm <= 5000))
        problems.push_back(fmt::format(
            "a radius of {:.6g} mm does not suit letters of {:.6g} mm; it can be {:.6g} to 5000 mm",
            l.line.radiusMm, l.capHeightMm, 0.5 * l.capHeightMm));
    if (l.line.kind == LineKind::path &&
        (l.line.path.size() < 2 || lengthOf(l.line.path) < l.capHeightMm / 2))
        problems.emplace_back("the path is shorter than half a letter");
    return problems;
}

} // namespace rapt
