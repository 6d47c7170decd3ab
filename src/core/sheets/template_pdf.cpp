#include "sheets/template_pdf.h"

#include "job/outline.h"
#include "job/span_list.h"
#include "scan/tags.h"
#include "sheets/tag_sheets.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double marginMm = pageMarginMm;
constexpr double overlapMm = 10; ///< of neighbouring pages
constexpr double headMm = 17;    ///< title, scale line; thread names come below
constexpr double threadLineMm = 4.2;
constexpr double chartLineMm = 4.4;
constexpr std::size_t mostThreadLines = 8;
constexpr int maxPages = 400;
constexpr double hugMm = 0.5;            ///< from the thread to its outline
constexpr double shortHeadMm = 14;       ///< of a single page: title, sizes, bar
constexpr std::size_t mostFootLines = 2; ///< of thread names below a single page

/// How the content is cut into pages.
struct Tiling {
    Sheet sheet{};
    double tileWidth = 0, tileHeight = 0; ///< of content on one page
    int columns = 1, rows = 1;
    bool single = false; ///< all on one page, its middle in the middle
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

/// The lines, frames and marks of a layout on its cloth, to fit a width and a height.
void drawMarkingPicture(PdfPages& pages, const TemplateContent& content, Vec2 corner, double width,
                        double height) {
    Box box = *content.cloth;
    for (const Polyline& f : content.frames) box.add(boundsOf(f));
    const double k = std::min(width / box.width(), height / box.height());
    const auto at = [&](Vec2 p) {
        return Vec2{corner.x + (width - box.width() * k) / 2 + (p.x - box.minX) * k,
                    corner.y + (p.y - box.minY) * k};
    };
    const Vec2 low = at({content.cloth->minX, content.cloth->minY});
    const Vec2 high = at({content.cloth->maxX, content.cloth->maxY});
    pages.rectangle({low.x, low.y, high.x, high.y}, pageInk, 0.4);
    pages.dashedLine({low.x, at({0, 0}).y}, {high.x, at({0, 0}).y}, softInk, 0.2);
    pages.dashedLine({at({0, 0}).x, low.y}, {at({0, 0}).x, high.y}, softInk, 0.2);
    for (std::size_t i = 0; i < content.frames.size(); ++i) {
        if (content.frames[i].empty()) continue;
        Polyline outline;
        Vec2 middle;
        for (const Vec2& p : content.frames[i]) {
            outline.push_back(at(p));
            middle = middle + at(p);
        }
        outline.push_back(outline.front());
        pages.polyline(outline, softInk, 0.25);
        pages.text(middle * (1.0 / static_cast<double>(content.frames[i].size())),
                   std::to_string(i + 1), 5, true);
    }
    for (const Mark& m : content.marks) {
        const Vec2 p = at(m.at);
        pages.line(p - Vec2{1.6, 0}, p + Vec2{1.6, 0}, pageInk, 0.3);
        pages.line(p - Vec2{0, 1.6}, p + Vec2{0, 1.6}, pageInk, 0.3);
        pages.text(p + Vec2{1, -0.8}, m.name, 2.6, true);
    }
}

class TemplateDrawing {
public:
    TemplateDrawing(const TemplateContent& c, const TemplateOptions& o) : content(c), options(o) {
        measures = measure(*c.stitches);
        box = measures.extents;
        if (c.cloth) box.add(*c.cloth);
        for (const Mark& m : c.marks) box.add(m.at);
        for (const GuideLine& g : c.guides) box.add(boundsOf(g.line));
        if (o.look == TemplateLook::outline) outlines = linesAround(hugMm);
        if (o.cutMm > 0) cutLines = linesAround(o.cutMm);
        for (const Polyline& line : cutLines) box.add(boundsOf(line));
        box = box.grown(4);
        if (options.mirror) std::swap(box.minX = -box.minX, box.maxX = -box.maxX);
    }

