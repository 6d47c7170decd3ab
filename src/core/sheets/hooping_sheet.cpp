#include "divide/frames.h"
#include "divide/marking_plan.h"
#include "estimate/timing.h"
#include "geometry/lengths.h"
#include "job/hooping_name.h"
#include "registration/correction.h"
#include "registration/needle_targets.h"
#include "registration/panel_steps.h"
#include "run/run_steps.h"
#include "run/sewn.h"
#include "sheets/sheet_content.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double pictureMm = 100, mapMm = 62;
constexpr double textMm = 3.3;

/// Where the parts of a picture stand.
struct Picture {
    Vec2 corner;
    double width, height; ///< at most
};

/// How much of a box fits into a picture.
double scaleIn(const Picture& room, const Box& box) {
    return std::min(room.width / box.width(), room.height / box.height());
}

/// What the frame's picture shows.
Box frameBox(const Hoop& hoop) { return hoop.outer().grown(9); }

/// The frame as it sits before the operator: ring, field, what is sewn already in grey, this
/// hooping in its colours, marks, start, arm, and where the cloth's far edge is.
void drawFrame(PdfPages& pages, const SheetContent& c, std::size_t index, const Hoop& hoop,
               const Picture& room) {
    const SheetsRequest& r = c.request;
    const Hooping& h = r.job.hoopings[index];
    const Affine toFrame = h.frame.affine().inverse();
    const Affine fieldToFrame = h.pose.affine().then(toFrame);
    const Box ring = hoop.outer();
    const Box box = frameBox(hoop);
    const double k = scaleIn(room, box);
    pages.enter({room.corner.x + (room.width - box.width() * k) / 2, room.corner.y}, box, false, k);
    pages.rectangle(ring, pageInk, 0.5 / k);
    Polyline field;
    for (const Vec2& p : fieldOutline(hoop)) field.push_back(fieldToFrame(p));
    field.push_back(field.front());
    pages.polyline(field, softInk, 0.3 / k);
    for (std::size_t i = 0; i <= index; ++i) {
        const Affine map = r.job.hoopings[i].pose.affine().then(toFrame);
        const StitchList list = moved(r.lists[i].list, map);
        drawThread(pages, list, ring, std::max(0.3, 0.12 / k), 0.1 / k,
                   i == index ? std::nullopt : std::optional(Rgb{205, 205, 205}));
    }
    for (const Mark& m : h.marks) {
        const Vec2 p = toFrame(m.at);
        pages.line(p - Vec2{3 / k, 0}, p + Vec2{3 / k, 0}, pageInk, 0.3 / k);
        pages.line(p - Vec2{0, 3 / k}, p + Vec2{0, 3 / k}, pageInk, 0.3 / k);
        pages.text(p + Vec2{1 / k, -1 / k}, m.name, 3 / k, true);
    }
    const Penetrations points(r.lists[index].list);
    if (points.count() > 0) {
        const Vec2 p = fieldToFrame(r.lists[index].list.stitches[points.record(0)].at());
        pages.fill({p, p + Vec2{-1.6 / k, -4 / k}, p + Vec2{1.6 / k, -4 / k}}, pageInk);
        pages.text(p + Vec2{2 / k, -2.4 / k}, "start", 3 / k, true);
    }
    const Vec2 arm = hoop.arm == "left"    ? Vec2{ring.minX, 0}
                     : hoop.arm == "right" ? Vec2{ring.maxX, 0}
                     : hoop.arm == "back"  ? Vec2{0, ring.minY}
                                           : Vec2{0, ring.maxY};
    pages.fill({arm + Vec2{-4, -4}, arm + Vec2{4, -4}, arm + Vec2{4, 4}, arm + Vec2{-4, 4}},
               softInk);
    pages.text(arm + Vec2{-8, -6}, "arm", 3 / k, false);
    pages.leave();
}

