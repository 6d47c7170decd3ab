#include "estimate/timing.h"

#include "job/stitching.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {

double stitchSeconds(double lengthMm, const Machine& machine, const Fabric& fabric) {
    const double top = std::min(machine.topSpeed, fabric.topSpeed);
    const double slower = std::max(1.0, lengthMm / machine.fullSpeedUpToMm);
    return 60.0 / top * slower * machine.timeFactor;
}

TimeLine timeLineOf(const StitchList& list, const std::vector<PieceSpan>& spans,
                    const Machine& machine, const Fabric& fabric) {
    TimeLine line;
    double now = 0;
    std::size_t span = 0;
    std::size_t trims = 0; // trims since the last stitch
    std::size_t counted = 0;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        while (span + 1 < spans.size() && i >= spans[span].last) ++span;
        const std::string& piece = spans.empty() ? std::string() : spans[span].source;
        for (; counted < i; ++counted) trims += list.stitches[counted].op == Op::trim;
        const bool changed = !line.runs.empty() && line.runs.back().thread != s.thread;
        now += static_cast<double>(trims) * machine.trimSeconds;
        if (changed) {
            now += machine.threadChangeSeconds;
            ++line.threadChanges;
        }
        trims = 0;
        if (line.runs.empty() || changed || line.runs.back().piece != piece)
            line.runs.push_back({s.thread, piece, i, 0, now, 0, changed});
        ThreadRun& run = line.runs.back();
        const bool sewn = from && from->op == Op::stitch;
        now += stitchSeconds(sewn ? spanMm(*from, s) : 0, machine, fabric);
        ++run.stitches;
        ++line.stitches;
        run.seconds = now - run.startSeconds;
    });
    for (; counted < list.stitches.size(); ++counted)
        if (list.stitches[counted].op == Op::trim) now += machine.trimSeconds;
    line.totalSeconds = now;
    return line;
}

std::string formatDuration(double seconds) {
    const long minutes = std::lround(seconds / 60);
    if (seconds < 90) return fmt::format("{:.0f} s", seconds);
    if (minutes < 60) return fmt::format("{} min", minutes);
    return fmt::format("{} h {:02} min", minutes / 60, minutes % 60);
}

} // namespace rapt