    /// Gives how many pages were drawn.
    Result<int> run(PdfPages& pages, const PdfFonts& fonts) {
        if (measures.extents.empty()) return cannotDo("there are no stitches to draw");
        if (options.card && options.mirror)
            return cannotDo("a mirrored template lies on the wrong side, where no scan sees its "
                            "card; print it without one");
        if (options.card && content.cloth)
            return cannotDo("a card goes on the template of one hooping or piece");
        const Tiling tiling = content.cloth ? bestTiling(fonts) : cropped(fonts);
        if (tiling.pages() > maxPages)
            return cannotDo(fmt::format("the template would take {} pages, the most is {}",
                                        tiling.pages(), maxPages));
        for (int r = 0; r < tiling.rows; ++r)
            for (int c = 0; c < tiling.columns; ++c) drawPage(pages, tiling, r, c);
        return tiling.pages() + drawThreadChart(pages, fonts);
    }

private:
    /// On one page wherever the stitching fits, upright or level.
    Tiling cropped(const PdfFonts& fonts) {
        const Sheet upright = sheetOf(options.paper);
        for (const Sheet sheet : {upright, Sheet{upright.height, upright.width}}) {
            Tiling t;
            t.sheet = sheet;
            t.single = true;
            t.tileWidth = sheet.width - 2 * marginMm;
            t.tileHeight = sheet.height - 2 * marginMm - shortHeadMm;
            if (measures.extents.width() > t.tileWidth || measures.extents.height() > t.tileHeight)
                continue;
            wrapThreads(fonts, t.tileWidth);
            chartNeeded = options.chart;
            if (threadLines.size() > mostFootLines) {
                threadLines.resize(mostFootLines);
                threadLines.back() += "  …";
            }
            return t;
        }
        return bestTiling(fonts);
    }

    Tiling bestTiling(const PdfFonts& fonts) {
        const Sheet upright = sheetOf(options.paper);
        const Sheet level{upright.height, upright.width};
        Tiling best;
        for (const Sheet sheet : {upright, level}) {
            wrapThreads(fonts, sheet.width - 2 * marginMm);
            const double head = headMm + threadLineMm * static_cast<double>(threadLines.size());
            const Tiling t = tilingFor(sheet, head, box);
            if (best.tileWidth == 0 || t.pages() < best.pages()) best = t;
        }
        wrapThreads(fonts, best.sheet.width - 2 * marginMm);
        return best;
    }

    /// Closed lines round the stitching.
    std::vector<Polyline> linesAround(double offset) const {
        std::vector<Polyline> lines;
        if (measures.extents.empty()) return lines;
        for (const Polyline& c : contoursAround(*content.stitches, offset)) {
            lines.push_back(c);
            lines.back().push_back(c.front());
        }
        return lines;
    }

    void drawGrid(PdfPages& pages, const Box& seen) const {
        const Rgb pale{205, 205, 205};
        const double step = options.gridMm;
        for (double x = std::ceil(seen.minX / step) * step; x <= seen.maxX; x += step)
            pages.line({x, seen.minY}, {x, seen.maxY}, pale, 0.1);
        for (double y = std::ceil(seen.minY / step) * step; y <= seen.maxY; y += step)
            pages.line({seen.minX, y}, {seen.maxX, y}, pale, 0.1);
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
        chartNeeded = options.chart || threadLines.size() > mostThreadLines;
        if (threadLines.size() > mostThreadLines) {
            threadLines.resize(mostThreadLines);
            threadLines.back() += "  and more: see the thread chart";
        }
    }

