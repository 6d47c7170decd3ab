#include "sheets/sheets.h"

#include "run/sewn.h"
#include "sheets/board_pdf.h"
#include "sheets/sheet_content.h"
#include "sheets/tag_sheets.h"

#include <fmt/format.h>
#include <set>

namespace rapt {
namespace {

/// The hoops of the plan, once each.
std::vector<Hoop> hoopsOf(const SheetsRequest& r) {
    std::vector<Hoop> hoops;
    std::set<std::string> known;
    for (const Hooping& h : r.job.hoopings)
        if (known.insert(h.hoop).second)
            if (const auto hoop = r.library.hoop(h.hoop)) hoops.push_back(*hoop);
    return hoops;
}

Result<SheetContent> contentOf(const SheetsRequest& r) {
    SheetContent content{r, JobThreads(r.lists), {}, {}, threadSteps(r.lists, r.fabric)};
    auto work = workOf(r.job.hoopings, r.lists, r.machine, r.fabric, r.library);
    if (!work) return work.error();
    content.work = std::move(*work);
    Needles now = r.threaded;
    now.resize(static_cast<std::size_t>(r.machine.needles));
    auto needles = planNeedles(content.steps, now);
    if (!needles) return needles.error();
    content.needles = std::move(*needles);
    return content;
}

} // namespace

std::string SheetContent::threadText(std::size_t thread) const {
    return fmt::format("{}: {}", thread + 1, threads.threads()[thread].name);
}

std::string SheetContent::needleText(const Thread& thread) const {
    for (std::size_t n = 0; n < needles.start.size(); ++n)
        if (needles.start[n] && needles.start[n]->thread.sameThread(thread))
            return std::to_string(n + 1);
    for (std::size_t k = 0; k < steps.size(); ++k)
        if (steps[k].thread.sameThread(thread)) return fmt::format("{} later", needles.needleOf[k]);
    return {};
}

namespace {

/// Draws all pages that are wanted; gives how many.
Result<int> drawSheets(PdfPages& pages, const PdfFonts& fonts, const SheetsRequest& r,
                       std::stop_token stop) {
    if (r.lists.empty() && (r.parts.job || r.parts.hoopings))
        return cannotDo("no hoopings are planned; divide the job first");
    const auto content = contentOf(r);
    if (!content) return content.error();
    const Sheet sheet = sheetOf(r.printing.paper);
    int count = 0;
    if (r.parts.job) count += drawJobSheet(pages, fonts, *content);
    for (std::size_t i = 0; r.parts.hoopings && i < r.lists.size(); ++i) {
        if (stop.stop_requested()) return cancelled();
        count += drawHoopingSheet(pages, fonts, *content, i);
    }
    const TemplateContent layout = templateOf(r.job, r.stitched, r.library);
    if (r.parts.marking) count += drawMarkingPlan(pages, fonts, layout, sheet);
    if (r.parts.layout) {
        const auto drawn = drawTemplate(pages, fonts, layout, r.printing);
        if (!drawn) return drawn.error();
        count += *drawn;
    }
    if (stop.stop_requested()) return cancelled();
    if (r.parts.cards) count += drawCards(pages, fonts, sheet, r.cards);
    if (r.parts.tags) count += drawFrameTags(pages, fonts, sheet, hoopsOf(r));
    if (r.parts.board) {
        drawBoard(pages);
        ++count;
    }
    if (count == 0) return cannotDo("no sheet was asked for");
    return count;
}

} // namespace

Result<TemplateDocument> makeSheets(const SheetsRequest& request, std::stop_token stop) {
    const auto fonts = PdfFonts::load(request.printing.facesFolder);
    if (!fonts) return fonts.error();
    PdfPages pages(*fonts);
    const auto count = drawSheets(pages, *fonts, request, stop);
    if (!count) return count.error();
    auto pdf = pages.finish();
    if (!pdf) return pdf.error();
    return TemplateDocument{std::move(*pdf), *count};
}

Result<std::vector<Image>> pictureSheets(const SheetsRequest& request, double pixelsPerMm,
                                         std::stop_token stop) {
    const auto fonts = PdfFonts::load(request.printing.facesFolder);
    if (!fonts) return fonts.error();
    PdfPages pages(*fonts, pixelsPerMm);
    const auto count = drawSheets(pages, *fonts, request, stop);
    if (!count) return count.error();
    return pages.takePictures();
}

} // namespace rapt
