#include "thread/trims.h"

#include "thread/sequences.h"
#include "thread/ties.h"

namespace rapt {

TracedList trimmedOver(const StitchList& list, double overMm) {
    const std::vector<Sequence> sequences = sequencesOf(list);
    TracedList result = tracedLike(list);
    std::size_t record = 0;
    const auto copy = [&](std::size_t to, bool trims) {
        for (; record < to; ++record)
            if (trims || list.stitches[record].op != Op::trim)
                result.keep(list.stitches[record], record);
    };
    for (std::size_t k = 0; k < sequences.size(); ++k) {
        const Sequence& s = sequences[k];
        bool trims = true;
        if (k > 0) {
            const Stitch& end = list.stitches[sequences[k - 1].last - 1];
            const Stitch& first = list.stitches[s.first];
            const bool same = end.thread == first.thread;
            const bool far = distance(end.at(), s.ledInFrom.value_or(first.at())) > overMm;
            trims = !same || far;
            if (same && far && !s.cutBefore)
                result.make({end.x, end.y, Op::trim, end.thread}, NewRecord::move);
        }
        copy(s.first, trims);
        copy(s.last, true);
    }
    copy(list.stitches.size(), true);
    return tieMadeEnds(list, result);
}

} // namespace rapt
