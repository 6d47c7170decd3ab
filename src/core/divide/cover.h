#pragma once
// Fewest sets that hold everything: exact cover by integer programming (GLPK).

#include "divide/part_set.h"

#include <optional>
#include <stop_token>
#include <vector>

namespace rapt {

/// A clamping that may be chosen, with the sets that its positions hold.
struct CoverColumn {
    std::vector<PartSet> stands;
    bool forced = false; ///< chosen in any case
};

/// What is chosen, and what is known about anything better.
struct CoverChoice {
    std::vector<std::size_t> columns;             ///< indices, ascending
    std::vector<std::vector<std::size_t>> stands; ///< of each chosen column, those that are used
    std::size_t hoopings = 0;                     ///< all used stands
    int leastColumns = 0;                         ///< no choice has fewer columns
    int leastHoopings = 0; ///< no choice with as few columns as `leastColumns` has fewer stands
    bool proven() const {
        return static_cast<int>(columns.size()) == leastColumns &&
               static_cast<int>(hoopings) == leastHoopings;
    }
};

/// Fewest columns, then fewest stands, that hold all of `size` numbers. `excluded` are choices of
/// columns that must not be taken exactly so. With the time up (or when stopped) the best that is
/// known, with true bounds. Nothing if some number is in no column, or nothing is left by
/// `excluded`.
std::optional<CoverChoice> fewestCovering(std::size_t size, const std::vector<CoverColumn>& columns,
                                          const std::vector<std::vector<std::size_t>>& excluded,
                                          double seconds, std::stop_token stop = {});

/// How many sets are needed at least to hold all numbers, from the linear relaxation, or exactly if
/// the time allows it.
int fewestSets(std::size_t size, const std::vector<PartSet>& sets, double seconds,
               std::stop_token stop = {});

} // namespace rapt
