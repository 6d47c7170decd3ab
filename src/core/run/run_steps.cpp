#include "run/run_steps.h"

#include "base/text.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double denseShare = 0.85; ///< of the limit, from which eyes are to be protected

class Steps {
public:
    Steps(const Job& j, std::size_t i, const NeedlePlan& n, const Library& l)
        : job(j), hooping(j.hoopings[i]), index(i), needles(n), library(l) {
        again = i > 0 && j.hoopings[i - 1].clamping == hooping.clamping;
    }

    std::vector<RunStep> all(const HoopingList& list) {
        if (again) {
            add("moved-on", fmt::format("Move the frame on to position {}.", hooping.position),
                "Hands clear while the frame moves.");
        } else {
            clothSteps();
        }
        machineSteps(list);
        return std::move(steps);
    }

private:
    void add(const char* id, std::string words, std::string caution = {}) {
        steps.push_back({id, sentence(std::move(words)), std::move(caution)});
    }

    void clothSteps() {
        std::string names;
        for (const Mark& m : hooping.marks) names += (names.empty() ? "" : ", ") + m.name;
        const bool sewn =
            index > 0 &&
            std::any_of(job.hoopings.begin(), job.hoopings.begin() + static_cast<long>(index),
                        [](const Hooping& h) { return !h.witness.empty(); });
        if (!names.empty() && sewn)
            add("cloth-marked", fmt::format("The marks are found on the cloth: {}.", names));
        else if (!names.empty())
            add("cloth-marked", fmt::format("The cloth is marked: {}.", names));
        const auto fabric = library.fabric(job.brief.fabric);
        if (!fabric) return;
        const int layers = fabric->stabilizerLayers + (job.brief.floated ? 1 : 0);
        if (!fabric->stabilizer.empty() && layers > 0)
            add("stabilizer", fmt::format("{}, {} layer{} under all of it.", fabric->stabilizer,
                                          layers, layers == 1 ? "" : "s"));
        if (job.brief.floated)
            add("floated",
                "Clamp the adhesive stabilizer alone, lay the item on it and baste round it.",
                "Sprays in moving air and away from flame, as their makers say.");
        else
            add("clamped", "The cloth is clamped flat and square.",
                "Mind your fingers under the ring.");
        if (!fabric->topper.empty()) add("topper", fabric->topper + " on top.");
    }

    void machineSteps(const HoopingList& list) {
        const auto hoop = library.hoop(hooping.hoop);
        const std::string frame = hoop ? hoop->name : hooping.hoop;
        if (!again)
            add("frame-on", fmt::format("{} is on, its arm home.", frame),
                "Hands clear while the frame moves.");
        needleStep();
        if (const auto cloth = library.fabric(job.brief.fabric); cloth && !cloth->needle.empty())
            add("needle", fmt::format("The needle is a {}, straight and sharp.", cloth->needle),
                "Power off while you change it.");
        if (!again)
            add("layers-clear",
                "Other layers, straps and loops lie clear of the field and under no arm.");
        add("bobbin", "A bobbin with enough thread is in.");
        const Thread* first = nullptr;
        for (const Stitch& s : list.list.stitches)
            if (s.op == Op::stitch && !first) first = list.list.find(s.thread);
        if (first) add("first-thread", fmt::format("The first thread is {}.", first->name));
        add("way-round",
            hooping.frame.rotationDeg == 0
                ? std::string("The cloth's far edge lies away from you.")
                : fmt::format("The cloth lies turned {:g}° against the frame, as on the "
                              "template.",
                              std::abs(hooping.frame.rotationDeg)));
        int clampings = 0;
        for (const Hooping& h : job.hoopings) clampings = std::max(clampings, h.clamping);
        const Registration* seen = job.registration(static_cast<int>(index) + 1);
        if (clampings > 1 && !again)
            add("registered", seen && seen->choice != CorrectionChoice::open
                                  ? "The cloth is found, its correction chosen."
                                  : "Find the cloth in Register first.");
        add("boundary", "The pointer went round it, off the ring.", "Needle up, hands clear.");
        const auto fabric = library.fabric(job.brief.fabric);
        const bool thick = !job.cloth.thickZones.empty() || (fabric && fabric->thicknessMm >= 1.5);
        add("clear", "Pins, template, cards off; the foot down.",
            thick ? "Thick work: eye protection on; needles may break." : "");
    }

    void needleStep() {
        std::string words;
        for (const ConeChange& c : needles.changes)
            if (c.hooping == index && c.at == 0)
                words += fmt::format("{}{} on needle {}", words.empty() ? "" : ", ", c.thread.name,
                                     c.needle);
        if (!words.empty())
            add("needles", "Thread " + words + ".",
                "Power off while you thread or change needles.");
    }

