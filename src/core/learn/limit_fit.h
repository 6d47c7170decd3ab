#pragma once
// Where a load begins to make trouble, from outcomes (docs/measures.md, "Learning").

#include <cstddef>
#include <string>
#include <vector>

namespace rapt {

/// An interval that holds the truth nine times in ten.
struct Interval {
    double low = 0, high = 0;
};
inline constexpr double intervalLevel = 0.9;

/// A stitch-out: how heavy it was at its worst place, and whether the load made trouble.
struct LoadCase {
    double load = 0;
    bool trouble = false;
};

struct LimitFit {
    std::size_t cases = 0, troubles = 0;
    double value = 0;       ///< median of the posterior: there one stitch-out in ten goes wrong
    Interval interval;      ///< its middle nine tenths
    double evidence = 0;    ///< ln of how much better than "the load does not matter" it explains
    bool isSettled = false; ///< enough cases of both kinds, and the load does matter
};

/// Bayes on a grid: trouble comes with g + (1 − g − h)·logistic((ln load − ln limit)/w + c), with c
/// such that at the limit the load itself spoils one in ten, where the limit is anywhere within a
/// third and three times the house value, and the slope w, the trouble g that comes anyhow and the
/// luck h that trouble stays away are unknown. Milliseconds for any number of cases. Loads of 0
/// tell nothing and are left out.
LimitFit fitLimit(const std::vector<LoadCase>& cases, double house);

} // namespace rapt
