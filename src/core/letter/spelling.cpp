#include "letter/spelling.h"

#include <algorithm>
#include <fribidi/fribidi.h>
#include <hb.h>
#include <vector>

namespace rapt {
namespace {

// From this many characters on a slip is likelier than another person: Anna and Hanna are two.
constexpr std::size_t slipLetters = 8;

using Letters = std::vector<hb_codepoint_t>;

Letters pointsOf(const std::string& text) {
    std::vector<FriBidiChar> points(text.size() + 1);
    const FriBidiStrIndex count =
        fribidi_charset_to_unicode(FRIBIDI_CHAR_SET_UTF8, text.data(),
                                   static_cast<FriBidiStrIndex>(text.size()), points.data());
    return Letters(points.begin(), points.begin() + count);
}

/// Letters that have no accent to take off, and what they are written as where they are lacking.
const char* plainOf(hb_codepoint_t c) {
    switch (c) {
    case 0xDF:
        return "ss";
    case 0xC6:
    case 0xE6:
        return "ae";
    case 0xD8:
    case 0xF8:
        return "o";
    case 0x110:
    case 0x111:
        return "d";
    case 0x141:
    case 0x142:
        return "l";
    case 0x152:
    case 0x153:
        return "oe";
    default:
        return nullptr;
    }
}

/// Without accents, of the Latin letters small ones, without signs that stand between.
void fold(hb_codepoint_t c, Letters& out) {
    hb_unicode_funcs_t* unicode = hb_unicode_funcs_get_default();
    hb_codepoint_t base = 0, mark = 0;
    while (hb_unicode_decompose(unicode, c, &base, &mark)) c = base;
    if (const char* plain = plainOf(c)) {
        for (; *plain; ++plain) out.push_back(static_cast<unsigned char>(*plain));
        return;
    }
    const auto category = hb_unicode_general_category(unicode, c);
    const bool between = (category >= HB_UNICODE_GENERAL_CATEGORY_SPACING_MARK &&
                          category <= HB_UNICODE_GENERAL_CATEGORY_NON_SPACING_MARK) ||
                         c == '-' || c == '.' || c == '\'' || c == ' ' || c == 0x2019 ||
                         c == 0x2010 || c == 0xA0 || c == '\n';
    if (!between) out.push_back(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
}

/// A name as it is compared.
struct Spelled {
    Letters written; ///< but for case and line ends
    Letters key;
};

Spelled spelled(const std::string& name) {
    Spelled s;
    for (const hb_codepoint_t c : pointsOf(name)) {
        s.written.push_back(c == '\n' ? ' ' : c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
        fold(c, s.key);
    }
    return s;
}

bool isDigit(hb_codepoint_t c) { return c >= '0' && c <= '9'; }

/// One letter too many, another one, or two exchanged; digits are never a slip.
bool oneSlip(const Letters& a, const Letters& b) {
    if (a.size() > b.size()) return oneSlip(b, a);
    const std::size_t same =
        static_cast<std::size_t>(std::mismatch(a.begin(), a.end(), b.begin()).first - a.begin());
    std::size_t tail = 0;
    while (tail < a.size() - same && a[a.size() - 1 - tail] == b[b.size() - 1 - tail]) ++tail;
    const std::size_t inA = a.size() - same - tail, inB = b.size() - same - tail;
    for (std::size_t i = same; i < same + inB; ++i)
        if (isDigit(b[i]) || (i < same + inA && isDigit(a[i]))) return false;
    if (inB == 1) return inA <= 1;
    return inA == 2 && inB == 2 && a[same] == b[same + 1] && a[same + 1] == b[same];
}

} // namespace

std::vector<std::pair<std::size_t, std::size_t>>
spelledTwoWays(const std::vector<std::string>& names) {
    std::vector<Spelled> all;
    std::vector<std::pair<std::size_t, std::size_t>> pairs;
    for (std::size_t i = 0; i < names.size(); ++i) {
        all.push_back(spelled(names[i]));
        const Spelled& b = all.back();
        const auto like = std::find_if(all.begin(), all.end() - 1, [&](const Spelled& a) {
            if (a.written == b.written) return false;
            return a.key == b.key ||
                   (std::min(a.key.size(), b.key.size()) >= slipLetters && oneSlip(a.key, b.key));
        });
        if (like != all.end() - 1) pairs.emplace_back(like - all.begin(), i);
    }
    return pairs;
}

} // namespace rapt
