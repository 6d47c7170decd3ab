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

/// Calls `visit(run, stitch, area)` for every stitch of a span that lays thread in the window; runs
/// are counted from 1, the area is length times width.
template<class Visit>
void eachInside(const StitchedJob& job, const PieceSpan& span, const Box& window,
                const std::array<float, 256>& widths, Visit visit) {
    const Stitch* needle = nullptr;
    int run = 0, thread = -1;
    for (std::size_t i = span.first; i < span.last; ++i) {
        const Stitch& s = job.list.stitches[i];
        if (s.op == Op::stitch) {
            run += s.thread != thread;
            thread = s.thread;
            if (needle) {
                const double inside = lengthInside(window, needle->at(), s.at());
                if (inside > 0) visit(run, s, inside * static_cast<double>(widths[s.thread]));
            }
        }
        if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
    }
}

Box windowAt(Vec2 at) { return Box::centredAt(cellAt(at).centre(), windowMm, windowMm); }

} // namespace

std::vector<Contribution> contributionsAt(const StitchedJob& job, Vec2 at) {
    const Box window = windowAt(at);
    const auto widths = widthTable(job.list);
    std::vector<Contribution> result;
    for (const PieceSpan& span : job.spans) {
        if (!span.extents.overlaps(window)) continue;
        double area = 0;
        eachInside(job, span, window, widths,
                   [&](int, const Stitch&, double inside) { area += inside; });
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

std::vector<RunContribution> runContributionsAt(const StitchedJob& job, const std::string& piece,
                                                Vec2 at) {
    const Box window = windowAt(at);
    const auto widths = widthTable(job.list);
    std::vector<RunContribution> result;
    for (const PieceSpan& span : job.spans) {
        if (span.source != piece || span.outline || !span.extents.overlaps(window)) continue;
        eachInside(job, span, window, widths, [&](int run, const Stitch& s, double area) {
            const auto same = std::find_if(result.begin(), result.end(),
                                           [&](const RunContribution& r) { return r.run == run; });
            const double layers = area / (windowMm * windowMm);
            if (same == result.end())
                result.push_back({run, s.thread, layers});
            else
                same->layers += layers;
        });
    }
    std::sort(result.begin(), result.end(), [](const RunContribution& a, const RunContribution& b) {
        return a.layers > b.layers;
    });
    return result;
}

} // namespace rapt
