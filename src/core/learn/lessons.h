#pragma once
// What the records of a shop teach: each a value that is used now, what would take its place, and
// on what evidence.

#include "learn/mean_fit.h"
#include "library/library.h"
#include "library/shop.h"
#include "record/stitch_out.h"

namespace rapt {

/// One lesson; kinds and subjects as in library/learnt.h.
struct Lesson {
    std::string kind, subject;
    std::string title; ///< such as "Canvas: most layers"
    std::string unit;  ///< such as "layers"; may be empty
    double house = 0;  ///< without learning
    double learnt = 0; ///< the house value as long as it is not settled
    std::size_t cases = 0;
    Interval interval{};    ///< as wide as what is known
    bool isSettled = false; ///< the evidence is enough
    bool isNews = false;    ///< settled, and far enough from the house value to matter
    std::string evidence{}; ///< in words
};

/// Lessons of all fabrics, methods and machines that the records name. `library` and `shop` are
/// those of the house, without what was learnt.
std::vector<Lesson> lessonsOf(const std::vector<StitchOut>& records, const Library& library,
                              const ShopRates& shop);

/// Of one fabric: its limits, also where there is no record.
std::vector<Lesson> limitLessons(const std::vector<StitchOut>& records, const Fabric& fabric);

/// σ of placing over all methods; nothing with too few gaps.
std::optional<MeanFit> placingOf(const std::vector<StitchOut>& records);
/// Taken over estimated time over all machines; nothing with too few.
std::optional<MeanFit> timeFactorOf(const std::vector<StitchOut>& records);

} // namespace rapt
