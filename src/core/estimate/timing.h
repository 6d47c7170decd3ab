#pragma once
// How long sewing takes: each stitch at the speed its length allows, and what a person does.

#include "library/library.h"
#include "thread/measures.h"

#include <optional>
#include <vector>

namespace rapt {

/// Seconds for one stitch: full speed up to the machine's length, then slower in proportion; never
/// faster than the fabric allows.
double stitchSeconds(double lengthMm, const Machine& machine, const Fabric& fabric);

/// Seconds of one stitch; nothing counts as length after a jump.
double stitchSecondsAfter(const Stitch* from, const Stitch& stitch, const Machine& machine,
                          const Fabric& fabric);

/// Something that takes the machine's time.
struct TimeEvent {
    enum class Kind { stitch, trim, change } kind = Kind::stitch;
    std::size_t record = 0; ///< of the list; of a change: the first stitch of the new thread
    double seconds = 0;
    const Stitch* from = nullptr; ///< of a stitch: where its thread comes from; null for the first
};

/// What happens while a list is sewn, in its order: the one account of the machine's time, from
/// which sums, time lines, playback, queue and batch are read. `threadOf` tells which thread a
/// number of the list is, `changeTo` the seconds that a change to it takes; `last` is the thread
/// that is on, also of the list before, and of a change already the new one.
template<class ThreadOf, class ChangeTo, class Visit>
void eachTimeEvent(const StitchList& list, const Machine& machine, const Fabric& fabric,
                   ThreadOf threadOf, ChangeTo changeTo, std::optional<std::size_t>& last,
                   Visit visit) {
    using Kind = TimeEvent::Kind;
    std::size_t seen = 0;
    const auto trimsUpTo = [&](std::size_t end) {
        for (; seen < end; ++seen)
            if (list.stitches[seen].op == Op::trim)
                visit(TimeEvent{Kind::trim, seen, machine.trimSeconds, nullptr});
    };
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        trimsUpTo(i);
        const Stitch& s = list.stitches[i];
        const std::size_t thread = threadOf(s.thread);
        const bool changes = last && *last != thread;
        last = thread;
        if (changes) visit(TimeEvent{Kind::change, i, changeTo(thread), nullptr});
        visit(TimeEvent{Kind::stitch, i, stitchSecondsAfter(from, s, machine, fabric), from});
    });
    trimsUpTo(list.stitches.size());
}
/// The same of one list by itself, every change as by a change of needles.
template<class Visit>
void eachTimeEvent(const StitchList& list, const Machine& machine, const Fabric& fabric,
                   Visit visit) {
    std::optional<std::size_t> last;
    eachTimeEvent(
        list, machine, fabric, [](std::uint8_t index) { return std::size_t{index}; },
        [&](std::size_t) { return machine.threadChangeSeconds; }, last, visit);
}

/// Seconds up to each penetration of a list, trims and thread changes included, nothing that a
/// person does.
std::vector<float> secondsUpTo(const StitchList& list, const Machine& machine,
                               const Fabric& fabric);

/// One stretch of the time line: stitches of one thread in one piece.
struct ThreadRun {
    std::uint8_t thread = 1;
    std::string piece;
    std::size_t first = 0; ///< index of its first stitch record
    std::size_t stitches = 0;
    double startSeconds = 0;
    double seconds = 0;
    bool changeBefore = false; ///< a thread change stands before it
};

/// Seconds by piece and thread, in order.
struct TimeLine {
    std::vector<ThreadRun> runs;
    double totalSeconds = 0; ///< without hoopings
    std::size_t stitches = 0;
    std::size_t threadChanges = 0;
};

struct PieceSpan;
/// The times of a list on a machine and a cloth.
TimeLine timeLineOf(const StitchList& list, const std::vector<PieceSpan>& spans,
                    const Machine& machine, const Fabric& fabric);

/// `1 h 12 min`, `38 min`, `45 s`.
std::string formatDuration(double seconds);

} // namespace rapt
