#include "letter/caret.h"

#include <algorithm>

namespace rapt {
namespace {

/// A place in a letter's own upright frame: x from the middle of its advance, y from its baseline.
Vec2 onLetter(const PlacedLetter& l, Vec2 p) {
    const Turn t = turnOf(l.rotationDeg);
    return l.at + Vec2{p.x * t.cosine - p.y * t.sine, p.x * t.sine + p.y * t.cosine};
}
Vec2 inLetter(const PlacedLetter& l, Vec2 p) {
    const Turn t = turnOf(l.rotationDeg);
    const Vec2 d = p - l.at;
    return {d.x * t.cosine + d.y * t.sine, -d.x * t.sine + d.y * t.cosine};
}

Caret caretOf(const PlacedLetter& l, double x, double cap) {
    return {onLetter(l, {x, 0}), onLetter(l, {x, -cap})};
}

} // namespace

std::optional<Caret> caretBefore(const Setting& setting, const Lettering& lettering,
                                 std::size_t byte) {
    const double cap = lettering.capHeightMm;
    const PlacedLetter* last = nullptr;
    for (const PlacedLetter& l : setting.letters) {
        const std::size_t size = std::max<std::size_t>(1, l.text.size());
        if (byte >= l.byte && byte < l.byte + size) {
            const double share = static_cast<double>(byte - l.byte) / static_cast<double>(size);
            return caretOf(l, (share - 0.5) * l.advanceMm, cap);
        }
        if (l.byte + size <= byte && (!last || l.byte > last->byte)) last = &l;
    }
    if (!last) {
        if (setting.letters.empty()) return std::nullopt;
        return caretOf(setting.letters.front(), -setting.letters.front().advanceMm / 2, cap);
    }
    // After a line end the caret stands at the start of the line to come.
    const auto breaks = std::count(
        lettering.text.begin() + static_cast<std::ptrdiff_t>(last->byte),
        lettering.text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, lettering.text.size())),
        '\n');
    Caret caret = caretOf(*last, last->advanceMm / 2, cap);
    const Vec2 down =
        (caret.foot - caret.top) * (static_cast<double>(breaks) * lettering.lineGap() / cap);
    return Caret{caret.foot + down, caret.top + down};
}

std::size_t byteNear(const Setting& setting, const Lettering& lettering, Vec2 p) {
    double least = std::numeric_limits<double>::infinity();
    std::size_t byte = lettering.text.size();
    for (const PlacedLetter& l : setting.letters) {
        const Vec2 own = inLetter(l, p);
        const double dx = std::max(0.0, std::abs(own.x) - l.advanceMm / 2);
        const double dy = std::abs(own.y + lettering.capHeightMm / 2);
        if (const double d = std::hypot(dx, dy); d < least) {
            least = d;
            byte = own.x < 0 ? l.byte : l.byte + l.text.size();
        }
    }
    return byte;
}

int letterAt(const Setting& setting, const Lettering& lettering, Vec2 p) {
    const double cap = lettering.capHeightMm;
    for (const PlacedLetter& l : setting.letters) {
        if (l.glyphs.empty()) continue;
        const Vec2 own = inLetter(l, p);
        if (std::abs(own.x) <= l.advanceMm / 2 && own.y < 0.4 * cap && own.y > -1.3 * cap * l.scale)
            return l.index;
    }
    return -1;
}

std::vector<Vec2> letterFrame(const PlacedLetter& l, const Lettering& lettering) {
    const LetterChange* c = lettering.change(l.index);
    const Vec2 by = c ? Vec2{c->dxMm, c->dyMm} : Vec2{};
    const double half = l.advanceMm / 2, top = lettering.capHeightMm * l.scale;
    const double turn = c ? c->turnDeg : 0;
    const Turn t = turnOf(turn);
    std::vector<Vec2> corners;
    for (const Vec2 p : {Vec2{-half, 0}, Vec2{half, 0}, Vec2{half, -top}, Vec2{-half, -top}})
        corners.push_back(
            onLetter(l, by + Vec2{p.x * t.cosine - p.y * t.sine, p.x * t.sine + p.y * t.cosine}));
    return corners;
}

std::size_t previousCharacter(const std::string& text, std::size_t byte) {
    byte = std::min(byte, text.size());
    while (byte > 0 && (static_cast<unsigned char>(text[--byte]) & 0xC0) == 0x80) {
    }
    return byte;
}

std::size_t nextCharacter(const std::string& text, std::size_t byte) {
    if (byte >= text.size()) return text.size();
    ++byte;
    while (byte < text.size() && (static_cast<unsigned char>(text[byte]) & 0xC0) == 0x80) ++byte;
    return byte;
}

} // namespace rapt
