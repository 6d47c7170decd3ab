#pragma once
// What there is to say of each piece of a job when its load is judged. Millimetres.

#include "job/stitching.h"
#include "load/load_map.h"

#include <stop_token>

namespace rapt {

/// One width of satin in a piece.
struct ColumnWidths {
    double least = 0, most = 0; ///< medians of the narrowest and of the widest satin
    Vec2 leastAt, mostAt;       ///< cloth frame
};

/// Of the satins in a list; nothing without any.
std::optional<ColumnWidths> columnsOf(const StitchList& list);

/// What most thread of a piece is laid as.
enum class MostlyLaid { runs, fills, satins };

/// Short stitches that harm: beside another short one, or very short. A lone step from row to row
/// between longer stitches breaks no thread. `at` is the first one's place.
struct CrowdedStitches {
    std::size_t count = 0;
    Vec2 at;
};
CrowdedStitches crowdedShortStitches(const StitchList& list);

/// What a piece is made of, in numbers.
struct PieceFacts {
    std::string piece;
    double widthMm = 0, heightMm = 0;
    double scaleX = 1, scaleY = 1;
    std::size_t stitches = 0;
    std::optional<double> spacingThenMm; ///< as the piece was made, before its scale
    std::optional<double> spacingNowMm;
    double peakLayers = 0; ///< of the whole job, on the ground of this piece
    std::optional<Vec2> peakAt;
    MostlyLaid mostly = MostlyLaid::runs;
    std::size_t shortStitches = 0, longStitches = 0;
    double longestMm = 0;
    CrowdedStitches crowded;
    Vec2 longAt;
    std::optional<ColumnWidths> columns; ///< of satins that nothing covers
};

/// Facts of every piece that is sewn, in order; of copies the first one counts. `map` is that of
/// the whole job.
std::vector<PieceFacts> pieceFacts(const Job& job, const StitchedJob& stitched, const LoadMap& map,
                                   std::stop_token stop = {});

} // namespace rapt
