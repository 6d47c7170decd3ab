#include "thread/stitch_list.h"

#include <fmt/format.h>

namespace rapt {
namespace {

int hexDigit(char c) {
    if (c >= '0' && c <= '9') return c - '0';
    if (c >= 'a' && c <= 'f') return c - 'a' + 10;
    if (c >= 'A' && c <= 'F') return c - 'A' + 10;
    return -1;
}

} // namespace

std::int32_t toUnits(double mm) { return static_cast<std::int32_t>(std::llround(mm * unitsPerMm)); }

Stitch stitchAt(Op op, Vec2 mm, std::uint8_t thread) {
    return {toUnits(mm.x), toUnits(mm.y), op, thread};
}

bool parseRgb(std::string_view text, Rgb& out) {
    if (text.size() != 7 || text[0] != '#') return false;
    std::uint8_t bytes[3];
    for (std::size_t i = 0; i < 3; ++i) {
        const int high = hexDigit(text[1 + 2 * i]);
        const int low = hexDigit(text[2 + 2 * i]);
        if (high < 0 || low < 0) return false;
        bytes[i] = static_cast<std::uint8_t>(high * 16 + low);
    }
    out = {bytes[0], bytes[1], bytes[2]};
    return true;
}

std::string formatRgb(Rgb c) { return fmt::format("#{:02x}{:02x}{:02x}", c.r, c.g, c.b); }

double apparentWidthMm(double weight) {
    constexpr struct {
        double weight, width;
    } table[] = {{12, 0.80}, {30, 0.50}, {40, 0.40}, {60, 0.28}};
    if (weight <= table[0].weight) return table[0].width;
    for (int i = 1; i < 4; ++i) {
        const auto& low = table[i - 1];
        const auto& high = table[i];
        if (weight > high.weight) continue;
        const double t = (weight - low.weight) / (high.weight - low.weight);
        return low.width + (high.width - low.width) * t;
    }
    return table[3].width;
}

Thread defaultThread(std::uint8_t index) {
    constexpr Rgb cycle[] = {{31, 78, 121},  {194, 65, 12},  {47, 109, 58},  {227, 167, 47},
                             {122, 106, 82}, {112, 48, 110}, {14, 116, 124}, {69, 74, 84}};
    return {index, cycle[(index - 1) % 8], 40, fmt::format("Thread {}", index)};
}

const Thread* StitchList::find(std::uint8_t index) const {
    for (const Thread& t : threads)
        if (t.index == index) return &t;
    return nullptr;
}

bool sews(const StitchList& list) {
    return std::any_of(list.stitches.begin(), list.stitches.end(),
                       [](const Stitch& s) { return s.op == Op::stitch; });
}

std::array<float, 256> widthTable(const StitchList& list) {
    std::array<float, 256> widths{};
    for (const Thread& t : list.threads)
        widths[t.index] = static_cast<float>(apparentWidthMm(t.weight));
    return widths;
}

} // namespace rapt
