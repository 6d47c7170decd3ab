#include "thread/measures.h"

namespace rapt {

Measures measure(const StitchList& list) {
    Measures m;
    std::array<ThreadUse, 256> use{};
    constexpr std::int64_t shortUnits = static_cast<std::int64_t>(shortStitchMm * unitsPerMm);
    constexpr std::int64_t snagUnits = static_cast<std::int64_t>(snagStitchMm * unitsPerMm);
    std::int64_t longest = 0;
    std::int32_t minX = INT32_MAX, minY = INT32_MAX, maxX = INT32_MIN, maxY = INT32_MIN;
    const Stitch* last = nullptr;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        ++m.stitches;
        ThreadUse& u = use[s.thread];
        ++u.stitches;
        if (last && last->thread != s.thread) ++m.threadChanges;
        last = &s;
        minX = std::min(minX, s.x);
        maxX = std::max(maxX, s.x);
        minY = std::min(minY, s.y);
        maxY = std::max(maxY, s.y);
        if (!from) return;
        const std::int64_t dx = std::int64_t{s.x} - from->x;
        const std::int64_t dy = std::int64_t{s.y} - from->y;
        const std::int64_t square = dx * dx + dy * dy;
        longest = std::max(longest, square);
        m.shortStitches += square > 0 && square < shortUnits * shortUnits;
        m.longStitches += square > snagUnits * snagUnits;
        u.lengthMm += std::sqrt(static_cast<double>(square)) / unitsPerMm;
    });
    for (const Stitch& s : list.stitches) {
        m.jumps += s.op == Op::jump;
        m.trims += s.op == Op::trim;
        m.stops += s.op == Op::stop;
    }
    m.longestMm = std::sqrt(static_cast<double>(longest)) / unitsPerMm;
    if (m.stitches > 0) {
        m.extents.add(Stitch{minX, minY}.at());
        m.extents.add(Stitch{maxX, maxY}.at());
    }
    for (const Thread& t : list.threads) {
        ThreadUse u = use[t.index];
        u.thread = t;
        m.lengthMm += u.lengthMm;
        m.threads.push_back(u);
    }
    return m;
}

Box extentsOf(const StitchList& list) {
    Box box;
    for (const Stitch& s : list.stitches)
        if (s.op == Op::stitch) box.add(s.at());
    return box;
}

} // namespace rapt
