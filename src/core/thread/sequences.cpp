#include "thread/sequences.h"

namespace rapt {

std::vector<Sequence> sequencesOf(const StitchList& list) {
    std::vector<Sequence> sequences;
    const Stitch* needle = nullptr;
    bool open = false, cut = true;
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        const Stitch& s = list.stitches[i];
        if (s.op != Op::stitch) {
            if (s.op == Op::jump) needle = &s;
            cut = cut || s.op == Op::trim;
            open = false;
            continue;
        }
        const bool first = sequences.empty();
        const bool changes = !first && list.stitches[sequences.back().first].thread != s.thread;
        if (!open || changes) {
            if (!first) sequences.back().cutAfter = cut || changes;
            Sequence& next = sequences.emplace_back();
            next.first = i;
            next.cutBefore = cut || changes;
            // A list's first stitch lays no thread.
            if (!first && (needle->x != s.x || needle->y != s.y)) next.ledInFrom = needle->at();
        }
        open = true;
        cut = false;
        needle = &s;
        sequences.back().last = i + 1;
    }
    if (!sequences.empty()) sequences.back().cutAfter = true;
    return sequences;
}

} // namespace rapt
