#pragma once
// Small things about text.

#include <string_view>

namespace rapt {

/// Text without blanks (and line ends) at both ends.
inline std::string_view trimmed(std::string_view text) {
    constexpr const char* blanks = " \t\r\n\f";
    const std::size_t from = text.find_first_not_of(blanks);
    if (from == std::string_view::npos) return {};
    return text.substr(from, text.find_last_not_of(blanks) - from + 1);
}

} // namespace rapt
