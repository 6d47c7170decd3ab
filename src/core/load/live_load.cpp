#include "load/live_load.h"

#include "load/load_sums.h"

namespace rapt {

// A job that is too large for a map has no derived one either: adding cannot fail here.
LiveLoad::LiveLoad(const Box& box) : sums(std::make_unique<LoadSums>(box)) {}
LiveLoad::~LiveLoad() = default;

void LiveLoad::add(const StitchList& list, std::size_t first, std::size_t last) {
    (void)sums->add(list, first, last);
}

void LiveLoad::move(const StitchList& list, std::size_t first, std::size_t last, const Affine& from,
                    const Affine& to) {
    (void)sums->add(list, first, last, &from, -1);
    (void)sums->add(list, first, last, &to, 1);
}

const LoadMap& LiveLoad::map() {
    sums->averageChanged(current, changed);
    return current;
}

} // namespace rapt