/// The whole cloth small, with this frame on it.
void drawMap(PdfPages& pages, const SheetContent& c, std::size_t index, const Hoop& hoop,
             const Picture& room) {
    const Job& job = c.request.job;
    const Affine frame = job.hoopings[index].frame.affine();
    Polyline ring;
    for (const Vec2& p : hoop.outer().corners()) ring.push_back(frame(p));
    ring.push_back(ring.front());
    Box box = job.cloth.box();
    box.add(boundsOf(ring));
    box = box.grown(4);
    const double k = scaleIn(room, box);
    pages.enter(room.corner, box, false, k);
    const Box cloth = job.cloth.box();
    pages.rectangle(cloth, pageInk, 0.3 / k);
    pages.dashedLine({cloth.minX, 0}, {cloth.maxX, 0}, softInk, 0.2 / k);
    pages.dashedLine({0, cloth.minY}, {0, cloth.maxY}, softInk, 0.2 / k);
    drawThread(pages, c.request.stitched, box, std::max(0.3, 0.1 / k), 0.2 / k, Rgb{170, 170, 170});
    pages.polyline(ring, pageInk, 0.6 / k);
    pages.leave();
    pages.text(room.corner + Vec2{0, box.height() * k + 3}, "the cloth, its far edge on top", 2.8,
               false);
}

std::string wayRound(const Hooping& h) {
    const double turn = h.pose.rotationDeg;
    const double frame = h.frame.rotationDeg;
    std::string words =
        frame == 0 ? std::string("The cloth's far edge lies away from you in the frame.")
                   : fmt::format("The frame lies turned {:g}° {} on the cloth.", std::abs(frame),
                                 frame > 0 ? "clockwise" : "anticlockwise");
    const double position = std::remainder(turn - frame, 360);
    if (std::abs(position) > 0.01)
        words += fmt::format(" In this position the field is turned by {:g}°; the file is turned "
                             "already, do not turn it again at the panel.",
                             std::abs(position));
    return words;
}

std::string correctionText(const SheetContent& c, int number) {
    const Registration* seen = c.request.job.registration(number);
    if (!seen) return "not registered";
    const auto fit = fitOf(*seen);
    if (!fit) return "not registered: " + fit.error().reason;
    const std::string motion = motionText(fit->fit);
    if (seen->choice == CorrectionChoice::corrected) return "sewn " + motion + "; " + fit->text;
    if (seen->choice == CorrectionChoice::asPlanned) {
        const StitchList& list = c.request.lists[static_cast<std::size_t>(number) - 1].list;
        return "found " + motion + "; sewn as planned. At the panel: " +
               panelSteps(designBox(list), appliedCorrection(c.request.job, number).motion,
                          c.request.machine)
                   .text;
    }
    return "found " + motion + "; nothing is chosen yet, it is sewn as planned";
}

/// What is put on needles before the hooping begins.
std::string conesBefore(const SheetContent& c, std::size_t index) {
    std::string words;
    for (const ConeChange& change : c.needles.changes)
        if (change.hooping == index && change.at == 0)
            words += fmt::format("{}{} on needle {}", words.empty() ? "" : ", ", change.thread.name,
                                 change.needle);
    return words.empty() ? "as they are" : words;
}

/// The needle that a hooping begins with.
int firstNeedle(const SheetContent& c, std::size_t index) {
    for (std::size_t k = 0; k < c.steps.size(); ++k)
        if (c.steps[k].hooping == index) return c.needles.needleOf[k];
    return 1;
}

void writeRuns(FlowingPages& flow, const SheetContent& c, std::size_t index) {
    flow.heading("Threads, as they come");
    const auto row = [&](const std::array<std::string, 5>& w, bool bold) {
        flow.cells({{0, 8, w[0], true},
                    {24, 70, w[1]},
                    {98, 40, w[2]},
                    {140, 24, w[3], true},
                    {166, 24, w[4], true}},
                   textMm, bold);
    };
    row({"Step", "Thread", "Needle", "From stitch", "Metres"}, true);
    int number = 0;
    for (std::size_t k = 0; k < c.steps.size(); ++k) {
        const ThreadStep& s = c.steps[k];
        if (s.hooping != index) continue;
        std::size_t thread = 0;
        while (!c.threads.threads()[thread].sameThread(s.thread)) ++thread;
        std::string needle = std::to_string(c.needles.needleOf[k]);
        for (const ConeChange& change : c.needles.changes)
            if (change.hooping == index && change.at == s.first && change.at > 0)
                needle += ", stop and put it on";
        const Vec2 at = flow.room(1.6 * textMm);
        flow.skip(-1.6 * textMm);
        drawSwatch(flow.page(), {at.x + 11, at.y + 0.7, at.x + 21, at.y + 4.6}, s.thread.color);
        row({std::to_string(++number), c.threadText(thread), needle, std::to_string(s.first + 1),
             fmt::format("{:.1f}", s.topM)},
            false);
    }
}

} // namespace

