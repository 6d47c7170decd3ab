#include "divide/marking_plan.h"

#include "geometry/lengths.h"
#include "job/hooping_name.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace rapt {
namespace {

std::string both(double mm) {
    return fmt::format("{:.1f} mm ({})", std::abs(mm),
                       formatLength(std::abs(mm), LengthUnit::inch));
}

MarkingStep linesStep(const Job& job) {
    const double w = job.cloth.widthMm / 2, h = job.cloth.heightMm / 2;
    const double reach = std::max(20.0, std::floor(0.8 * std::min(w, h) / 10) * 10);
    return {"Draw two lines with a pen that washes out",
            {fmt::format("The level line lies {} from the far edge; measure it at both sides.",
                         both(h)),
             fmt::format("The upright line lies {} from the left edge; measure it far and near.",
                         both(w)),
             fmt::format("Prove them square: tick both lines {} from where they cross, on all four "
                         "sides. All four distances between neighbouring ticks must be {}; if two "
                         "differ, turn one line by half of the difference.",
                         both(reach), both(reach * std::sqrt(2.0)))}};
}

MarkingStep clampingStep(const Job& job, std::size_t first, std::size_t last, const Hoop& hoop) {
    const Hooping& h = job.hoopings[first];
    MarkingStep step;
    step.head = fmt::format(
        "{}: {}{}", sentence(hoopingsOf(job.hoopings, h.clamping)), hoop.name,
        h.frame.rotationDeg == 0 ? "" : fmt::format(", turned {:g}°", h.frame.rotationDeg));
    step.lines.push_back(
        fmt::format("The frame's centre lies {}.", fromLines({h.frame.x, h.frame.y})));
    std::vector<std::string> known;
    std::vector<const Mark*> marks;
    for (std::size_t i = first; i < last; ++i)
        for (const Mark& m : job.hoopings[i].marks)
            if (std::find(known.begin(), known.end(), m.name) == known.end()) {
                known.push_back(m.name);
                marks.push_back(&m);
            }
    const auto sewnIn = [&](const Mark& m) {
        for (std::size_t i = 0; i < first; ++i)
            for (const Mark& w : job.hoopings[i].witness)
                if (w.name == m.name) return i + 1;
        return std::size_t{0};
    };
    for (const Mark* m : marks) {
        const std::size_t sewn = sewnIn(*m);
        step.lines.push_back(
            sewn > 0
                ? fmt::format("{}: hooping {} sews a cross there, last, in a thread of its own; "
                              "pull it out when this one is done. It lies {}.",
                              m->name, sewn, fromLines(m->at))
                : fmt::format("{}: draw a cross {}.", m->name, fromLines(m->at)));
    }
    if (marks.size() >= 2)
        step.lines.push_back(fmt::format("From {} to {} it is {}.", marks[0]->name, marks[1]->name,
                                         both(distance(marks[0]->at, marks[1]->at))));
    if (last - first > 1)
        step.lines.push_back(
            fmt::format("The cloth stays clamped for {} hoopings; only the frame is "
                        "turned or moved on. Keep hands away while it moves.",
                        last - first));
    return step;
}

} // namespace

std::string fromLines(Vec2 p) {
    const std::string across =
        std::abs(p.x) < 0.05
            ? std::string("on the upright line")
            : fmt::format("{} {} of the upright line", both(p.x), p.x > 0 ? "right" : "left");
    const std::string down = std::abs(p.y) < 0.05
                                 ? std::string("on the level line")
                                 : fmt::format("{} {} the level line", both(p.y),
                                               p.y > 0 ? "nearer to you than" : "beyond");
    return across + ", " + down;
}

std::vector<MarkingStep> markingPlan(const Job& job, const Library& library) {
    if (job.hoopings.empty()) return {};
    std::vector<MarkingStep> plan{linesStep(job)};
    if (job.brief.floated)
        plan.push_back({"Float the item",
                        {"Clamp adhesive stabilizer alone, one layer more than usual, lay the item "
                         "on it and baste round it first. Spray adhesives belong in the open air, "
                         "away from flames and the machine, as their makers say."}});
    for (std::size_t first = 0; first < job.hoopings.size();) {
        std::size_t last = first;
        while (last < job.hoopings.size() &&
               job.hoopings[last].clamping == job.hoopings[first].clamping)
            ++last;
        const auto hoop = library.hoop(job.hoopings[first].hoop);
        if (hoop) plan.push_back(clampingStep(job, first, last, *hoop));
        first = last;
    }
    return plan;
}

} // namespace rapt
