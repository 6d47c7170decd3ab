#pragma once
// Findings about thread load, stitch lengths, columns and places of the cloth, with causes and
// remedies.

#include "job/finding.h"
#include "job/stitching.h"
#include "load/limits.h"
#include "load/piece_facts.h"

#include <stop_token>

namespace rapt {

struct LoadFindingsOptions {
    bool remedies = true;         ///< work out remedies; each tries the changed job once
    std::size_t mostPerKind = 6;  ///< worse ones first; the rest is counted in a note
    StitchCache* cache = nullptr; ///< what was stitched before; trying remedies is faster with it
};

/// What is judged.
struct WeighedJob {
    const Job& job; ///< gives names and scales; for a bare design the job made of it
    const StitchedJob& stitched;
    const LoadMap& map;
    const std::vector<PieceFacts>& facts;
    const Fabric& fabric;
};

/// All findings of the kinds below. Stable names: layers, hits, perforated, short-stitches,
/// long-stitches, gaping, column-thin, column-wide, unrecognised, forbidden-zone, thick-zone,
/// seam-cover, long-jumps.
std::vector<Finding> loadFindings(const WeighedJob& weighed,
                                  const LoadFindingsOptions& options = {},
                                  std::stop_token stop = {});

/// How the stitches of single pieces came out: too short, too long, gaping, columns that the cloth
/// does not take, what was not recognised.
std::vector<Finding> stitchFindings(const WeighedJob& weighed);

/// Pieces on forbidden and thick places, dense cover over seams, moves that should have a trim.
std::vector<Finding> clothFindings(const WeighedJob& weighed);

} // namespace rapt