int drawHoopingSheet(PdfPages& p, const PdfFonts& fonts, const SheetContent& c, std::size_t index) {
    const SheetsRequest& r = c.request;
    const Hooping& h = r.job.hoopings[index];
    const auto hoop = r.library.hoop(h.hoop);
    if (!hoop) return 0;
    FlowingPages flow(
        p, fonts, sheetOf(r.printing.paper),
        fmt::format("Hooping {} of {}: {}", index + 1, r.lists.size(), shortened(r.job.name, 40)));
    Picture picture{{}, flow.width() - mapMm - 6, pictureMm};
    const Box shown = frameBox(*hoop);
    const double high = std::max(60.0, shown.height() * scaleIn(picture, shown));
    picture.corner = flow.room(high + 3);
    drawFrame(p, c, index, *hoop, picture);
    const Vec2 beside = picture.corner + Vec2{flow.width() - mapMm, 4};
    drawMap(p, c, index, *hoop, {beside, mapMm, high - 12});
    const auto fact = [&](const char* name, const std::string& words) {
        flow.cells({{0, 30, name}}, textMm, true);
        flow.skip(-1.6 * textMm);
        flow.write(words, textMm, false, 32);
    };
    fact("Frame", hoop->isSingle()
                      ? hoop->name
                      : fmt::format("{}, position {}; the cloth stays in it for {}", hoop->name,
                                    h.position, hoopingsOf(r.job.hoopings, h.clamping)));
    fact("Lies", "its centre " + fromLines({h.frame.x, h.frame.y}) + ". " + wayRound(h));
    for (const Mark& m : h.marks) fact(m.name.c_str(), fromLines(m.at));
    std::string before;
    for (std::size_t i = 0; i < index; ++i) before += (i ? ", " : "") + std::to_string(i + 1);
    fact("Sewn already", before.empty() ? "nothing" : "hooping " + before);
    fact("Cloth found", correctionText(c, static_cast<int>(index) + 1));
    const Penetrations points(r.lists[index].list);
    if (points.count() > 0) {
        const Vec2 at = r.lists[index].list.stitches[points.record(0)].at();
        const Thread* first =
            r.lists[index].list.find(r.lists[index].list.stitches[points.record(0)].thread);
        if (first)
            fact("First thread", fmt::format("{}, needle {}", first->name, firstNeedle(c, index)));
        fact("Start", fmt::format("{:.1f} mm {} and {:.1f} mm {} from the middle of the field; "
                                  "{} stitches",
                                  std::abs(at.x), at.x < 0 ? "left" : "right", std::abs(at.y),
                                  at.y < 0 ? "away from you" : "towards you", points.count()));
    }
    fact("Cones first", conesBefore(c, index));
    const HandlingBefore hands = handlingBefore(r.job.hoopings, index, r.machine);
    fact("By hand",
         fmt::format("{} to {}{}", formatDuration(hands.clamping),
                     index > 0 && h.clamping == r.job.hoopings[index - 1].clamping
                         ? "move the frame on"
                         : "clamp",
                     hands.registration > 0
                         ? fmt::format(", {} to register", formatDuration(hands.registration))
                         : std::string()));
    writeRuns(flow, c, index);
    flow.skip(1.5);
    std::string after;
    for (const RunStep& step : stepsAfter(r.job, index, r.lists, r.library))
        after += (after.empty() ? "" : " ") + step.words +
                 (step.caution.empty() ? "" : " (" + step.caution + ")");
    fact("Afterwards", after);
    return flow.count();
}

} // namespace rapt
