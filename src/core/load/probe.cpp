#include "load/probe.h"

#include "thread/measures.h"

#include <algorithm>

namespace rapt {
namespace {

/// Length of the part of a segment inside a box (Liang and Barsky 1984).
double lengthInside(const Box& box, Vec2 a, Vec2 b) {
    const Vec2 d = b - a;
    double t0 = 0, t1 = 1;
    const auto clip = [&](double p, double q) {
        if (p == 0) return q >= 0;
        const double t = q / p;
        if (p < 0)
            t0 = std::max(t0, t);
        else
            t1 = std::min(t1, t);
        return t0 < t1;
    };
    if (!clip(-d.x, a.x - box.minX) || !clip(d.x, box.maxX - a.x) || !clip(-d.y, a.y - box.minY) ||
        !clip(d.y, box.maxY - a.y))
        return 0;
    return (t1 - t0) * length(d);
}

} // namespace

std::vector<Contribution> contributionsAt(const StitchedJob& job, Vec2 at) {
    const Box window = Box::centredAt(cellAt(at).centre(), windowMm, windowMm);
    const auto widths = widthTable(job.list);
    std::vector<Contribution> result;
    for (const PieceSpan& span : job.spans) {
        if (!span.extents.overlaps(window)) continue;
        double area = 0;
        const Stitch* needle = nullptr;
        for (std::size_t i = span.first; i < span.last; ++i) {
            const Stitch& s = job.list.stitches[i];
            if (s.op == Op::stitch && needle)
                area += lengthInside(window, needle->at(), s.at()) * widths[s.thread];
            if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
        }
        if (area <= 0) continue;
        // Copies and outlines count for the piece that they come from.
        const auto same = std::find_if(result.begin(), result.end(), [&](const Contribution& c) {
            return c.piece == span.source;
        });
        if (same == result.end())
            result.push_back({span.source, area / (windowMm * windowMm)});
        else
            same->layers += area / (windowMm * windowMm);
    }
    std::sort(result.begin(), result.end(),
              [](const Contribution& a, const Contribution& b) { return a.layers > b.layers; });
    return result;
}

} // namespace rapt
