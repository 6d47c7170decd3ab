#pragma once
// A made-up year of the Saltmarsh Kite Library: stitch-outs as they might have gone, with limits,
// placing errors and times of their own that can be learnt from them.

#include "library/library.h"
#include "record/stitch_out.h"

namespace rapt::standins {

/// What is true of the made-up shop, for those who check what is learnt.
struct YearTruth {
    double canvasLayers = 3.1; ///< where canvas begins to make trouble; other fabrics: house limit
    double datumSigmaMm = 0.24, chainSigmaMm = 0.38;
    double sixNeedleFactor = 1.12;
    double setupMinutes = 14;
};

/// So many stitch-outs in the year before a day (ISO 8601), oldest first. The same seed gives the
/// same year.
std::vector<StitchOut> yearOfRecords(const std::string& until, std::size_t count,
                                     std::uint64_t seed, const Library& library,
                                     const YearTruth& truth = {});

} // namespace rapt::standins
