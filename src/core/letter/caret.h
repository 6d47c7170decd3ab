#pragma once
// Where a person types in set words. Places in the piece frame, millimetres; text by bytes of
// UTF-8.

#include "letter/setting.h"

#include <optional>

namespace rapt {

/// A place between two letters.
struct Caret {
    Vec2 foot; ///< on the baseline
    Vec2 top;  ///< at cap height
};

/// The caret before a byte of the text; after the last letter at its end. Nothing without letters.
std::optional<Caret> caretBefore(const Setting& setting, const Lettering& lettering,
                                 std::size_t byte);

/// The byte before which a person points: the nearest letter's start or end.
std::size_t byteNear(const Setting& setting, const Lettering& lettering, Vec2 p);

/// The letter that a place lies in: within its advance and from below the baseline to above the
/// capitals. −1 for none.
int letterAt(const Setting& setting, const Lettering& lettering, Vec2 p);

/// The corners of a letter's frame: baseline left, baseline right, top right, top left.
std::vector<Vec2> letterFrame(const PlacedLetter& letter, const Lettering& lettering);

/// The start of the character before (or after) a byte.
std::size_t previousCharacter(const std::string& text, std::size_t byte);
/// The byte after the character at `byte` (UTF-8).
std::size_t nextCharacter(const std::string& text, std::size_t byte);

} // namespace rapt
