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

/// The record that the needle came from within a span, or null.
const Stitch* needleBefore(const StitchedJob& job, const PieceSpan& span, std::size_t i) {
    while (i > span.first) {
        const Stitch& s = job.list.stitches[--i];
        if (s.op == Op::stitch || s.op == Op::jump) return &s;
    }
    return nullptr;
}

/// What each piece brings in a window; copies and outlines count for the piece they come from.
class Tally {
public:
    Tally(const StitchedJob& j, const Box& w) : job(j), window(w), widths(widthTable(j.list)) {}

    void add(const PieceSpan& span, std::size_t i) {
        const Stitch& s = job.list.stitches[i];
        if (s.op != Op::stitch) return;
        const Vec2 p = s.at();
        // Cells are half open, as in the map.
        const bool hit =
            p.x >= window.minX && p.x < window.maxX && p.y >= window.minY && p.y < window.maxY;
        const Stitch* from = needleBefore(job, span, i);
        const double inside = from ? lengthInside(window, from->at(), p) : 0;
        if (!hit && inside <= 0) return;
        auto own = std::find_if(parts.begin(), parts.end(),
                                [&](const Contribution& c) { return c.piece == span.source; });
        if (own == parts.end()) own = parts.insert(parts.end(), {span.source, 0, 0});
        constexpr double area = windowMm * windowMm;
        own->layers += inside * static_cast<double>(widths[s.thread]) / area;
        own->hits += hit / area;
    }
    std::vector<Contribution> result() {
        std::sort(parts.begin(), parts.end(),
                  [](const Contribution& a, const Contribution& b) { return a.layers > b.layers; });
        return std::move(parts);
    }

private:
    const StitchedJob& job;
    Box window;
    std::array<float, 256> widths;
    std::vector<Contribution> parts;
};

/// A hair towards the lesser side: cells are half open, and what lies on an edge belongs to the
/// greater one.
Box windowAt(Vec2 at) {
    constexpr double hair = 1e-7;
    return Box::centredAt(cellAt(at).centre() - Vec2{hair, hair}, windowMm, windowMm);
}

} // namespace

std::vector<Contribution> contributionsAt(const StitchedJob& job, Vec2 at) {
    const Box window = windowAt(at);
    Tally tally(job, window);
    for (const PieceSpan& span : job.spans)
        if (span.extents.overlaps(window))
            for (std::size_t i = span.first; i < span.last; ++i) tally.add(span, i);
    return tally.result();
}

Probe::Probe(const StitchedJob& j) : job(j), widths(widthTable(j.list)) {
    constexpr double reach = windowMm / 2 + cellMm;
    for (const PieceSpan& span : job.spans)
        for (std::size_t i = span.first; i < span.last; ++i) {
            const Stitch& s = job.list.stitches[i];
            if (s.op != Op::stitch) continue;
            Box box;
            box.add(s.at());
            if (const Stitch* from = needleBefore(job, span, i)) box.add(from->at());
            box = box.grown(reach);
            for (double y = std::floor(box.minY / bucketMm); y <= box.maxY / bucketMm; ++y)
                for (double x = std::floor(box.minX / bucketMm); x <= box.maxX / bucketMm; ++x)
                    buckets[bucketOf(x, y)].push_back(static_cast<std::uint32_t>(i));
        }
}

std::uint64_t Probe::bucketOf(double x, double y) const {
    return static_cast<std::uint64_t>(static_cast<std::uint32_t>(static_cast<std::int32_t>(x)))
               << 32 |
           static_cast<std::uint32_t>(static_cast<std::int32_t>(y));
}

std::vector<Contribution> Probe::at(Vec2 place) const {
    Tally tally(job, windowAt(place));
    const auto own =
        buckets.find(bucketOf(std::floor(place.x / bucketMm), std::floor(place.y / bucketMm)));
    if (own == buckets.end()) return {};
    // Spans follow each other in the list, and so do the records of a bucket.
    auto span = job.spans.begin();
    for (const std::uint32_t i : own->second) {
        while (i >= span->last) ++span;
        tally.add(*span, i);
    }
    return tally.result();
}

std::vector<RunContribution> runContributionsAt(const StitchedJob& job, const std::string& piece,
                                                Vec2 at) {
    const Box window = windowAt(at);
    const auto widths = widthTable(job.list);
    std::vector<RunContribution> result;
    for (const PieceSpan& span : job.spans) {
        if (span.source != piece || span.outline || !span.extents.overlaps(window)) continue;
        eachInside(job, span, window, widths, [&](int sewn, const Stitch& s, double area) {
            const int run = span.designRun(sewn);
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
