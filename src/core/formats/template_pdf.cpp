#include "formats/template_pdf.h"

#include "formats/pdf_pages.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double marginMm = 10;
constexpr double overlapMm = 10; ///< of neighbouring pages
constexpr double headMm = 17;    ///< title, scale line; thread names come below
constexpr double threadLineMm = 4.2;
constexpr int maxPages = 400;
constexpr double checkLineMm = 100;

/// The first `most` characters, whole, with an ellipsis where some are left out.
std::string shortened(const std::string& text, std::size_t most) {
    std::size_t count = 0, end = 0;
    while (end < text.size() && count < most) {
        do ++end;
        while (end < text.size() && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80);
        ++count;
    }
    return end < text.size() ? text.substr(0, end) + "…" : text;
}

struct Sheet {
    double width, height;
};

Sheet sheetOf(Paper paper) { return paper == Paper::a4 ? Sheet{210, 297} : Sheet{215.9, 279.4}; }

/// How the content is cut into pages.
struct Tiling {
    Sheet sheet{};
    double tileWidth = 0, tileHeight = 0; ///< of content on one page
    int columns = 1, rows = 1;
    int pages() const { return columns * rows; }
};

int tilesFor(double content, double tile) {
    if (content <= tile) return 1;
    return 1 + static_cast<int>(std::ceil((content - tile) / (tile - overlapMm) - 1e-9));
}

Tiling tilingFor(Sheet sheet, double head, const Box& box) {
    Tiling t;
    t.sheet = sheet;
    t.tileWidth = sheet.width - 2 * marginMm;
    t.tileHeight = sheet.height - 2 * marginMm - head;
    t.columns = tilesFor(box.width(), t.tileWidth);
    t.rows = tilesFor(box.height(), t.tileHeight);
    return t;
}

/// The marking plan: a small picture of cloth, lines, frames and marks, and what to do in words.
class MarkingPages {
public:
    MarkingPages(PdfPages& p, const PdfFonts& f, const TemplateContent& c, Sheet s)
        : pages(p), fonts(f), content(c), sheet(s) {}

    /// How many pages it took.
    int draw() {
        if (content.plan.empty() || !content.cloth) return 0;
        beginPage();
        drawPicture();
        for (const MarkingStep& step : content.plan) {
            y += 2.5;
            write(step.head, 3.8, true, 0);
            for (const std::string& line : step.lines) write(line, 3.2, false, 4);
        }
        pages.end();
        return count;
    }

private:
    void beginPage() {
        pages.begin(sheet.width, sheet.height);
        ++count;
        y = marginMm + 4;
        pages.text({marginMm, y},
                   shortened(content.title, 60) + (count == 1 ? ": marking plan" : ", continued"),
                   4.5, true);
        y += 5;
    }

    void drawPicture() {
        Box box = *content.cloth;
        for (const Polyline& f : content.frames) box.add(boundsOf(f));
        const double width = sheet.width - 2 * marginMm, height = 85;
        const double k = std::min(width / box.width(), height / box.height());
        const auto at = [&](Vec2 p) {
            return Vec2{marginMm + (width - box.width() * k) / 2 + (p.x - box.minX) * k,
                        y + (p.y - box.minY) * k};
        };
        const Rgb ink{29, 42, 51}, soft{140, 140, 140};
        const Vec2 low = at({content.cloth->minX, content.cloth->minY});
        const Vec2 high = at({content.cloth->maxX, content.cloth->maxY});
        pages.rectangle({low.x, low.y, high.x, high.y}, ink, 0.4);
        pages.dashedLine({low.x, at({0, 0}).y}, {high.x, at({0, 0}).y}, soft, 0.2);
        pages.dashedLine({at({0, 0}).x, low.y}, {at({0, 0}).x, high.y}, soft, 0.2);
        for (std::size_t i = 0; i < content.frames.size(); ++i) {
            Polyline outline;
            for (const Vec2& p : content.frames[i]) outline.push_back(at(p));
            if (!outline.empty()) outline.push_back(outline.front());
            pages.polyline(outline, soft, 0.25);
            Vec2 middle;
            for (const Vec2& p : content.frames[i]) middle = middle + at(p);
            if (!content.frames[i].empty())
                pages.text(middle * (1.0 / static_cast<double>(content.frames[i].size())),
                           std::to_string(i + 1), 5, true);
        }
        for (const Mark& m : content.marks) {
            const Vec2 p = at(m.at);
            pages.line(p - Vec2{1.6, 0}, p + Vec2{1.6, 0}, ink, 0.3);
            pages.line(p - Vec2{0, 1.6}, p + Vec2{0, 1.6}, ink, 0.3);
            pages.text(p + Vec2{1, -0.8}, m.name, 2.6, true);
        }
        y += box.height() * k + 4;
    }

