#pragma once
// Honest layouts and planted faults, made up from a seed: how often the judgement is loud on the
// first, silent on the second, and whether its ways out lead out.

#include "job/job.h"
#include "library/library.h"

#include <cstdint>

namespace rapt::study {

/// A layout that a specialist would sew as it is: words, shapes and designs on any shipped cloth,
/// in any frame that holds them, planned or not.
Job honestLayout(const Library& library, std::uint64_t seed);

/// A fault that can be planted.
struct Fault {
    std::string name;               ///< what a person did
    std::vector<std::string> kinds; ///< of findings that name it
    /// Plants it in a layout that is quiet; false where it cannot be. `piece`: the id it concerns.
    bool (*plant)(Job& job, const Library& library, std::uint64_t seed, std::string& piece);
};
const std::vector<Fault>& faults();

/// What came of one layout.
struct Judged {
    int stops = 0, cautions = 0;
    std::string worst;             ///< text of the first finding worth a caution
    bool found = false;            ///< of a planted fault: a finding of its kinds, of its piece
    bool named = false;            ///< and it is the first that is said
    int remedies = 0, working = 0; ///< offered, and those that leave nothing worth a caution of it
    std::string failing;           ///< label of the first that does not
};
Judged judge(const Job& job, const Library& library, const Fault* fault = nullptr,
             const std::string& piece = {});

} // namespace rapt::study
