#include "letter/monogram.h"

#include "letter/stitching.h"
#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

/// The first character of a name, blanks left out.
std::string initialOf(const std::string& name) {
    std::size_t i = name.find_first_not_of(" \t");
    if (i == std::string::npos) return {};
    std::size_t end = i + 1;
    while (end < name.size() && (static_cast<unsigned char>(name[end]) & 0xC0) == 0x80) ++end;
    std::string letter = name.substr(i, end - i);
    if (letter.size() == 1 && letter[0] >= 'a' && letter[0] <= 'z')
        letter[0] = static_cast<char>(letter[0] - 'a' + 'A');
    return letter;
}

Polyline frameLine(MonogramFrame frame, double halfWidth, double halfHeight) {
    if (frame == MonogramFrame::diamond) {
        const double size = halfWidth + halfHeight;
        return {{0, -size}, {size, 0}, {0, size}, {-size, 0}};
    }
    if (frame == MonogramFrame::rectangle)
        return {{-halfWidth, -halfHeight},
                {halfWidth, -halfHeight},
                {halfWidth, halfHeight},
                {-halfWidth, halfHeight}};
    const double k = frame == MonogramFrame::circle ? 1 : std::numbers::sqrt2;
    const double a =
        frame == MonogramFrame::circle ? std::hypot(halfWidth, halfHeight) : halfWidth * k;
    const double b = frame == MonogramFrame::circle ? a : halfHeight * k;
    Polyline line;
    for (int i = 0; i < 120; ++i) {
        const double t = i * std::numbers::pi / 60;
        line.push_back({a * std::sin(t), -b * std::cos(t)});
    }
    return line;
}

/// A satin ring between a line and the same line moved outwards.
Shape ringShape(const Polyline& inner, double widthMm, const Thread& thread, double pitchMm) {
    ShapePart part;
    part.kind = StitchKind::satin;
    part.thread = thread;
    part.spacingMm = pitchMm;
    part.underlay = Underlay::light;
    part.paired = true;
    // Corners are moved out along their bisectors, so that rows stay paired.
    Polyline in, out;
    const std::size_t n = inner.size();
    for (std::size_t k = 0; k <= n; ++k) {
        const Vec2 before = inner[(k + n - 1) % n], at = inner[k % n], after = inner[(k + 1) % n];
        const auto normal = [](Vec2 a, Vec2 b) {
            const Vec2 d = b - a;
            return Vec2{d.y, -d.x} * (1 / length(d));
        };
        const Vec2 u = normal(before, at), v = normal(at, after), sum = u + v;
        in.push_back(at);
        out.push_back(at + sum * (2 * widthMm / dot(sum, sum)));
    }
    part.lines = {in, out};
    return {{part}, {}};
}

struct Ordered {
    std::vector<std::string> initials;
    int larger = -1;
    std::string words;
};

Ordered inOrder(const MonogramRequest& r) {
    const std::string given = initialOf(r.given), middle = initialOf(r.middle),
                      surname = initialOf(r.surname);
    Ordered result;
    if (r.order == MonogramOrder::surname && !given.empty() && !middle.empty() &&
        !surname.empty()) {
        result.initials = {given, surname, middle};
        result.larger = 1;
        result.words =
            fmt::format("Read {0} {1} {2}: the surname's {1} stands larger in the middle, the "
                        "given name's {0} before it, the middle name's {2} after it.",
                        given, surname, middle);
        return result;
    }
    for (const std::string& s : {given, middle, surname})
        if (!s.empty()) result.initials.push_back(s);
    std::string all;
    for (const std::string& s : result.initials) all += (all.empty() ? "" : " ") + s;
    const bool fewer = r.order == MonogramOrder::surname;
    result.words = fewer ? fmt::format("Read {}: a larger surname in the middle needs three "
                                       "initials, so they stand equal, in the order of the names.",
                                       all)
                         : fmt::format("Read {}: equal initials in the order of the names, given "
                                       "name first, surname last.",
                                       all);
    return result;
}

} // namespace

Result<Monogram> makeMonogram(const MonogramRequest& r) {
    const Ordered ordered = inOrder(r);
    if (ordered.initials.empty()) return cannotDo("a monogram needs at least one initial");
    Monogram m;
    m.order = ordered.words;
    m.lettering = r.look;
    m.lettering.letters.clear();
    m.lettering.line = {};
    const bool stacked = r.layout == MonogramLayout::stacked;
    m.lettering.text.clear();
    for (const std::string& s : ordered.initials)
        m.lettering.text += (stacked && !m.lettering.text.empty() ? "\n" : "") + s;
    if (ordered.larger >= 0) {
        LetterChange& change = m.lettering.changeOf(ordered.larger);
        change.scale = r.middleScale;
        // All share their middle height.
        if (!stacked) change.dyMm = (r.middleScale - 1) / 2 * r.look.capHeightMm;
    }
    if (stacked) {
        m.lettering.lineGapMm = r.look.capHeightMm * (ordered.larger >= 0 ? 1.2 : 1.25);
        if (ordered.larger >= 0) {
            const double grown = (r.middleScale - 1) * r.look.capHeightMm;
            m.lettering.changeOf(1).dyMm = grown;
            m.lettering.changeOf(2).dyMm = grown;
        }
    }
    const auto stitched = stitchLettering(m.lettering);
    if (!stitched) return stitched.error();
    const Box box = extentsOf(stitched->list);
    m.shift = box.centre() * -1;
    if (r.frame != MonogramFrame::none)
        m.frame = ringShape(
            frameLine(r.frame, box.width() / 2 + r.frameGapMm, box.height() / 2 + r.frameGapMm),
            r.frameWidthMm, r.look.thread, r.look.pitchMm);
    return m;
}

} // namespace rapt