    void drawPage(PdfPages& pages, const Tiling& t, int row, int column) {
        pages.begin(t.sheet.width, t.sheet.height);
        drawHead(pages, t, row, column);
        const double top =
            marginMm + (t.single ? shortHeadMm
                                 : headMm + threadLineMm * static_cast<double>(threadLines.size()));
        Vec2 origin{box.minX + column * (t.tileWidth - overlapMm),
                    box.minY + row * (t.tileHeight - overlapMm)};
        if (t.single) {
            Vec2 middle = measures.extents.centre();
            if (options.mirror) middle.x = -middle.x;
            origin = middle - Vec2{t.tileWidth / 2, t.tileHeight / 2};
        }
        const Box window{origin.x, origin.y, origin.x + t.tileWidth, origin.y + t.tileHeight};
        pages.enter({marginMm, top}, window, options.mirror);
        drawContent(pages, window);
        pages.leave();
        if (t.single)
            drawAxes(pages, t, top);
        else
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
        drawProvingBar(pages, {x, y});
        if (t.single) y = t.sheet.height - marginMm + 0.8 - threadLineMm / 2;
        for (const std::string& line : threadLines) {
            y += t.single ? threadLineMm * 0.8 : threadLineMm;
            pages.text({x, y + 1}, line, t.single ? 2.6 : 3, false);
        }
    }

    void drawContent(PdfPages& pages, const Box& window) {
        const Rgb rule{150, 150, 150};
        const Box seen =
            options.mirror ? Box{-window.maxX, window.minY, -window.minX, window.maxY} : window;
        if (content.cloth) pages.rectangle(*content.cloth, rule, 0.3);
        // The datum of a layout; of a design alone its middle, from edge to edge.
        const Vec2 cross = content.cloth ? Vec2{} : measures.extents.centre();
        if (!content.cloth && !outlines.empty())
            pages.rectangle(measures.extents, rule, 0.15); // the design's box
        pages.dashedLine({seen.minX, cross.y}, {seen.maxX, cross.y}, rule, 0.15);
        pages.dashedLine({cross.x, seen.minY}, {cross.x, seen.maxY}, rule, 0.15);
        for (const GuideLine& g : content.guides) {
            pages.polyline(g.line, {90, 90, 90}, 0.35);
            if (!g.line.empty()) pages.text(g.line.back() + Vec2{1.5, 3}, g.name, 2.8, false);
        }
        if (options.gridMm > 0) drawGrid(pages, seen);
        for (const Polyline& line : cutLines) pages.polyline(line, softInk, 0.2);
        for (const Polyline& line : outlines) pages.polyline(line, pageInk, 0.3);
        if (outlines.empty()) drawThread(pages, *content.stitches, seen.grown(1), 0.2);
        if (options.card)
            drawTemplateCard(pages, templateCardId + content.hooping,
                             templateCardAt(measures.extents));
        for (const Mark& m : content.marks) {
            pages.line(m.at - Vec2{5, 0}, m.at + Vec2{5, 0}, {0, 0, 0}, 0.2);
            pages.line(m.at - Vec2{0, 5}, m.at + Vec2{0, 5}, {0, 0, 0}, 0.2);
            pages.text(m.at + Vec2{1.5, -1.5}, m.name, 3.2, true);
        }
    }

    /// Every thread with its swatch: where it is asked for, or they do not all fit at the head.
    int drawThreadChart(PdfPages& pages, const PdfFonts& fonts) {
        if (!chartNeeded) return 0;
        FlowingPages flow(pages, fonts, sheetOf(options.paper),
                          shortened(content.title, 60) + ": threads");
        for (const ThreadUse& use : measures.threads) {
            if (use.stitches == 0) continue;
            const Vec2 at = flow.room(0);
            drawSwatch(pages, {at.x + 8, at.y + 0.8, at.x + 20, at.y + 4}, use.thread.color);
            flow.cells({{0, 7, std::to_string(use.thread.index)},
                        {23, 90, use.thread.name},
                        {115, 20, formatRgb(use.thread.color)},
                        {137, 16, fmt::format("{:g} wt", use.thread.weight)},
                        {155, 30, fmt::format("{:.1f} m", use.lengthMm / 1000), true}},
                       chartLineMm / 1.6 + 0.4);
        }
        return flow.count();
    }

