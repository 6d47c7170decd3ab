#include "sheets/page_parts.h"

#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double footMm = 9; ///< of the proving bar

/// As many characters as fit, at least two.
template<class Fits>
std::string shortenedToFit(const std::string& text, Fits fits) {
    std::string words = text;
    auto characters = static_cast<std::size_t>(std::count_if(text.begin(), text.end(), [](char c) {
        return (static_cast<unsigned char>(c) & 0xC0) != 0x80;
    }));
    while (characters > 2 && !fits(words)) words = shortened(text, --characters);
    return words;
}

} // namespace

Sheet sheetOf(Paper paper) { return paper == Paper::a4 ? Sheet{210, 297} : Sheet{215.9, 279.4}; }

std::string shortened(const std::string& text, std::size_t most) {
    std::size_t count = 0, end = 0;
    while (end < text.size() && count < most) {
        do ++end;
        while (end < text.size() && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80);
        ++count;
    }
    return end < text.size() ? text.substr(0, end) + "…" : text;
}

void drawProvingBar(PdfPages& pages, Vec2 from) {
    const Vec2 to = from + Vec2{provingBarMm, 0};
    pages.line(from, to, pageInk, 0.25);
    for (const Vec2 end : {from, to})
        pages.line(end - Vec2{0, 1.2}, end + Vec2{0, 1.2}, pageInk, 0.25);
    pages.text(to + Vec2{2, 1}, "this line is 100 mm long", 3, false);
}

void drawSwatch(PdfPages& pages, const Box& box, Rgb colour) {
    const auto corners = box.corners();
    pages.fill({corners.begin(), corners.end()}, colour);
    pages.rectangle(box, pageInk, 0.12);
}

void drawThread(PdfPages& pages, const StitchList& list, const Box& seen, double widthMm,
                double finestMm, std::optional<Rgb> colour) {
    constexpr std::size_t longest = 2000; // points of one path
    Polyline path;
    std::uint8_t thread = 0;
    Vec2 at; // where the path really is
    const auto flush = [&] {
        const Thread* t = list.find(thread);
        if (!path.empty() && !(path.back() == at)) path.push_back(at);
        if (path.size() > 1) pages.polyline(path, colour.value_or(t ? t->color : pageInk), widthMm);
        path.clear();
    };
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        if (!from) return;
        Box span;
        span.add(from->at());
        span.add(s.at());
        if (!span.overlaps(seen)) return;
        const bool joined = !path.empty() && s.thread == thread && at == from->at();
        if (!joined || path.size() > longest) {
            flush();
            thread = s.thread;
            path.push_back(from->at());
        }
        at = s.at();
        if (distance(path.back(), at) >= finestMm) path.push_back(at);
    });
    flush();
}

FlowingPages::FlowingPages(PdfPages& p, const PdfFonts& f, Sheet s, std::string t)
    : pages(p), fonts(f), sheet(s), title(std::move(t)) {
    begin();
}

FlowingPages::~FlowingPages() { end(); }

void FlowingPages::begin() {
    pages.begin(sheet.width, sheet.height);
    ++pageCount;
    y = pageMarginMm + 5;
    const std::string more = pageCount > 1 ? fmt::format(" ({})", pageCount) : std::string();
    const std::string head = shortenedToFit(
        title, [&](const std::string& t) { return fonts.widthMm(t + more, 5, true) <= width(); });
    pages.text({pageMarginMm, y}, head + more, 5, true);
    y += 4;
}

void FlowingPages::end() {
    drawProvingBar(pages, {pageMarginMm, sheet.height - pageMarginMm});
    pages.end();
}

Vec2 FlowingPages::room(double height) {
    if (y + height > sheet.height - pageMarginMm - footMm) {
        end();
        begin();
    }
    const Vec2 corner{pageMarginMm, y};
    y += height;
    return corner;
}

std::vector<std::string> FlowingPages::broken(const std::string& words, double size, bool bold,
                                              double wide) const {
    std::vector<std::string> lines;
    std::string line, rest = words;
    while (!rest.empty()) {
        const auto space = rest.find(' ');
        const std::string word = rest.substr(0, space);
        const std::string longer = line.empty() ? word : line + " " + word;
        if (!line.empty() && fonts.widthMm(longer, size, bold) > wide) {
            lines.push_back(line);
            line = word;
        } else {
            line = longer;
        }
        rest = space == std::string::npos ? std::string() : rest.substr(space + 1);
    }
    if (!line.empty()) lines.push_back(line);
    return lines;
}

void FlowingPages::write(const std::string& words, double size, bool bold, double indent) {
    for (const std::string& line : broken(words, size, bold, width() - indent)) {
        const Vec2 at = room(1.45 * size);
        pages.text({at.x + indent, at.y + 1.15 * size}, line, size, bold);
    }
}

void FlowingPages::cells(const std::vector<Cell>& row, double size, bool bold) {
    const Vec2 at = room(1.6 * size);
    for (const Cell& c : row) {
        const std::string words = shortenedToFit(
            c.words, [&](const std::string& t) { return fonts.widthMm(t, size, bold) <= c.width; });
        const double shift = c.right ? c.width - fonts.widthMm(words, size, bold) : 0;
        pages.text({at.x + c.at + shift, at.y + 1.2 * size}, words, size, bold);
    }
}

void FlowingPages::rule() {
    const Vec2 at = room(1.6);
    pages.line({at.x, at.y + 0.8}, {at.x + width(), at.y + 0.8}, softInk, 0.15);
}

void FlowingPages::heading(const std::string& words, double following) {
    skip(2.5);
    const Vec2 kept = room(5.5 + following);
    y = kept.y;
    write(words, 3.8, true);
}

} // namespace rapt
