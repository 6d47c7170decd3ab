#include "geometry/lengths.h"

#include "base/number.h"

#include <cmath>
#include <fmt/format.h>
#include <numeric>
#include <optional>

namespace rapt {
namespace {

constexpr double mmPerInch = 25.4;

void skipSpaces(std::string_view& text) {
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
}

/// What stands after a whole number: `1/8`, reached over a space or a hyphen.
std::optional<double> takeFraction(std::string_view& text, double whole) {
    std::string_view rest = text;
    double numerator = whole;
    if (rest.empty() || rest.front() != '/') {
        if (rest.empty() || (rest.front() != ' ' && rest.front() != '-')) return std::nullopt;
        rest.remove_prefix(1);
        skipSpaces(rest);
        const auto n = takeNumber(rest);
        if (!n || rest.empty() || rest.front() != '/') return std::nullopt;
        numerator = *n;
    } else {
        whole = 0;
    }
    rest.remove_prefix(1);
    const auto denominator = takeNumber(rest);
    if (!denominator || *denominator == 0) return std::nullopt;
    text = rest;
    return whole + numerator / *denominator;
}

std::optional<double> unitFactor(std::string_view unit, LengthUnit assumed) {
    if (unit.empty()) return assumed == LengthUnit::inch ? mmPerInch : 1.0;
    if (unit == "mm") return 1.0;
    if (unit == "cm") return 10.0;
    if (unit == "in" || unit == "inch" || unit == "inches" || unit == "\"" || unit == "″")
        return mmPerInch;
    return std::nullopt;
}

} // namespace

Result<double> parseLength(std::string_view text, LengthUnit assumed) {
    const auto refuse = [] {
        return badInput("this is not a length; write for example 231.8, 23.2 cm or 9 1/8 in");
    };
    skipSpaces(text);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    double sign = 1;
    if (text.starts_with("-") || text.starts_with("+") || text.starts_with("−")) {
        sign = text.front() == '+' ? 1 : -1;
        text.remove_prefix(text.starts_with("−") ? std::string_view("−").size() : 1);
    }
    auto value = takeNumber(text);
    if (!value) return refuse();
    if (const auto mixed = takeFraction(text, *value)) value = mixed;
    skipSpaces(text);
    const auto factor = unitFactor(text, assumed);
    if (!factor || !std::isfinite(*value)) return refuse();
    return sign * *value * *factor;
}

std::string formatLength(double mm, LengthUnit unit, int decimals) {
    if (unit == LengthUnit::millimetre) {
        const std::string text = fmt::format("{:.{}f}", mm, decimals);
        const bool zero = text.find_first_not_of("-0.") == std::string::npos;
        return (zero && text.front() == '-' ? text.substr(1) : text) + " mm";
    }
    const long sixteenths = std::lround(std::abs(mm) / mmPerInch * 16);
    const std::string sign = mm < 0 && sixteenths > 0 ? "−" : "";
    const long whole = sixteenths / 16;
    const long part = sixteenths % 16;
    if (part == 0) return fmt::format("{}{} in", sign, whole);
    const long common = std::gcd(part, 16L);
    const std::string fraction = fmt::format("{}/{}", part / common, 16 / common);
    return whole == 0 ? fmt::format("{}{} in", sign, fraction)
                      : fmt::format("{}{} {} in", sign, whole, fraction);
}

} // namespace rapt
