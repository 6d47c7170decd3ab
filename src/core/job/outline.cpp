#include "job/outline.h"

#include "geometry/pose.h"
#include "thread/measures.h"

#include <numbers>

namespace rapt {
namespace {

constexpr double arcStepMm = 0.3;

/// A quarter of an ellipse, from one extreme point to the next; both are in it.
Polyline quarter(Vec2 centre, double rx, double ry, int which) {
    const int n = std::max(3, static_cast<int>(std::ceil(std::max(rx, ry) * 1.6 / arcStepMm)));
    Polyline line;
    for (int i = 0; i <= n; ++i) {
        const Turn t = turnOf(90.0 * which + 90.0 * i / n);
        line.push_back(centre + Vec2{rx * t.cosine, ry * t.sine});
    }
    return line;
}

/// Sides and rounded corners in turn; every piece of the line begins and ends with a needle point.
std::vector<Polyline> rectangleSides(Vec2 c, double w, double h, double corner) {
    const double r = std::clamp(corner, 0.0, std::min(w, h) / 2);
    const double x = w / 2 - r, y = h / 2 - r;
    std::vector<Polyline> sides;
    const Vec2 corners[] = {{x, y}, {-x, y}, {-x, -y}, {x, -y}};
    Vec2 last = c + Vec2{w / 2, -y};
    for (int k = 0; k < 4; ++k) {
        const Vec2 middle = c + corners[k];
        const Polyline arc = r > 0 ? quarter(middle, r, r, k) : Polyline{middle};
        if (distance(last, arc.front()) > 1e-9) sides.push_back({last, arc.front()});
        if (arc.size() > 1) sides.push_back(arc);
        last = arc.back();
    }
    return sides;
}

std::vector<Polyline> ovalSides(Vec2 c, double w, double h) {
    std::vector<Polyline> sides;
    for (int k = 0; k < 4; ++k) sides.push_back(quarter(c, w / 2, h / 2, k));
    return sides;
}

} // namespace

Shape outlineShape(const Outline& outline, const StitchList& around) {
    Shape shape;
    const Box box = extentsOf(around);
    if (box.empty()) return shape;
    ShapePart run;
    run.kind = StitchKind::run;
    run.thread = outline.thread;
    run.stitchLengthMm = outline.stitchLengthMm;
    std::vector<std::vector<Polyline>> loops;
    if (outline.form == Outline::Form::contour) {
        for (Polyline loop : contoursAround(around, outline.offsetMm)) {
            loop.push_back(loop.front());
            loops.push_back({std::move(loop)});
        }
    } else if (outline.form == Outline::Form::oval) {
        loops.push_back(ovalSides(box.centre(), outline.widthMm, outline.heightMm));
    } else {
        loops.push_back(
            rectangleSides(box.centre(), outline.widthMm, outline.heightMm, outline.cornerMm));
    }
    for (const auto& sides : loops) run.lines.push_back(runThrough(sides, run.stitchLengthMm));
    // Every needle point is a corner of the line now: it is sewn as it is.
    run.stitchLengthMm = maxStitchMm;
    run.exact = true;
    shape.parts.push_back(std::move(run));
    return shape;
}

} // namespace rapt
