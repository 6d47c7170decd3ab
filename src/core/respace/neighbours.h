#pragma once
// Which fills go on in another one. Internal to respacing; millimetres.

#include "geometry/segment_grid.h"
#include "respace/laying.h"

#include <memory>

namespace rapt {

/// The rows of all fills of one list, by thread.
class RowNeighbours {
public:
    /// Sorts all rows by place.
    explicit RowNeighbours(const std::vector<SewnChain>& chains);

    /// Whether rows of another fill of the same thread lie where the next row would, beyond the
    /// first and beyond the last one.
    BandEnds of(const SewnChain& chain, const SewnStretch& fill) const;

private:
    bool goesOn(const SewnChain& chain, const SewnStretch& fill, const SewnRow& row,
                const SewnRow& inside) const;

    std::vector<std::unique_ptr<SegmentGrid>> grids; ///< by thread; null without fills
};

} // namespace rapt
