#include "run/sewn.h"

#include <algorithm>
#include <iterator>

namespace rapt {
namespace {

constexpr const char* names[] = {"stopped", "thread-break", "bobbin-empty", "needle-break",
                                 "jam",     "power-cut",    "cone-change"};

} // namespace

const char* nameOf(StopKind kind) { return names[static_cast<std::size_t>(kind)]; }

bool parseStopKind(const std::string& name, StopKind& kind) {
    const auto* found = std::find(std::begin(names), std::end(names), name);
    if (found == std::end(names)) return false;
    kind = static_cast<StopKind>(found - std::begin(names));
    return true;
}

Penetrations::Penetrations(const StitchList& list) {
    for (std::size_t i = 0; i < list.stitches.size(); ++i)
        if (list.stitches[i].op == Op::stitch) records.push_back(static_cast<std::uint32_t>(i));
}

std::size_t Penetrations::before(std::size_t record) const {
    return static_cast<std::size_t>(std::lower_bound(records.begin(), records.end(), record) -
                                    records.begin());
}

std::size_t threadStart(const StitchList& list, const Penetrations& penetrations,
                        std::size_t sewn) {
    if (sewn == 0) return 0;
    std::size_t k = sewn - 1;
    const auto threadOf = [&](std::size_t n) {
        return list.stitches[penetrations.record(n)].thread;
    };
    while (k > 0 && threadOf(k - 1) == threadOf(sewn - 1)) --k;
    return k;
}

std::size_t nextThread(const StitchList& list, const Penetrations& penetrations, std::size_t sewn) {
    if (penetrations.count() == 0) return 0;
    const std::size_t now = std::min(sewn, penetrations.count() - 1);
    const auto threadOf = [&](std::size_t n) {
        return list.stitches[penetrations.record(n)].thread;
    };
    std::size_t k = now;
    while (k < penetrations.count() && threadOf(k) == threadOf(now)) ++k;
    return k;
}

Resume resumeAfter(const StitchList& list, const Penetrations& penetrations, std::size_t sewn,
                   StopKind why) {
    if (why == StopKind::asked || why == StopKind::coneChange) return {sewn, 0};
    const std::size_t first = threadStart(list, penetrations, sewn);
    const std::size_t overlap = std::min(resumeOverlap, sewn - first);
    return {sewn - overlap, overlap};
}

} // namespace rapt
