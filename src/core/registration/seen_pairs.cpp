#include "registration/seen_pairs.h"

namespace rapt {

std::vector<PointPair> seenPairs(const Registration& registration) {
    std::vector<PointPair> pairs;
    for (const SeenPoint& p : registration.points)
        if (p.seen) pairs.push_back({p.name, p.planned, *p.seen});
    return pairs;
}

} // namespace rapt
