#include "base/number.h"

#include <charconv>
#include <cmath>
#include <string>

namespace rapt {

std::optional<double> takeNumber(std::string_view& text) {
    constexpr std::size_t mostCharacters = 40;
    std::string plain;
    bool digits = false, point = false;
    std::size_t n = 0;
    for (; n < text.size() && n < mostCharacters; ++n) {
        const char c = text[n];
        if (c >= '0' && c <= '9') {
            digits = true;
            plain += c;
        } else if ((c == '.' || c == ',') && !point) {
            point = true;
            plain += '.';
        } else {
            break;
        }
    }
    if (!digits || n == mostCharacters) return std::nullopt;
    double value = 0;
    const auto [end, error] = std::from_chars(plain.data(), plain.data() + plain.size(), value);
    if (error != std::errc() || !std::isfinite(value)) return std::nullopt;
    text.remove_prefix(n);
    return value;
}

std::optional<double> parseNumber(std::string_view text) {
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    double sign = 1;
    for (const std::string_view minus : {"-", "−"})
        if (text.starts_with(minus)) {
            sign = -1;
            text.remove_prefix(minus.size());
            break;
        }
    if (sign > 0 && text.starts_with("+")) text.remove_prefix(1);
    const auto value = takeNumber(text);
    return value && text.empty() ? std::optional(sign * *value) : std::nullopt;
}

} // namespace rapt
