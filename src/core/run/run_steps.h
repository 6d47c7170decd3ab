#pragma once
// What a person does before the needle moves: a short list, of this hooping's own needs.

#include "divide/hooping_lists.h"
#include "handover/needles.h"
#include "run/sewn.h"

namespace rapt {

/// One thing to do.
struct RunStep {
    std::string id;      ///< stable: cloth-marked, stabilizer, needles, …
    std::string words;   ///< what to do
    std::string caution; ///< how not to get hurt; may be empty
};

/// The steps before a hooping (from 0), in the order they are done.
std::vector<RunStep> stepsBefore(const Job& job, std::size_t hooping,
                                 const std::vector<HoopingList>& lists, const NeedlePlan& needles,
                                 const Library& library);

/// What is left to do once a hooping (from 0) is sewn: loose threads, topper, basting, stabilizer,
/// marks, pressing; before its last one only what does not disturb those to come.
std::vector<RunStep> stepsAfter(const Job& job, std::size_t hooping,
                                const std::vector<HoopingList>& lists, const Library& library);

/// What to do after a stop, in one or two sentences.
std::string adviceAfter(StopKind kind);

/// Why it stopped there, if the load says so; else empty. `layers` and `hits` are those at the
/// place, of the same hooping.
std::string reasonOfBreak(StopKind kind, double layers, double hits, const Fabric& fabric);

} // namespace rapt
