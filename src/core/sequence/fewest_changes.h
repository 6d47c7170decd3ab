#pragma once
// The order of sewing with the fewest thread changes, as a problem of its own: things with a
// thread each, some of which must come before others.

#include <cstddef>
#include <stop_token>
#include <utility>
#include <vector>

namespace rapt {

/// Something sewn in one go. It begins in one thread and ends in one; changes inside it are not
/// counted here.
struct SewnItem {
    int first = 0, last = 0; ///< threads, any numbers

    /// Sewn with one thread only.
    bool isPlain() const { return first == last; }
};

/// Blocks with threads, and which must come before which.
struct OrderProblem {
    std::vector<SewnItem> items;
    /// The first of each pair is sewn before the second; without circles.
    std::vector<std::pair<std::size_t, std::size_t>> before;
};

/// An order and a true bound.
struct OrderSolution {
    std::vector<std::size_t> order; ///< all items; those that may follow each other freely keep
                                    ///< their numbers' order
    int changes = 0;    ///< between items: neighbours of which one ends and the next begins
                        ///< in another thread
    int lowerBound = 0; ///< no order has fewer
    /// No order has fewer changes.
    bool proven() const { return changes == lowerBound; }
};

/// Up to 40 items the result is minimal (best-first search over what is done, with the number of
/// visits that each thread still needs as its bound; Hart, Nilsson and Raphael 1968); if that would
/// take more than a few seconds, and for more items, the best order found and a true bound.
OrderSolution fewestChanges(const OrderProblem& problem, std::stop_token stop = {});

} // namespace rapt
