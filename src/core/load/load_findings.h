#pragma once
// Findings about thread load, stitch lengths, columns and places of the cloth, with causes and
// remedies.

#include "job/finding.h"
#include "job/stitching.h"
#include "load/limits.h"
#include "load/piece_facts.h"

#include <stop_token>

namespace rapt {

/// How much is said.
struct LoadFindingsOptions {
    std::size_t mostPerKind = 30; ///< worse ones first; the rest is counted in a note
};

/// What is judged.
struct WeighedJob {
    const Job& job; ///< gives names and scales; for a bare design the job made of it
    const StitchedJob& stitched;
    const LoadMap& map;
    const std::vector<PieceFacts>& facts;
    const Fabric& fabric;
};

/// All findings of the kinds below. Remedies that take trying are left open (see findRemedies). One
/// finding stands for all places of one cause: the pieces that bring at least 15 % of the load
/// there. Its severity follows from how much thread lies over the limit (load/limits.h). Stable
/// names: layers, hits, perforated, short-stitches, long-stitches, gaping, column-thin,
/// column-wide, unrecognised, forbidden-zone, thick-zone, seam-cover, long-jumps.
std::vector<Finding> loadFindings(const WeighedJob& weighed,
                                  const LoadFindingsOptions& options = {},
                                  std::stop_token stop = {});

/// Stops first; among equals what can hurt, then by how much lies over the limit.
bool worseThan(const Finding& a, const Finding& b);

/// "It is shrunk to 50 % with its stitches kept.", or empty where it is not.
std::string shrunkCause(const Piece& piece);

/// How the stitches of single pieces came out: too short, too long, gaping, columns that the cloth
/// does not take, what was not recognised.
std::vector<Finding> stitchFindings(const WeighedJob& weighed);

/// Pieces on forbidden and thick places, dense cover over seams, moves that should have a trim.
std::vector<Finding> clothFindings(const WeighedJob& weighed);

} // namespace rapt