    /// The cross through the middle, out to where paper can be printed on: it meets lines on the
    /// cloth; and which way is up.
    static void drawAxes(PdfPages& pages, const Tiling& t, double top) {
        const Vec2 middle{marginMm + t.tileWidth / 2, top + t.tileHeight / 2};
        const double right = t.sheet.width - marginMm, foot = t.sheet.height - marginMm;
        pages.dashedLine({marginMm, middle.y}, {right, middle.y}, softInk, 0.2);
        pages.dashedLine({middle.x, marginMm}, {middle.x, foot}, softInk, 0.2);
        const Vec2 tip{right - 4, top + 2};
        pages.polyline({tip + Vec2{-2, 4}, tip, tip + Vec2{2, 4}}, pageInk, 0.4);
        pages.line(tip, tip + Vec2{0, 9}, pageInk, 0.4);
        pages.text(tip + Vec2{-5.5, 12.5}, "far side", 2.8, false);
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
    std::vector<Polyline> outlines, cutLines; ///< in the content's frame
    bool chartNeeded = false;
};

} // namespace

int drawMarkingPlan(PdfPages& pages, const PdfFonts& fonts, const TemplateContent& content,
                    Sheet sheet) {
    if (content.plan.empty() || !content.cloth) return 0;
    FlowingPages flow(pages, fonts, sheet, shortened(content.title, 60) + ": marking plan");
    constexpr double pictureMm = 85;
    drawMarkingPicture(pages, content, flow.room(pictureMm + 4), flow.width(), pictureMm);
    for (const MarkingStep& step : content.plan) {
        flow.heading(step.head);
        for (const std::string& line : step.lines) flow.write(line, 3.2, false, 4);
    }
    return flow.count();
}

Result<int> drawTemplate(PdfPages& pages, const PdfFonts& fonts, const TemplateContent& content,
                         const TemplateOptions& options) {
    return TemplateDrawing(content, options).run(pages, fonts);
}

Result<TemplateDocument> makeTemplate(const TemplateContent& content,
                                      const TemplateOptions& options) {
    const auto fonts = PdfFonts::load(options.facesFolder);
    if (!fonts) return fonts.error();
    PdfPages pages(*fonts);
    const auto drawn = drawTemplate(pages, *fonts, content, options);
    if (!drawn) return drawn.error();
    const int plan = drawMarkingPlan(pages, *fonts, content, sheetOf(options.paper));
    auto pdf = pages.finish();
    if (!pdf) return pdf.error();
    return TemplateDocument{std::move(*pdf), *drawn + plan};
}

Result<CroppedTemplate> templateOf(const Job& job, const StitchedJob& stitched,
                                   const std::vector<HoopingList>& lists,
                                   const TemplateScope& scope) {
    const auto make = [](std::string title, StitchList list) {
        CroppedTemplate made;
        made.list = std::make_shared<const StitchList>(std::move(list));
        made.content.title = std::move(title);
        made.content.stitches = made.list.get();
        return made;
    };
    if (!scope.piece.empty()) {
        const Piece* piece = job.piece(scope.piece);
        for (const PieceSpan& span : stitched.spans)
            if (piece && span.source == scope.piece && span.copy == 1 && !span.outline)
                return make(job.name + ": " + piece->name, listOf(stitched, span));
        std::string known;
        for (const Piece& p : job.pieces) known += (known.empty() ? "" : ", ") + p.id;
        return cannotDo(
            fmt::format("there is no piece '{}' that is sewn; known are: {}", scope.piece, known));
    }
    const int count = static_cast<int>(lists.size());
    if (scope.hooping && (*scope.hooping < 1 || *scope.hooping > count))
        return cannotDo(
            fmt::format("there is no hooping {}; the job has {}", *scope.hooping, count));
    const int number = scope.hooping ? *scope.hooping : count == 1 ? 1 : 0;
    if (number == 0) return make(job.name, stitched.list);
    const auto k = static_cast<std::size_t>(number) - 1;
    auto made = make(fmt::format("{}: hooping {}", job.name, number), lists[k].list);
    made.content.hooping = number <= lastTagId - templateCardId ? number : 0;
    const Affine toField = job.hoopings[k].pose.affine().inverse();
    for (Mark mark : job.hoopings[k].marks) {
        mark.at = toField(mark.at);
        made.content.marks.push_back(std::move(mark));
    }
    return made;
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
