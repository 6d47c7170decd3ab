#pragma once
// A load map that follows what changes: while a piece is dragged, while the stitch-out is played.

#include "geometry/pose.h"
#include "load/load_map.h"

#include <memory>

namespace rapt {

class LoadSums;

/// Only what changed is averaged again. One thread.
class LiveLoad {
public:
    /// Room for everything within the box (cloth frame); stitches outside are left out.
    explicit LiveLoad(const Box& box);
    ~LiveLoad();

    /// Adds records `first` to `last` (one past the end) of a list.
    void add(const StitchList& list, std::size_t first, std::size_t last);
    /// Takes such records from where `from` placed them to where `to` does; isometries.
    void move(const StitchList& list, std::size_t first, std::size_t last, const Affine& from,
              const Affine& to);

    /// The map as it is now; valid until the next call. Mean layers are not kept up.
    const LoadMap& map();
    /// First cells of the tiles that the last call of map() renewed.
    const std::vector<Cell>& changedTiles() const { return changed; }

private:
    std::unique_ptr<LoadSums> sums;
    LoadMap current;
    std::vector<Cell> changed;
};

} // namespace rapt
