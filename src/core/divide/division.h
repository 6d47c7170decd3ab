#pragma once
// Dividing a layout into hoopings: which hoop, where, with which pieces, and where to mark.

#include "base/result.h"
#include "job/job.h"
#include "job/stitching.h"
#include "library/library.h"

namespace rapt {

/// How later clampings are found on the cloth.
enum class Method {
    datum, ///< every hooping is measured from the lines drawn on the cloth
};

/// What may be used, and what is kept.
struct DivideOptions {
    std::vector<Hoop> hoops; ///< that may be used; at least one
    Method method = Method::datum;
    double placingSigmaMm = 0.3;
};

/// A plan, and how good it is.
struct Division {
    std::vector<Hooping> hoopings; ///< in the order they are sewn
    /// No division for this method can need fewer: so many penetrations lie pairwise too far
    /// apart for one field. It holds even if pieces were cut.
    int lowerBound = 0;
    bool provenMinimal = false;
    /// Where two hoopings come nearest, each of them is off by its own registration error; this
    /// is the RMS of their difference over all such places (docs/measures.md). 0 with one hooping.
    double predictedJoinRmsMm = 0;
};

/// Puts every piece whole into one hooping, axis-aligned but for the hoop's turns, and so that
/// pieces that overlap keep their order. Right, but not always the fewest. Fails (cannotDo) for a
/// piece that fits no field, naming the smallest field of `allHoops` that would take it.
Result<Division> divideIntoHoopings(const Job& job, const StitchedJob& stitched,
                                    const DivideOptions& options,
                                    const std::vector<Hoop>& allHoops);

/// The hoops to divide with: those named, else those the job owns. Fails (cannotDo) for unknown
/// ones, and when there are none.
Result<std::vector<Hoop>> hoopsFor(const Job& job, const std::vector<std::string>& named,
                                   const Library& library);

} // namespace rapt
