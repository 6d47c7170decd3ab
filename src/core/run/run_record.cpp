#include "run/run_record.h"

#include <algorithm>

namespace rapt {

bool RunRecord::begin(std::size_t from) {
    if (from > of) return false;
    sewn = from;
    ranges.push_back({from, from});
    goneOn = events.size();
    finished = false;
    return true;
}

bool RunRecord::progress(std::size_t now, double atSeconds) {
    if (now > of || now < sewn || ranges.empty()) return false;
    sewn = now;
    ranges.back().to = now;
    seconds = std::max(seconds, atSeconds);
    return true;
}

void RunRecord::stopped(StopKind kind) { events.push_back({seconds, sewn, kind}); }

void RunRecord::finish() {
    finished = sewn == of;
    goneOn = events.size();
}

std::size_t RunRecord::sewnAgain() const {
    std::size_t again = 0, farthest = ranges.empty() ? 0 : ranges.front().from;
    for (const SewnRange& r : ranges) {
        if (r.from < farthest) again += std::min(r.to, farthest) - r.from;
        farthest = std::max(farthest, r.to);
    }
    return again;
}

const RunEvent* RunRecord::standing() const {
    return events.size() > goneOn ? &events.back() : nullptr;
}

} // namespace rapt
