#include "recipe/shape.h"

#include "thread/ties.h"

namespace rapt {
namespace {

// A part that begins this near to where the last one ended is sewn on without a cut.
constexpr double joinUpToMm = 2.5;

std::vector<Polyline> penetrationsOf(const ShapePart& part) {
    switch (part.kind) {
    case StitchKind::run:
        return stitchRun(part);
    case StitchKind::fill:
        return stitchFill(part);
    case StitchKind::satin:
        return stitchSatin(part);
    }
    return {};
}

std::uint8_t threadIndexIn(StitchList& list, const Thread& thread) {
    for (const Thread& t : list.threads)
        if (t.sameThread(thread)) return t.index;
    Thread added = thread;
    added.index = static_cast<std::uint8_t>(list.threads.size() + 1);
    list.threads.push_back(added);
    return added.index;
}

} // namespace

double estimatedStitches(const Shape& shape) {
    double sum = 0;
    for (const ShapePart& part : shape.parts) {
        const double spacing = std::max(0.1, part.spacingMm);
        const double step = std::max(0.3, part.stitchLengthMm);
        double lines = 0;
        for (const Polyline& line : part.lines) lines += lengthOf(line);
        const Box box = boundsOf(part.lines);
        const double across = std::hypot(box.width(), box.height());
        if (part.kind == StitchKind::run) sum += lines / step * part.passes;
        // A satin's crossings are split where they are wide, at most over the whole box.
        if (part.kind == StitchKind::satin) sum += lines / spacing * (1 + across / snagStitchMm);
        if (part.kind == StitchKind::fill)
            sum += box.width() * box.height() / (spacing * step) + 2 * across / spacing;
        if (part.underlay != Underlay::none)
            sum += lines / 2 + (part.kind == StitchKind::fill ? box.width() * box.height() / 5 : 0);
    }
    return sum;
}

Shape scaled(const Shape& shape, double scaleX, double scaleY) {
    Shape result = shape;
    for (ShapePart& part : result.parts)
        for (Polyline& line : part.lines)
            for (Vec2& p : line) p = {p.x * scaleX, p.y * scaleY};
    return result;
}

StitchList stitchShape(const Shape& shape) {
    StitchList list;
    auto& stitches = list.stitches;
    for (const ShapePart& part : shape.parts) {
        const std::uint8_t thread = threadIndexIn(list, part.thread);
        for (const Polyline& stretch : penetrationsOf(part)) {
            if (stretch.size() < 2) continue;
            const bool goesOn = !stitches.empty() && stitches.back().thread == thread &&
                                distance(stitches.back().at(), stretch.front()) <= joinUpToMm;
            if (goesOn)
                stitches.pop_back(); // the trim
            else
                stitches.push_back(stitchAt(Op::jump, stretch.front(), thread));
            for (std::size_t i = 0; i < stretch.size(); ++i) {
                // The same hole twice holds nothing.
                if (goesOn && i == 0 && distance(stitches.back().at(), stretch[0]) < 0.3) continue;
                stitches.push_back(stitchAt(Op::stitch, stretch[i], thread));
            }
            stitches.push_back(stitchAt(Op::trim, stretch.back(), thread));
        }
    }
    return tieEnds(list);
}

} // namespace rapt
