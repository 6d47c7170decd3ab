#include "record/record_sums.h"

namespace rapt {

RecordSums sumsOf(const std::vector<StitchOut>& records) {
    RecordSums sums;
    for (const StitchOut& r : records) {
        sums.good += r.outcome == "good";
        sums.mended += r.outcome == "mended";
        sums.spoilt += r.outcome == "spoilt";
        for (const ThreadUsed& t : r.threads) sums.threadM += t.lengthM;
        sums.seconds += r.secondsTaken ? *r.secondsTaken : r.secondsEstimated.value_or(0);
    }
    return sums;
}

} // namespace rapt
