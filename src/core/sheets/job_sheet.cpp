#include "estimate/timing.h"
#include "geometry/lengths.h"
#include "job/hooping_name.h"
#include "sheets/sheet_content.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double pictureMm = 88;
constexpr double textMm = 3.3;

/// Cloth, frames with their numbers, and the thread, as large as the height allows.
void drawLayout(FlowingPages& flow, const SheetsRequest& r) {
    PdfPages& pages = flow.page();
    const double width = flow.width();
    const Job& job = r.job;
    const TemplateContent marks = templateOf(job, r.stitched, r.library);
    Box box = job.cloth.box();
    for (const Polyline& f : marks.frames) box.add(boundsOf(f));
    box = box.grown(2);
    const double k = std::min(width / box.width(), pictureMm / box.height());
    const Vec2 corner = flow.room(box.height() * k + 3);
    pages.enter({corner.x + (width - box.width() * k) / 2, corner.y}, box, false, k);
    pages.rectangle(job.cloth.box(), pageInk, 0.3 / k);
    drawThread(pages, r.stitched, box, std::max(0.3, 0.1 / k), 0.1 / k);
    int clamping = 0;
    for (Polyline frame : marks.frames) {
        if (frame.empty()) continue;
        frame.push_back(frame.front());
        pages.polyline(frame, softInk, 0.3 / k);
        pages.text(frame.front() + Vec2{2 / k, 5 / k}, std::to_string(++clamping), 4.5 / k, true);
    }
    pages.leave();
}

void writeFacts(FlowingPages& flow, const SheetContent& c) {
    const SheetsRequest& r = c.request;
    const Job& job = r.job;
    const Box e = extentsOf(r.stitched);
    const auto fact = [&](const char* name, const std::string& words) {
        if (!words.empty()) flow.cells({{0, 34, name}, {36, flow.width() - 36, words}}, textMm);
    };
    const auto both = [](double w, double h) {
        return fmt::format("{:.1f} × {:.1f} mm ({} × {})", w, h, formatLength(w, LengthUnit::inch),
                           formatLength(h, LengthUnit::inch));
    };
    int clampings = 0;
    for (const Hooping& h : job.hoopings) clampings = std::max(clampings, h.clamping);
    fact("Item", job.brief.item.empty()
                     ? std::string()
                     : fmt::format("{}, {} of them", job.brief.item, job.brief.quantity));
    fact("Stitching", both(e.width(), e.height()));
    fact("Cloth", both(job.cloth.widthMm, job.cloth.heightMm) + ", " + r.fabric.name);
    fact("Sewing", fmt::format("{} stitches, {} hooping{}; the cloth is hooped {}", c.work.stitches,
                               job.hoopings.size(), job.hoopings.size() == 1 ? "" : "s",
                               timesText(clampings)));
    const TimeParts& s = c.work.seconds;
    fact("Time", fmt::format("{} in all: sewing {}, thread changes {}, trims {}, hooping {}, "
                             "registering {}",
                             formatDuration(s.total()), formatDuration(s.sewing),
                             formatDuration(s.threadChanges), formatDuration(s.trims),
                             formatDuration(s.clampings), formatDuration(s.registrations)));
    fact("Stabilizer",
         fmt::format("{}, {} layer{} in each frame, {:.0f} cm² in all", r.fabric.stabilizer,
                     r.fabric.stabilizerLayers, r.fabric.stabilizerLayers == 1 ? "" : "s",
                     c.work.stabilizerCm2));
    fact("Topper", r.fabric.topper);
    fact("Needle", r.fabric.needle);
    fact("Machine", fmt::format("{}, {} stitches a minute at most", r.machine.name,
                                std::min(r.machine.topSpeed, r.fabric.topSpeed)));
    fact("Holding", job.brief.floated
                        ? "floated on adhesive stabilizer; baste round it before anything else"
                        : "clamped by the ring");
    fact("Bobbin", fmt::format("{:.0f} m, {:.1f} full bobbins", c.work.bobbinMm / 1000,
                               c.work.bobbinMm / 1000 / r.machine.bobbinM));
}

std::string coneOf(const Palette& owned, const Thread& thread) {
    for (const OwnedThread& t : owned.threads)
        if (t.thread.sameThread(thread)) return t.cone;
    return {};
}

void writeThreads(FlowingPages& flow, const SheetContent& c) {
    flow.heading("Threads, in the order of their first use");
    const auto row = [&](const std::array<std::string, 7>& w, bool bold) {
        flow.cells({{0, 8, w[0], true},
                    {24, 62, w[1]},
                    {88, 18, w[2]},
                    {108, 18, w[3]},
                    {126, 16, w[4], true},
                    {144, 20, w[5], true},
                    {166, 24, w[6], true}},
                   textMm, bold);
    };
    row({"No.", "Name and weight", "Cone", "Needle", "Metres", "Stitches", "Sewing"}, true);
    for (std::size_t i = 0; i < c.work.threads.size(); ++i) {
        const ThreadNeed& t = c.work.threads[i];
        const Vec2 at = flow.room(1.6 * textMm);
        flow.skip(-1.6 * textMm);
        drawSwatch(flow.page(), {at.x + 11, at.y + 0.7, at.x + 21, at.y + 4.6}, t.thread.color);
        row({std::to_string(i + 1), fmt::format("{}, {:g} wt", t.thread.name, t.thread.weight),
             coneOf(c.request.owned, t.thread), c.needleText(t.thread),
             fmt::format("{:.1f}", t.topMm / 1000), std::to_string(t.stitches),
             formatDuration(t.sewingSeconds)},
            false);
    }
    for (const ShortCone& s : c.needles.runOut)
        flow.write(fmt::format("Needle {}, {}: {:.0f} m are left on the cone, {:.0f} m are needed; "
                               "it runs out in hooping {}.",
                               s.needle, s.thread.name, s.leftM, s.neededM, s.hooping + 1),
                   textMm, true);
}

void writeFindings(FlowingPages& flow, const SheetContent& c) {
    const auto& findings = c.request.findings;
    flow.heading(findings.empty() ? "No findings are open" : "Open findings", 6);
    for (const Finding& f : findings) {
        const char* word = f.severity == Severity::stop      ? "Stop"
                           : f.severity == Severity::caution ? "Caution"
                                                             : "Note";
        std::string words = fmt::format("{}: {}.", word, f.text);
        if (const std::string why = f.why(); !why.empty()) words += " " + why;
        flow.write(words, textMm, f.severity == Severity::stop);
    }
}

} // namespace

int drawJobSheet(PdfPages& p, const PdfFonts& fonts, const SheetContent& c) {
    const SheetsRequest& r = c.request;
    FlowingPages flow(p, fonts, sheetOf(r.printing.paper), r.job.name);
    drawLayout(flow, r);
    writeFacts(flow, c);
    writeThreads(flow, c);
    writeFindings(flow, c);
    flow.heading("Before the needle moves", 10);
    flow.write("Keep hands and hair clear while the frame moves. Wear eye protection on dense or "
               "thick work. Change needles with the power off. Spray adhesives belong in moving "
               "air, away from flame; irons burn. The maker's instructions and local rules come "
               "first.",
               textMm);
    return flow.count();
}

} // namespace rapt
