#pragma once
// Numbers as people type them, read alike in every locale.

#include <optional>
#include <string_view>

namespace rapt {

/// A decimal number, whole text: `98.6` and `98,6` are the same, and there are no thousands
/// separators. A sign may stand in front (also `−`), blanks around. Nothing for anything else, and
/// for what no double holds.
std::optional<double> parseNumber(std::string_view text);

/// The same for an unsigned number at the front of `text`, which is taken off it.
std::optional<double> takeNumber(std::string_view& text);

} // namespace rapt