    const Job& job;
    const Hooping& hooping;
    std::size_t index;
    const NeedlePlan& needles;
    const Library& library;
    bool again = false;
    std::vector<RunStep> steps;
};

} // namespace

std::vector<RunStep> stepsBefore(const Job& job, std::size_t hooping,
                                 const std::vector<HoopingList>& lists, const NeedlePlan& needles,
                                 const Library& library) {
    return Steps(job, hooping, needles, library).all(lists[hooping]);
}

namespace {

/// Threads between stitches that no trim cuts.
struct LooseThreads {
    std::size_t count = 0;
    double longestMm = 0;
};
LooseThreads looseThreads(const StitchList& list) {
    constexpr double seenMm = 3;
    LooseThreads loose;
    const Stitch* last = nullptr;
    bool jumped = false;
    for (const Stitch& s : list.stitches) {
        if (s.op == Op::trim) last = nullptr;
        jumped = jumped || s.op == Op::jump;
        if (s.op != Op::stitch) continue;
        if (const double mm = last && jumped ? spanMm(*last, s) : 0; mm > seenMm) {
            ++loose.count;
            loose.longestMm = std::max(loose.longestMm, mm);
        }
        last = &s;
        jumped = false;
    }
    return loose;
}

} // namespace

std::vector<RunStep> stepsAfter(const Job& job, std::size_t index,
                                const std::vector<HoopingList>& lists, const Library& library) {
    std::vector<RunStep> steps;
    const bool last = index + 1 >= job.hoopings.size();
    if (!last && job.hoopings[index + 1].clamping == job.hoopings[index].clamping)
        return {{"stays", "Leave the cloth in the frame: it is moved on.",
                 "Hands clear while the frame moves."}};
    steps.push_back({"frame-off", "Take the frame off before you cut or look.", {}});
    if (const LooseThreads loose = looseThreads(lists[index].list); loose.count > 0)
        steps.push_back({"loose",
                         fmt::format("Cut {} loose thread{}, the longest {:.0f} mm.", loose.count,
                                     loose.count == 1 ? "" : "s", loose.longestMm),
                         {}});
    if (!last) {
        steps.push_back({"marks-stay", "Leave marks and crosses: others are found by them.", {}});
        return steps;
    }
    const auto fabric = library.fabric(job.brief.fabric);
    if (fabric && !fabric->topper.empty())
        steps.push_back({"topper-off", "Take the topper off, rests with water or steam.", {}});
    const bool basted =
        job.brief.floated ||
        std::any_of(job.pieces.begin(), job.pieces.end(),
                    [](const Piece& p) { return p.outline && !p.outline->cut && !p.hidden; }) ||
        std::any_of(job.hoopings.begin(), job.hoopings.end(),
                    [](const Hooping& h) { return !h.witness.empty(); });
    if (basted) steps.push_back({"basting-out", "Pull the basting out.", {}});
    if (fabric && !fabric->stabilizer.empty())
        steps.push_back({"stabilizer-off",
                         "Tear, cut or wash the stabilizer off as its maker says, the stitches "
                         "held.",
                         {}});
    steps.push_back({"marks-out", "Take the marks out before any heat: it may set them.", {}});
    steps.push_back({"press", "Press it from behind on something soft, as cloth and thread allow.",
                     "Mind the hot iron; try the heat on a spare piece first."});
    return steps;
}

std::string adviceAfter(StopKind kind) {
    switch (kind) {
    case StopKind::threadBreak:
        return "Thread it again and pull the end aside. Hands clear before it goes on.";
    case StopKind::bobbinEmpty:
        return "Put a full bobbin in; leave the frame on. Cut the old end short.";
    case StopKind::needleBreak:
        return "Power off. Find every piece of the needle before it goes on, put a new one in, "
               "threaded. Eye protection on.";
    case StopKind::jam:
        return "Power off. Cut the knot under the cloth, clean the hook, see that the cloth is not "
               "caught.";
    case StopKind::powerCut:
        return "When the power is back, leave the frame as it is and go on from what was sewn.";
    case StopKind::coneChange:
        return "Put the next cone on its needle. Power off while you thread.";
    case StopKind::asked:
        return "It stands because it was asked to.";
    }
    return {};
}

std::string reasonOfBreak(StopKind kind, double layers, double hits, const Fabric& fabric) {
    if (kind != StopKind::threadBreak && kind != StopKind::needleBreak && kind != StopKind::jam)
        return {};
    const double layerShare = layers / fabric.maxLayers, hitShare = hits / fabric.maxHits;
    if (std::max(layerShare, hitShare) < denseShare) return {};
    if (hitShare > layerShare)
        return fmt::format("{:.1f} needle points a mm² lie there, {} takes {:g}", hits, fabric.name,
                           fabric.maxHits);
    return fmt::format("{:.1f} layers lie there, {} takes {:g}", layers, fabric.name,
                       fabric.maxLayers);
}

} // namespace rapt