    /// Words broken into lines that fit, on a new page where this one is full.
    void write(const std::string& words, double size, bool bold, double indent) {
        const double width = sheet.width - 2 * marginMm - indent;
        std::string line, rest = words;
        const auto flush = [&] {
            if (y + 1.5 * size > sheet.height - marginMm) {
                pages.end();
                beginPage();
            }
            y += 1.45 * size;
            pages.text({marginMm + indent, y}, line, size, bold);
            line.clear();
        };
        while (!rest.empty()) {
            const auto space = rest.find(' ');
            const std::string word = rest.substr(0, space);
            const std::string longer = line.empty() ? word : line + " " + word;
            if (!line.empty() && fonts.widthMm(longer, size, bold) > width) {
                flush();
                line = word;
            } else {
                line = longer;
            }
            rest = space == std::string::npos ? std::string() : rest.substr(space + 1);
        }
        if (!line.empty()) flush();
    }

    PdfPages& pages;
    const PdfFonts& fonts;
    const TemplateContent& content;
    Sheet sheet;
    double y = 0;
    int count = 0;
};

class TemplateDrawing {
public:
    TemplateDrawing(const TemplateContent& c, const TemplateOptions& o) : content(c), options(o) {
        measures = measure(*c.stitches);
        box = measures.extents;
        if (c.cloth) box.add(*c.cloth);
        for (const Mark& m : c.marks) box.add(m.at);
        for (const GuideLine& g : c.guides) box.add(boundsOf(g.line));
        box = box.grown(4);
        if (options.mirror) std::swap(box.minX = -box.minX, box.maxX = -box.maxX);
    }

    Result<TemplateDocument> run() {
        if (measures.extents.empty()) return cannotDo("there are no stitches to draw");
        const auto fonts = PdfFonts::load(options.facesFolder);
        if (!fonts) return fonts.error();
        const Tiling tiling = bestTiling(*fonts);
        if (tiling.pages() > maxPages)
            return cannotDo(fmt::format("the template would take {} pages, the most is {}",
                                        tiling.pages(), maxPages));
        PdfPages pages(*fonts);
        for (int r = 0; r < tiling.rows; ++r)
            for (int c = 0; c < tiling.columns; ++c) drawPage(pages, tiling, r, c);
        const int planPages = MarkingPages(pages, *fonts, content, sheetOf(options.paper)).draw();
        auto pdf = pages.finish();
        if (!pdf) return pdf.error();
        return TemplateDocument{std::move(*pdf), tiling.pages() + planPages};
    }

private:
    Tiling bestTiling(const PdfFonts& fonts) {
        const Sheet upright = sheetOf(options.paper);
        const Sheet level{upright.height, upright.width};
        Tiling best;
        for (const Sheet sheet : {upright, level}) {
            wrapThreads(fonts, sheet.width - 2 * marginMm);
            const double head = headMm + threadLineMm * static_cast<double>(threadLines.size());
            const Tiling t = tilingFor(sheet, head, box);
            if (best.tileWidth == 0 || t.pages() < best.pages()) {
                best = t;
                bestLines = threadLines;
            }
        }
        threadLines = bestLines;
        return best;
    }

