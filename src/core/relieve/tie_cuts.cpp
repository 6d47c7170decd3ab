#include "relieve/tie_cuts.h"

#include "respace/stretches.h"

namespace rapt {

Vec2 tiePoint(Vec2 end, Vec2 towards) {
    const double size = distance(end, towards);
    return size > 0 ? lerp(end, towards, std::min(1.0, tieStitchMm / size)) : end;
}

StitchList tieCuts(const StitchList& list) {
    StitchList result = list;
    result.stitches.clear();
    const auto push = [&](Vec2 p, std::uint8_t thread) {
        result.stitches.push_back(stitchAt(Op::stitch, p, thread));
    };
    const std::vector<SewnChain> chains = recogniseStretches(list);
    std::size_t record = 0;
    for (std::size_t k = 0; k < chains.size(); ++k) {
        const SewnChain& c = chains[k];
        const auto at = [&](std::size_t i) {
            return list.stitches.begin() + static_cast<std::ptrdiff_t>(i);
        };
        result.stitches.insert(result.stitches.end(), at(record), at(c.firstRecord));
        record = c.lastRecord;
        const bool cutBefore = k > 0 && c.firstRecord > 0 && c.points.size() > 1 && !c.ledIn;
        const bool cutAfter = record < list.stitches.size() &&
                              list.stitches[record].op == Op::trim && c.points.size() > 1;
        auto first = at(c.firstRecord);
        if (cutBefore && c.stretches.front().kind != StretchKind::tie) {
            push(c.points[0], c.thread);
            push(tiePoint(c.points[0], c.points[1]), c.thread);
        }
        result.stitches.insert(result.stitches.end(), first, at(record));
        if (!cutAfter || c.stretches.back().kind == StretchKind::tie) continue;
        const Vec2 end = c.points.back();
        const Vec2 back = tiePoint(end, c.points[c.points.size() - 2]);
        for (const Vec2 p : {back, end, back}) push(p, c.thread);
    }
    result.stitches.insert(result.stitches.end(),
                           list.stitches.begin() + static_cast<std::ptrdiff_t>(record),
                           list.stitches.end());
    return result;
}

} // namespace rapt
