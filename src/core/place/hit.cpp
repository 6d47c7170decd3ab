#include "place/hit.h"

#include "geometry/polygon.h"

namespace rapt {

const PieceSpan* spanAt(const StitchedJob& job, Vec2 at, double reachMm) {
    for (auto span = job.spans.rbegin(); span != job.spans.rend(); ++span) {
        if (!span->extents.grown(reachMm).contains(at)) continue;
        const Stitch* needle = nullptr;
        for (std::size_t i = span->first; i < span->last; ++i) {
            const Stitch& s = job.list.stitches[i];
            if (s.op == Op::stitch && needle &&
                distanceToSegment(at, needle->at(), s.at()) <= reachMm)
                return &*span;
            if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
        }
    }
    return nullptr;
}

std::vector<std::string> piecesIn(const StitchedJob& job, const Box& box) {
    std::vector<std::string> ids;
    for (const PieceSpan& span : job.spans)
        if (!span.extents.empty() && box.overlaps(span.extents) &&
            std::find(ids.begin(), ids.end(), span.source) == ids.end())
            ids.push_back(span.source);
    return ids;
}

} // namespace rapt