    /// Thread names with their order, broken into lines that fit the page.
    void wrapThreads(const PdfFonts& fonts, double width) {
        threadLines.clear();
        std::string line;
        for (const ThreadUse& use : measures.threads) {
            if (use.stitches == 0) continue;
            const std::string word = fmt::format(
                "{} {} ({}, {:g} wt, {:.1f} m)", use.thread.index, shortened(use.thread.name, 40),
                formatRgb(use.thread.color), use.thread.weight, use.lengthMm / 1000);
            const std::string longer = line.empty() ? word : line + "  ·  " + word;
            if (!line.empty() && fonts.widthMm(longer, 3, false) > width) {
                threadLines.push_back(line);
                line = word;
            } else {
                line = longer;
            }
        }
        if (!line.empty()) threadLines.push_back(line);
        if (threadLines.size() > 8) {
            threadLines.resize(8);
            threadLines.back() += "  and more";
        }
    }

    void drawPage(PdfPages& pages, const Tiling& t, int row, int column) {
        pages.begin(t.sheet.width, t.sheet.height);
        drawHead(pages, t, row, column);
        const double top =
            marginMm + headMm + threadLineMm * static_cast<double>(threadLines.size());
        const Vec2 origin{box.minX + column * (t.tileWidth - overlapMm),
                          box.minY + row * (t.tileHeight - overlapMm)};
        const Box window{origin.x, origin.y, origin.x + t.tileWidth, origin.y + t.tileHeight};
        pages.enter({marginMm, top}, window, options.mirror);
        drawContent(pages, window);
        pages.leave();
        drawJoins(pages, t, row, column, top);
        pages.end();
    }

    void drawHead(PdfPages& pages, const Tiling& t, int row, int column) {
        const double x = marginMm;
        double y = marginMm;
        pages.text({x, y + 4}, shortened(content.title, 70) + (options.mirror ? " (mirrored)" : ""),
                   4.5, true);
        const Box& e = measures.extents;
        pages.text({x, y + 8.6},
                   fmt::format("{:.1f} × {:.1f} mm  ·  {} stitches  ·  page {} of {}, row {}, "
                               "column {}  ·  print at 100 %, do not fit to page",
                               e.width(), e.height(), measures.stitches,
                               row * t.columns + column + 1, t.pages(), row + 1, column + 1),
                   3, false);
        y += 12;
        pages.line({x, y}, {x + checkLineMm, y}, {29, 42, 51}, 0.25);
        for (const double end : {0.0, checkLineMm})
            pages.line({x + end, y - 1.2}, {x + end, y + 1.2}, {29, 42, 51}, 0.25);
        pages.text({x + checkLineMm + 2, y + 1}, "this line is 100 mm long", 3, false);
        for (const std::string& line : threadLines) {
            y += threadLineMm;
            pages.text({x, y + 1}, line, 3, false);
        }
    }

    void drawContent(PdfPages& pages, const Box& window) {
        const Rgb rule{150, 150, 150};
        const Box seen =
            options.mirror ? Box{-window.maxX, window.minY, -window.minX, window.maxY} : window;
        if (content.cloth) pages.rectangle(*content.cloth, rule, 0.3);
        pages.dashedLine({seen.minX, 0}, {seen.maxX, 0}, rule, 0.15);
        pages.dashedLine({0, seen.minY}, {0, seen.maxY}, rule, 0.15);
        for (const GuideLine& g : content.guides) {
            pages.polyline(g.line, {90, 90, 90}, 0.35);
            if (!g.line.empty()) pages.text(g.line.back() + Vec2{1.5, 3}, g.name, 2.8, false);
        }
        drawStitches(pages, seen.grown(1));
        for (const Mark& m : content.marks) {
            pages.line(m.at - Vec2{5, 0}, m.at + Vec2{5, 0}, {0, 0, 0}, 0.2);
            pages.line(m.at - Vec2{0, 5}, m.at + Vec2{0, 5}, {0, 0, 0}, 0.2);
            pages.text(m.at + Vec2{1.5, -1.5}, m.name, 3.2, true);
        }
    }

