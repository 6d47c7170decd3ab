#pragma once
// What a job takes: time by its parts, thread by colour, stabilizer (docs/measures.md, "Time",
// "Thread used").

#include "divide/hooping_lists.h"
#include "estimate/timing.h"

namespace rapt {

inline constexpr double threadEndMm = 40; ///< at every start and end of a thread, above and below

/// Seconds by what they are spent on; positions of a clamping count as clampings.
struct TimeParts {
    double sewing = 0, threadChanges = 0, trims = 0, clampings = 0, registrations = 0;
    double total() const { return sewing + threadChanges + trims + clampings + registrations; }
};

/// One thread over the whole job.
struct ThreadNeed {
    Thread thread;
    std::size_t stitches = 0;
    double topMm = 0, bobbinMm = 0;
    double sewingSeconds = 0; ///< without trims and changes
};

/// All that sewing takes.
struct Work {
    TimeParts seconds;
    std::size_t stitches = 0, trims = 0, threadChanges = 0;
    std::size_t coneChanges = 0;     ///< of the thread changes, those beyond the needles
    std::vector<ThreadNeed> threads; ///< in the order of their first use, over all hoopings
    double bobbinMm = 0;
    double stabilizerCm2 = 0;
};

/// Which thread of the whole job each number of each list is.
class JobThreads {
public:
    explicit JobThreads(const std::vector<HoopingList>& lists);
    /// Of all lists that use them, in the order of their first stitch.
    const std::vector<Thread>& threads() const { return all; }
    /// The place in `threads` of a list's thread; only for threads that have a stitch.
    std::size_t of(std::size_t list, std::uint8_t index) const { return number[list][index]; }

private:
    std::vector<Thread> all;
    std::vector<std::array<std::size_t, 256>> number;
};

/// Seconds that the machine needs before the next stitch when the thread changes to the `thread`th
/// of the job (from 0): threads get needles in the order of their first use.
double changeSeconds(std::size_t thread, const Machine& machine);

/// Seconds that a person needs before a hooping (from 0): its clamping or its position, and its
/// registration.
struct HandlingBefore {
    double clamping = 0, registration = 0;
};
HandlingBefore handlingBefore(const std::vector<Hooping>& hoopings, std::size_t hooping,
                              const Machine& machine);

/// The whole of the job's hoopings, whose lists these are. Fails (cannotDo) for a frame that the
/// library lacks.
Result<Work> workOf(const std::vector<Hooping>& hoopings, const std::vector<HoopingList>& lists,
                    const Machine& machine, const Fabric& fabric, const Library& library);

} // namespace rapt
