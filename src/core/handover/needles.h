#pragma once
// Which thread is on which needle, and when a person must change a cone.

#include "estimate/work.h"

#include <optional>

namespace rapt {

/// What is on a needle.
struct Cone {
    Thread thread;
    std::optional<double> leftM; ///< thread that is left on it, if that is known
    bool fixed = false;          ///< the person wants it to stay there
    friend bool operator==(const Cone&, const Cone&) = default;
};
/// Needle 1 first.
using Needles = std::vector<std::optional<Cone>>;

/// One use of a thread, without a change inside.
struct ThreadStep {
    Thread thread;
    std::size_t hooping = 0; ///< over the whole queue, from 0
    std::size_t first = 0;   ///< the penetration of the hooping that it begins with, from 0
    double topM = 0;         ///< thread that it takes
};

/// The uses of the threads of hoopings that follow each other, in order.
std::vector<ThreadStep> threadSteps(const std::vector<HoopingList>& lists, const Fabric& fabric,
                                    std::size_t firstHooping = 0);

/// A cone that is put on a needle.
struct ConeChange {
    int needle = 1; ///< from 1
    Thread thread;
    std::size_t hooping = 0;
    std::size_t at = 0;    ///< penetrations of the hooping sewn before; 0: before it begins
    bool replaces = false; ///< another cone comes off
};

/// A cone that will not last.
struct ShortCone {
    int needle = 1;
    Thread thread;
    double leftM = 0, neededM = 0;
    std::size_t hooping = 0; ///< in which it runs out
};

struct NeedlePlan {
    std::vector<int> needleOf;       ///< for each step, from 1
    std::vector<ConeChange> changes; ///< in order
    std::vector<ShortCone> runOut;
    Needles start; ///< once the changes before the first hooping are made
};

/// The fewest cone changes for steps in this order, from what is on now: what is needed and not on
/// takes the place of what is needed again latest (L. A. Belady, "A study of replacement
/// algorithms", IBM Systems Journal 5, 1966: no plan has fewer). Changes are made before a hooping
/// where that is possible. Fails (cannotDo) if the needles that may change are none and a thread is
/// on none.
Result<NeedlePlan> planNeedles(const std::vector<ThreadStep>& steps, const Needles& now);

} // namespace rapt
