#pragma once
// Pieces taken out of a job to be put into it again, or into another one.

#include "job/edit.h"

namespace rapt {

/// The pieces of these ids, in the job's order, with the repeats of which all pieces are among
/// them; nothing else of the job.
Job clipOf(const Job& job, const std::vector<std::string>& ids);

/// What brings a clip into a job.
struct Pasting {
    Edit edit;
    std::vector<std::string> ids; ///< that its pieces have there
};

/// The clip's pieces sewn last, moved by `by` (cloth frame). Ids, repeats and groups get names of
/// their own where the job has them already; what was one group stays one.
Pasting pastingOf(const Job& into, const Job& clip, Vec2 by, const std::string& name);

} // namespace rapt
