#include "recipe/shape.h"

#include "letter/crowding.h"
#include "recipe/flatten.h"
#include "thread/ties.h"

#include <algorithm>
#include <utility>

namespace rapt {
namespace {

// A part that begins this near to where the last one ended is sewn on without a cut: over open
// ground, on what both cover, and under what the next one covers.
constexpr double openUpToMm = 1.0, coveredUpToMm = 2.5, underUpToMm = 60.0;

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

/// The ground that a part covers; nothing for a run.
Contours groundOf(const ShapePart& part) {
    const ShapePart flat = flattened(part);
    if (part.kind == StitchKind::fill) return flat.lines;
    if (part.kind == StitchKind::run || flat.lines.size() < 2) return {};
    Polyline band = flat.lines[0];
    band.insert(band.end(), flat.lines[1].rbegin(), flat.lines[1].rend());
    return {std::move(band)};
}

/// How much of the way from a to b lies on none of the grounds.
double bareMm(Vec2 a, Vec2 b, const std::vector<const Contours*>& grounds) {
    constexpr double stepMm = 0.2;
    const int steps = std::max(2, static_cast<int>(distance(a, b) / stepMm));
    int bare = 0;
    for (int k = 0; k < steps; ++k) {
        const Vec2 p = lerp(a, b, (k + 0.5) / steps);
        bare += std::none_of(grounds.begin(), grounds.end(),
                             [&](const Contours* g) { return contains(*g, p); });
    }
    return distance(a, b) * bare / steps;
}

/// Takes back the trim, and divides a long way.
void goOnTo(Vec2 to, std::vector<Stitch>& stitches) {
    constexpr double travelStitchMm = 2.5;
    stitches.pop_back();
    const Vec2 from = stitches.back().at();
    const int steps = static_cast<int>(std::ceil(distance(from, to) / travelStitchMm));
    for (int k = 1; k < steps; ++k)
        stitches.push_back(stitchAt(Op::stitch, lerp(from, to, static_cast<double>(k) / steps),
                                    stitches.back().thread));
}

bool isJoined(Vec2 from, Vec2 to, const Contours& last, const Contours& next) {
    const double size = distance(from, to);
    if (size <= openUpToMm) return true;
    if (size > underUpToMm) return false;
    if (bareMm(from, to, {&next}) <= openUpToMm) return true;
    return size <= coveredUpToMm && bareMm(from, to, {&last, &next}) <= openUpToMm;
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

namespace {

/// What each part sews. Where satins bend sharply, end in a corner or meet each other their rows
/// pile up: thinned to what the cloth takes, all of the shape together.
std::vector<std::vector<Polyline>> stretchesOf(const Shape& shape) {
    std::vector<std::vector<Polyline>> all;
    StitchList rows;
    std::vector<Polyline*> thinned;
    for (const ShapePart& part : shape.parts) all.push_back(penetrationsOf(part));
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (shape.parts[i].kind != StitchKind::satin) continue;
        const std::uint8_t thread = threadIndexIn(rows, shape.parts[i].thread);
        for (Polyline& stretch : all[i]) {
            if (stretch.empty()) continue;
            thinned.push_back(&stretch);
            rows.stitches.push_back(stitchAt(Op::jump, stretch.front(), thread));
            for (const Vec2 p : stretch) rows.stitches.push_back(stitchAt(Op::stitch, p, thread));
            rows.stitches.push_back(stitchAt(Op::trim, stretch.back(), thread));
        }
    }
    thinCrowdedRows(rows, thinningTarget(shape.mostLayers));
    auto next = thinned.begin();
    for (const Stitch& s : rows.stitches) {
        if (s.op == Op::jump) (*next++)->clear();
        if (s.op == Op::stitch) (*std::prev(next))->push_back(s.at());
    }
    return all;
}

} // namespace

StitchList stitchShape(const Shape& shape) {
    StitchList list;
    auto& stitches = list.stitches;
    Contours last, ground;
    const auto stretches = stretchesOf(shape);
    for (std::size_t i = 0; i < stretches.size(); ++i) {
        const ShapePart& part = shape.parts[i];
        const std::uint8_t thread = threadIndexIn(list, part.thread);
        last = std::exchange(ground, groundOf(part));
        for (const Polyline& stretch : stretches[i]) {
            if (stretch.size() < 2) continue;
            const bool goesOn = !stitches.empty() && stitches.back().thread == thread &&
                                isJoined(stitches.back().at(), stretch.front(), last, ground);
            if (goesOn)
                goOnTo(stretch.front(), stitches);
            else
                stitches.push_back(stitchAt(Op::jump, stretch.front(), thread));
            for (std::size_t k = 0; k < stretch.size(); ++k) {
                // The same hole twice holds nothing.
                if (goesOn && k == 0 && distance(stitches.back().at(), stretch[0]) < 0.3) continue;
                stitches.push_back(stitchAt(Op::stitch, stretch[k], thread));
            }
            stitches.push_back(stitchAt(Op::trim, stretch.back(), thread));
        }
    }
    return tieEnds(list);
}

} // namespace rapt
