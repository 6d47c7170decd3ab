#include "estimate/timing.h"

#include "job/stitching.h"

#include <fmt/format.h>

namespace rapt {

double stitchSeconds(double lengthMm, const Machine& machine, const Fabric& fabric) {
    const double top = std::min(machine.topSpeed, fabric.topSpeed);
    const double slower = std::max(1.0, lengthMm / machine.fullSpeedUpToMm);
    return 60.0 / top * slower * machine.timeFactor;
}

double stitchSecondsAfter(const Stitch* from, const Stitch& stitch, const Machine& machine,
                          const Fabric& fabric) {
    const bool sewn = from && from->op == Op::stitch;
    return stitchSeconds(sewn ? spanMm(*from, stitch) : 0, machine, fabric);
}

std::vector<float> secondsUpTo(const StitchList& list, const Machine& machine,
                               const Fabric& fabric) {
    std::vector<float> seconds;
    double now = 0;
    eachTimeEvent(list, machine, fabric, [&](const TimeEvent& e) {
        now += e.seconds;
        if (e.kind == TimeEvent::Kind::stitch) seconds.push_back(static_cast<float>(now));
    });
    return seconds;
}

TimeLine timeLineOf(const StitchList& list, const std::vector<PieceSpan>& spans,
                    const Machine& machine, const Fabric& fabric) {
    TimeLine line;
    std::size_t span = 0;
    bool changed = false;
    eachTimeEvent(list, machine, fabric, [&](const TimeEvent& e) {
        if (e.kind == TimeEvent::Kind::change) {
            changed = true;
            ++line.threadChanges;
        }
        if (e.kind == TimeEvent::Kind::stitch) {
            while (span + 1 < spans.size() && e.record >= spans[span].last) ++span;
            const std::string& piece = spans.empty() ? std::string() : spans[span].source;
            if (line.runs.empty() || changed || line.runs.back().piece != piece)
                line.runs.push_back({list.stitches[e.record].thread, piece, e.record, 0,
                                     line.totalSeconds, 0, changed});
            changed = false;
            ThreadRun& run = line.runs.back();
            ++run.stitches;
            ++line.stitches;
            run.seconds = line.totalSeconds + e.seconds - run.startSeconds;
        }
        line.totalSeconds += e.seconds;
    });
    return line;
}

std::string formatDuration(double seconds) {
    const long minutes = std::lround(seconds / 60);
    if (seconds < 90) return fmt::format("{:.0f} s", seconds);
    if (minutes < 60) return fmt::format("{} min", minutes);
    return fmt::format("{} h {:02} min", minutes / 60, minutes % 60);
}

} // namespace rapt
