#pragma once
// Tries edits of a job on its load map. Only what an edit changes is stitched and summed again.

#include "job/edit.h"
#include "job/expansion.h"
#include "load/load_sums.h"

namespace rapt {

/// Refers to the job and the cache, which must outlive it. One thread.
class LoadTrial {
public:
    /// What it refers to must outlive it.
    LoadTrial(const Job& job, const StitchedJob& stitched, StitchCache& cache);
    /// Trials from now on end when this is asked to stop.
    void stopWith(std::stop_token token) { stop = std::move(token); }

    /// The map after an edit.
    struct Tried {
        const LoadMap* map = nullptr; ///< of the changed job, until the next trial
        long long stitchesMore = 0;
    };
    /// Nothing if the edit changes no stitch, cannot be stitched, or was stopped.
    std::optional<Tried> tryOut(const Edit& edit);
    /// The map of the job as it is.
    const LoadMap& map();

private:
    void lay(const PlacedPiece& placed, float sign);
    void takeBack();

    const Job& job;
    StitchCache& cache;
    std::stop_token stop;
    std::vector<PlacedPiece> was, now;
    /// What the last trial took away and added, as places in `was` and `now`.
    std::vector<std::size_t> taken, added;
    LoadSums sums;
    LoadMap current;
    std::vector<Cell> changed;
    long long more = 0;
};

} // namespace rapt
