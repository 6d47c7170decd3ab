#pragma once
// Small things about text.

#include <string>
#include <string_view>

namespace rapt {

/// Text without blanks (and line ends) at both ends.
inline std::string_view trimmed(std::string_view text) {
    constexpr const char* blanks = " \t\r\n\f";
    const std::size_t from = text.find_first_not_of(blanks);
    if (from == std::string_view::npos) return {};
    return text.substr(from, text.find_last_not_of(blanks) - from + 1);
}

/// With a capital letter in front (ASCII).
inline std::string sentence(std::string words) {
    if (!words.empty() && words[0] >= 'a' && words[0] <= 'z')
        words[0] = static_cast<char>(words[0] - 'a' + 'A');
    return words;
}

} // namespace rapt
