#pragma once
// Palettes on disk: GPL, the open palette format of free drawing programs, and threads.json in the
// library folders.

#include "base/result.h"
#include "thread/palette.h"

namespace rapt {

/// A palette as read, and the lines that could not be.
struct ParsedPalette {
    Palette palette;
    std::vector<std::string> odd; ///< "line 7: …", with the reason
};

/// Reads GPL: a first line `GIMP Palette`, `Name:` and `Columns:`, then `red green blue name` a
/// line. Our comment `#: weight 40, cone 1203` before a colour gives what GPL has no place for.
/// Lines that cannot be read are listed and left out. Fails (badInput) without the first line.
Result<ParsedPalette> parseGpl(const std::string& text, const std::string& file);
/// As a GPL palette.
std::string formatGpl(const Palette& palette);

/// The threads owned: the user's threads.json if there is one, else those that ship.
Result<Palette> loadThreads(const std::string& dataFolder, const std::string& userFolder);
/// Writes the person's threads.json whole.
Status saveThreads(const std::string& userFolder, const Palette& palette);

} // namespace rapt
