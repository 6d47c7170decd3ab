#include "estimate/playback.h"

#include <algorithm>

namespace rapt {
namespace {

/// One past the last record of a run.
Playhead endOf(const TimeLine& time, const StitchList& list, std::size_t run) {
    return run + 1 < time.runs.size() ? time.runs[run + 1].first : list.stitches.size();
}

} // namespace

Playhead placeAt(const TimeLine& time, const StitchList& list, double seconds) {
    if (time.runs.empty() || seconds <= 0) return 0;
    for (std::size_t r = 0; r < time.runs.size(); ++r) {
        const ThreadRun& run = time.runs[r];
        if (seconds < run.startSeconds) return run.first;
        if (seconds >= run.startSeconds + run.seconds && r + 1 < time.runs.size()) continue;
        const double share =
            run.seconds > 0 ? std::clamp((seconds - run.startSeconds) / run.seconds, 0.0, 1.0) : 1;
        const Playhead end = endOf(time, list, r);
        return run.first +
               static_cast<Playhead>(share * static_cast<double>(end - run.first) + 0.5);
    }
    return list.stitches.size();
}

double secondsAt(const TimeLine& time, const StitchList& list, Playhead place) {
    const int r = runAt(time, place);
    if (r < 0) return 0;
    const auto i = static_cast<std::size_t>(r);
    const ThreadRun& run = time.runs[i];
    const Playhead end = endOf(time, list, i);
    const double share = end > run.first ? static_cast<double>(place - run.first) /
                                               static_cast<double>(end - run.first)
                                         : 1;
    return run.startSeconds + run.seconds * std::min(1.0, share);
}

Playhead stepFrom(const TimeLine& time, const StitchList& list, Playhead place, PlayStep step,
                  bool forward) {
    const auto& stitches = list.stitches;
    if (step == PlayStep::stitch) {
        if (forward) {
            while (place < stitches.size() && stitches[place++].op != Op::stitch) {
            }
            return place;
        }
        while (place > 0 && stitches[--place].op != Op::stitch) {
        }
        return place;
    }
    const auto counts = [&](const ThreadRun& run) {
        return step == PlayStep::run || run.changeBefore;
    };
    if (forward) {
        for (const ThreadRun& run : time.runs)
            if (run.first > place && counts(run)) return run.first;
        return stitches.size();
    }
    for (auto run = time.runs.rbegin(); run != time.runs.rend(); ++run)
        if (run->first < place && counts(*run)) return run->first;
    return 0;
}

int runAt(const TimeLine& time, Playhead place) {
    const auto next =
        std::upper_bound(time.runs.begin(), time.runs.end(), place,
                         [](Playhead p, const ThreadRun& run) { return p < run.first; });
    return static_cast<int>(next - time.runs.begin()) - 1;
}

std::size_t stitchesDone(const StitchList& list, Playhead place) {
    return static_cast<std::size_t>(std::count_if(
        list.stitches.begin(),
        list.stitches.begin() + static_cast<std::ptrdiff_t>(std::min(place, list.stitches.size())),
        [](const Stitch& s) { return s.op == Op::stitch; }));
}

} // namespace rapt