    /// One path for every stretch of one thread, leaving out what lies off the page.
    void drawStitches(PdfPages& pages, const Box& seen) {
        const StitchList& list = *content.stitches;
        Polyline path;
        std::uint8_t thread = 0;
        const auto flush = [&] {
            if (const Thread* t = list.find(thread); t && path.size() > 1)
                pages.polyline(path, t->color, 0.2);
            path.clear();
        };
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = list.stitches[i];
            if (!from) return;
            Box span;
            span.add(from->at());
            span.add(s.at());
            if (!span.overlaps(seen)) return;
            const bool joined = !path.empty() && s.thread == thread && path.back() == from->at();
            if (!joined || path.size() > 2000) {
                flush();
                thread = s.thread;
                path.push_back(from->at());
            }
            path.push_back(s.at());
        });
        flush();
    }

    /// Crosses in the middle of the overlaps, with the same letter on the pages that meet there.
    void drawJoins(PdfPages& pages, const Tiling& t, int row, int column, double top) {
        const auto cross = [&](Vec2 p, const std::string& name) {
            pages.line(p - Vec2{4, 0}, p + Vec2{4, 0}, {0, 0, 0}, 0.15);
            pages.line(p - Vec2{0, 4}, p + Vec2{0, 4}, {0, 0, 0}, 0.15);
            pages.text(p + Vec2{1, -1}, name, 2.8, false);
        };
        const double half = overlapMm / 2;
        for (int corner = 0; corner < 2; ++corner) {
            const double y = top + (corner == 0 ? t.tileHeight * 0.25 : t.tileHeight * 0.75);
            const double x = marginMm + (corner == 0 ? t.tileWidth * 0.25 : t.tileWidth * 0.75);
            const auto side = [&](int c) {
                return fmt::format("V{}.{}.{}", row + 1, c, corner + 1);
            };
            const auto edge = [&](int r) {
                return fmt::format("H{}.{}.{}", r, column + 1, corner + 1);
            };
            if (column > 0) cross({marginMm + half, y}, side(column));
            if (column + 1 < t.columns) cross({marginMm + t.tileWidth - half, y}, side(column + 1));
            if (row > 0) cross({x, top + half}, edge(row));
            if (row + 1 < t.rows) cross({x, top + t.tileHeight - half}, edge(row + 1));
        }
    }

    const TemplateContent& content;
    const TemplateOptions& options;
    Measures measures;
    Box box;
    std::vector<std::string> threadLines;
    std::vector<std::string> bestLines;
};

} // namespace

Result<TemplateDocument> makeTemplate(const TemplateContent& content,
                                      const TemplateOptions& options) {
    return TemplateDrawing(content, options).run();
}

TemplateContent templateOf(const Job& job, const StitchList& stitched, const Library& library) {
    TemplateContent content{job.name, &stitched, job.cloth.box(), {}, job.cloth.guides};
    content.plan = markingPlan(job, library);
    int clamping = 0;
    for (const Hooping& h : job.hoopings) {
        for (const Mark& m : h.marks)
            if (std::find(content.marks.begin(), content.marks.end(), m) == content.marks.end())
                content.marks.push_back(m);
        const auto hoop = library.hoop(h.hoop);
        if (h.clamping == clamping || !hoop) continue;
        clamping = h.clamping;
        Polyline& frame = content.frames.emplace_back();
        for (const Vec2& corner : hoop->outer().corners())
            frame.push_back(h.frame.affine()(corner));
    }
    return content;
}

} // namespace rapt
