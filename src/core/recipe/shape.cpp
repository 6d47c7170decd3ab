#include "recipe/shape.h"

namespace rapt {
namespace {

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
        if (part.kind == StitchKind::run) sum += lines / step;
        // A satin's crossings are split where they are wide, at most over the whole box.
        if (part.kind == StitchKind::satin) sum += lines / spacing * (1 + across / snagStitchMm);
        if (part.kind == StitchKind::fill)
            sum += box.width() * box.height() / (spacing * step) + 2 * across / spacing;
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
    for (const ShapePart& part : shape.parts) {
        const std::uint8_t thread = threadIndexIn(list, part.thread);
        for (const Polyline& stretch : penetrationsOf(part)) {
            if (stretch.size() < 2) continue;
            list.stitches.push_back(stitchAt(Op::jump, stretch.front(), thread));
            for (const Vec2& p : stretch) list.stitches.push_back(stitchAt(Op::stitch, p, thread));
            list.stitches.push_back(stitchAt(Op::trim, stretch.back(), thread));
        }
    }
    return list;
}

} // namespace rapt
