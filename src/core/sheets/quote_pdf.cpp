#include "sheets/quote_pdf.h"

#include "geometry/lengths.h"
#include "job/edit_lettering.h"
#include "sheets/page_parts.h"
#include "thread/measures.h"

#include <fmt/format.h>
#include <set>

namespace rapt {
namespace {

constexpr double textMm = 3.6, pictureMm = 85;
constexpr int usualQuantities[] = {1, 5, 10, 25, 50, 100};

void drawPicture(FlowingPages& flow, const QuoteRequest& r) {
    const Box box = r.job.cloth.box().grown(2);
    const double k = std::min(flow.width() / box.width(), pictureMm / box.height());
    const Vec2 corner = flow.room(box.height() * k + 4);
    PdfPages& pages = flow.page();
    pages.enter({corner.x + (flow.width() - box.width() * k) / 2, corner.y}, box, false, k);
    pages.rectangle(r.job.cloth.box(), pageInk, 0.3 / k);
    drawThread(pages, r.stitched, box, std::max(0.3, 0.1 / k), 0.1 / k);
    pages.leave();
}

std::string sizeText(double w, double h) {
    return fmt::format("{:.0f} × {:.0f} mm ({} × {})", w, h, formatLength(w, LengthUnit::inch),
                       formatLength(h, LengthUnit::inch));
}

void writeWhat(FlowingPages& flow, const QuoteRequest& r) {
    const auto fact = [&](const char* name, const std::string& words) {
        if (!words.empty()) flow.cells({{0, 34, name}, {36, flow.width() - 36, words}}, textMm);
    };
    const Box e = extentsOf(r.stitched);
    fact("For", r.job.brief.item);
    fact("Date", r.date);
    fact("Embroidery", sizeText(e.width(), e.height()));
    fact("Item",
         fmt::format("{}, {}", sizeText(r.job.cloth.widthMm, r.job.cloth.heightMm), r.fabric.name));
    // Two shades may have one name.
    std::set<std::string> names;
    for (const ThreadNeed& t : r.work.threads)
        names.insert(t.thread.name.empty() ? formatRgb(t.thread.color) : t.thread.name);
    std::string threads;
    for (const std::string& n : names) threads += (threads.empty() ? "" : ", ") + n;
    flow.skip(1);
    flow.write(fmt::format("Threads ({}): {}", r.work.threads.size(), threads), textMm);
    const auto lettering = letteringRecords(r.job);
    if (lettering.empty()) return;
    flow.heading("Words, as they will be sewn: please read them letter by letter");
    for (const LetteringRecord& l : lettering)
        flow.write(fmt::format("{}    (capitals {:.1f} mm)", l.text, l.capHeightMm), textMm, true,
                   4);
}

void writePrices(FlowingPages& flow, const QuoteRequest& r) {
    flow.heading("Price", 40);
    const auto row = [&](const std::array<std::string, 3>& w, bool bold) {
        flow.cells({{0, 40, w[0]}, {50, 40, w[1], true}, {100, 40, w[2], true}}, textMm, bold);
    };
    const std::string& sign = r.shop.currency;
    row({"Items", "Each, " + sign, "Together, " + sign}, true);
    std::set<int> quantities{r.quantity};
    // A price that was agreed on is the same for any number.
    if (r.job.brief.price <= 0)
        quantities.insert(std::begin(usualQuantities), std::end(usualQuantities));
    for (const int n : quantities) {
        const Price p = priceOf(r.work, r.job.brief, n, r.machine, r.shop);
        row({std::to_string(n), fmt::format("{:.2f}", p.each()), fmt::format("{:.2f}", p.price)},
            n == r.quantity);
    }
    flow.skip(2);
    flow.write(r.job.brief.blankCost > 0 ? "The item itself is in the price."
                                         : "The item itself is not in the price.",
               textMm);
    flow.write("Colours of thread differ a little from print and screen. A sample is sewn on "
               "similar cloth before the item.",
               textMm);
}

} // namespace

Result<TemplateDocument> makeQuote(const QuoteRequest& r) {
    if (r.work.stitches == 0) return cannotDo("there is nothing to sew, so there is no price");
    const auto fonts = PdfFonts::load(r.printing.facesFolder);
    if (!fonts) return fonts.error();
    PdfPages pages(*fonts);
    int count = 0;
    {
        FlowingPages flow(pages, *fonts, sheetOf(r.printing.paper), "Quote: " + r.job.name);
        writeWhat(flow, r);
        flow.skip(3);
        drawPicture(flow, r);
        writePrices(flow, r);
        count = flow.count();
    }
    auto pdf = pages.finish();
    if (!pdf) return pdf.error();
    return TemplateDocument{std::move(*pdf), count};
}

} // namespace rapt
