#pragma once
// From the job to stitches: each piece in its own frame, then the whole job in the cloth frame.

#include "base/result.h"
#include "job/job.h"

#include <memory>
#include <stop_token>

namespace rapt {

/// The stitches of one piece at its scale, before mirror, turn and move. Recipes that keep their
/// spacing are stitched at the new size; everything else is moved. Fails (cannotDo) for content
/// that this version does not stitch.
Result<std::shared_ptr<const StitchList>> stitchPiece(const Piece& piece);

/// A run of stitches of the joined list that came from one piece.
struct PieceSpan {
    std::string id;
    std::size_t first = 0; ///< index into the stitches
    std::size_t last = 0;  ///< one past the end
    Box extents;           ///< of its penetrations, cloth frame
};

struct StitchedJob {
    StitchList list;              ///< cloth frame; the same thread of several pieces is one thread
    std::vector<PieceSpan> spans; ///< in sewing order
};

/// Remembers stitched pieces, so that an edit stitches again only what it touched. One thread.
class StitchCache {
public:
    Result<std::shared_ptr<const StitchList>> stitch(const Piece& piece);
    /// Forgets what the job no longer holds.
    void keepOnly(const Job& job);

private:
    struct Entry {
        Piece piece;
        std::shared_ptr<const StitchList> list;
    };
    std::map<std::string, Entry> entries;
};

/// The whole job as one list, pieces in order, each begun by a jump to its first stitch after a
/// trim. Fails for a piece that cannot be stitched, more than 255 threads, and places beyond
/// ±10,000 mm; the error's place is the piece.
Result<StitchedJob> stitchJob(const Job& job, StitchCache* cache = nullptr,
                              std::stop_token stop = {});

/// Joins pieces in the order given; used for the whole job and for single hoopings. `frame` maps
/// the cloth frame to the frame of the result.
Result<StitchedJob> stitchPieces(const std::vector<const Piece*>& pieces, const Affine& frame,
                                 StitchCache* cache = nullptr, std::stop_token stop = {});

} // namespace rapt
