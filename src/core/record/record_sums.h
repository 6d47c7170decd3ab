#pragma once
// What several stitch-outs took and came to, together.

#include "record/stitch_out.h"

namespace rapt {

struct RecordSums {
    int good = 0, mended = 0, spoilt = 0; ///< the others were not judged yet
    double threadM = 0;
    double seconds = 0; ///< as taken, where that is known, else as estimated
};
RecordSums sumsOf(const std::vector<StitchOut>& records);

} // namespace rapt
