#pragma once
// What is known of one hooping's run: how far it came, what happened, what was sewn twice.

#include "run/sewn.h"

#include <optional>
#include <set>

namespace rapt {

/// Something that happened.
struct RunEvent {
    double seconds = 0; ///< of the machine's own time
    std::size_t sewn = 0;
    StopKind kind = StopKind::asked;
    friend bool operator==(const RunEvent&, const RunEvent&) = default;
};

/// Penetrations [from, to) that were sewn in one go.
struct SewnRange {
    std::size_t from = 0, to = 0;
    friend bool operator==(const SewnRange&, const SewnRange&) = default;
};

struct RunRecord {
    std::string mark;       ///< of what is sewn (contentMark)
    std::string job, jobId; ///< its name and its identity
    int hooping = 1;        ///< from 1
    std::size_t of = 0;     ///< penetrations in all
    std::size_t sewn = 0;   ///< that are done for good
    double seconds = 0;     ///< the machine's own time
    bool finished = false;
    std::vector<RunEvent> events;
    std::vector<SewnRange> ranges; ///< in the order of time
    std::set<std::string> steps;   ///< that a person confirmed (run_steps.h)

    /// It goes on from there (penetrations that stay). Refused (false) beyond what was sewn.
    bool begin(std::size_t from);
    /// The machine says that so many are done. Refused (false) where that cannot be: backwards, or
    /// more than there are.
    bool progress(std::size_t now, double atSeconds);
    void stopped(StopKind kind);
    void finish();
    /// Penetrations that were sewn more than once.
    std::size_t sewnAgain() const;
    /// The last thing that happened and was not gone on from, or null.
    const RunEvent* standing() const;
    friend bool operator==(const RunRecord&, const RunRecord&) = default;

private:
    std::size_t goneOn = 0; ///< events that were gone on from
};

} // namespace rapt
