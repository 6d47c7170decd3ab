#pragma once
// From the pieces that a person edits to everything that is sewn: linked copies, outlines before
// their pieces, and without what is hidden.

#include "job/stitching.h"

namespace rapt {

/// One thing that is sewn, ready to be stitched and placed.
struct PlacedPiece {
    Piece piece;        ///< its id is unique: `kite`, `kite#2`, `kite:outline`, `kite:outline#2`
    std::string source; ///< id of the piece in the job that it comes from
    int copy = 1;       ///< counted from 1
    bool outline = false;
    bool sewn = false; ///< in a hooping that was begun
    Affine fromFirst;  ///< from the place of copy 1 in the cloth frame to this copy's
    /// What is sewn of it if it gives way to later pieces, or only parts of it are sewn, in the
    /// piece frame; its origins are records of the whole. Null if all is sewn.
    std::shared_ptr<const TracedList> relieved;
};

/// The stitches of a placed piece in its own frame, before mirror, turn and move.
Result<std::shared_ptr<const StitchList>> stitchesOf(const PlacedPiece& placed, StitchCache& cache);

/// Everything in sewing order. A piece is followed by its copies; the outlines of all copies come
/// before the first piece of their repeat, as one run of one thread. Hidden pieces are left out.
/// A piece that cannot be stitched counts as having no size. Only a part when stopped: ask the
/// token.
std::vector<PlacedPiece> placedPieces(const Job& job, StitchCache& cache,
                                      std::stop_token stop = {});

/// Box of the penetrations of the originals of a repeat, cloth frame.
Box boxOfOriginals(const Job& job, const Repeat& repeat, StitchCache& cache);

/// The isometry that takes copy 1 of a repeat to another one (without its exception).
Affine copyMap(const Repeat& repeat, int copy, const Box& original);

/// A pose after an isometry of the cloth frame.
Pose posedBy(const Pose& pose, const Affine& isometry);

} // namespace rapt
