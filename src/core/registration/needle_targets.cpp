#include "registration/needle_targets.h"

#include "registration/proposals.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {

std::vector<NeedleTarget> needleTargets(const Job& job, int hooping, const Hoop& hoop, Vec2 from) {
    const Hooping& h = job.hoopings[static_cast<std::size_t>(hooping) - 1];
    const Affine toField = h.pose.affine().inverse();
    std::vector<NeedleTarget> targets;
    for (const Mark& m : h.marks)
        targets.push_back({m.name, Observation::Kind::point, toField(m.at), {}});
    // Always on to the nearest.
    for (std::size_t i = 0; i < targets.size(); ++i) {
        const auto nearest =
            std::min_element(targets.begin() + static_cast<std::ptrdiff_t>(i), targets.end(),
                             [&](const NeedleTarget& a, const NeedleTarget& b) {
                                 return distance(a.planned, from) < distance(b.planned, from);
                             });
        std::iter_swap(targets.begin() + static_cast<std::ptrdiff_t>(i), nearest);
        from = targets[i].planned;
    }
    const auto addLine = [&](const std::string& name, Vec2 a, Vec2 b) {
        const Vec2 p = toField(a), q = toField(b);
        bool reached = false;
        for (int k = 0; k <= 200 && !reached; ++k) reached = hoop.reaches(lerp(p, q, k / 200.0));
        if (reached) targets.push_back({name, Observation::Kind::line, {}, {p, q}});
    };
    const Box c = job.cloth.box();
    addLine("line across", {c.minX, 0}, {c.maxX, 0});
    addLine("line down", {0, c.minY}, {0, c.maxY});
    addLine("left edge", {c.minX, c.minY}, {c.minX, c.maxY});
    addLine("right edge", {c.maxX, c.minY}, {c.maxX, c.maxY});
    addLine("far edge", {c.minX, c.minY}, {c.maxX, c.minY});
    addLine("near edge", {c.minX, c.maxY}, {c.maxX, c.maxY});
    for (const GuideLine& g : job.cloth.guides)
        if (g.line.size() == 2) addLine(g.name, g.line[0], g.line[1]);
    return targets;
}

Box designBox(const StitchList& list) {
    Box box;
    for (const Stitch& s : list.stitches) {
        const Thread* thread = s.op == Op::stitch ? list.find(s.thread) : nullptr;
        if (thread && thread->name != witnessThreadName) box.add(s.at());
    }
    return box;
}

std::vector<NeedleTarget> designTargets(const Job& job, int hooping,
                                        const std::vector<HoopingList>& lists, const Hoop& hoop) {
    const auto index = static_cast<std::size_t>(hooping) - 1;
    if (index >= lists.size() || index >= job.hoopings.size()) return {};
    std::vector<NeedleTarget> targets;
    const auto add = [&](std::string name, Vec2 at) {
        targets.push_back({std::move(name), Observation::Kind::point, at, {}});
    };
    const StitchList& list = lists[index].list;
    const Box box = designBox(list);
    if (box.empty()) return {};
    constexpr std::pair<int, const char*> ninths[] = {
        {4, "middle of the design"},  {0, "far left corner"},     {2, "far right corner"},
        {6, "near left corner"},      {8, "near right corner"},   {3, "left end of its axis"},
        {5, "right end of its axis"}, {1, "far end of its axis"}, {7, "near end of its axis"}};
    for (const auto& [ninth, name] : ninths) add(name, anchorOf(box, ninth));
    const auto isStitch = [](const Stitch& s) { return s.op == Op::stitch; };
    add("first stitch", std::find_if(list.stitches.begin(), list.stitches.end(), isStitch)->at());
    const auto lastOf = [&](const StitchList& of) {
        const auto last = std::find_if(of.stitches.rbegin(), of.stitches.rend(), isStitch);
        return last == of.stitches.rend() ? std::optional<Vec2>() : last->at();
    };
    add("last stitch", *lastOf(list));
    const Affine toField = job.hoopings[index].pose.affine().inverse();
    for (std::size_t i = 0; i < index; ++i)
        if (const auto last = lastOf(lists[i].list)) {
            const Vec2 at = toField(job.hoopings[i].pose.affine()(*last));
            if (hoop.reaches(at)) add(fmt::format("last stitch of hooping {}", i + 1), at);
        }
    return targets;
}

Observation needleSeen(const NeedleTarget& target, Vec2 at, const Registration* before,
                       double sigmaMm) {
    Observation o;
    o.kind = target.kind;
    o.name = target.name;
    o.by = "needle";
    o.sigmaMm = sigmaMm;
    o.planned = target.planned;
    o.seen = at;
    o.plannedLine = target.plannedLine;
    if (target.kind != Observation::Kind::line) return o;
    if (before)
        for (const Observation& old : before->observations)
            if (old.name == o.name && old.by == o.by) o.seenLine = old.seenLine;
    o.seenLine.push_back(at);
    return o;
}

} // namespace rapt
