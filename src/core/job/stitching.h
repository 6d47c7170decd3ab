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

/// A run of stitches of the joined list that came from one piece, one of its copies, or an outline.
struct PieceSpan {
    std::string id;
    std::size_t first = 0; ///< index into the stitches
    std::size_t last = 0;  ///< one past the end
    Box extents;           ///< of its penetrations, cloth frame
    std::string source;    ///< id of the piece in the job
    int copy = 1;          ///< counted from 1
    bool outline = false;
    Affine fromFirst; ///< from copy 1 to this one, cloth frame
};

struct StitchedJob {
    StitchList list;              ///< cloth frame; the same thread of several pieces is one thread
    std::vector<PieceSpan> spans; ///< in sewing order
};

/// Remembers what was stitched, so that an edit stitches again only what it touched, and copies
/// share one list. One thread.
class StitchCache {
public:
    Result<std::shared_ptr<const StitchList>> stitch(const Piece& piece);
    /// The line of an outline round a stitched list.
    std::shared_ptr<const Shape> outline(const Outline& outline,
                                         const std::shared_ptr<const StitchList>& around);
    /// Forgets what was not asked for since the last call.
    void dropUnused();

private:
    /// All that stitches in the piece frame depend on.
    struct Key {
        const void* content;
        Keep keep;
        double scaleX, scaleY;
        friend auto operator<=>(const Key&, const Key&) = default;
    };
    struct Entry {
        PieceContent content; ///< keeps the key's alive
        std::shared_ptr<const StitchList> list;
        bool used = true;
    };
    struct OutlineEntry {
        Outline outline;
        std::shared_ptr<const StitchList> around;
        std::shared_ptr<const Shape> shape;
        bool used = true;
    };
    std::map<Key, Entry> entries;
    std::vector<OutlineEntry> outlines;
};

struct PlacedPiece;

/// The whole job as one list: everything that job/expansion.h gives, in order, each begun by a jump
/// to its first stitch after a trim. Fails for a piece that cannot be stitched, more than 255
/// threads, over 40 million stitches, and places beyond ±10,000 mm; the error's place is the piece.
Result<StitchedJob> stitchJob(const Job& job, StitchCache* cache = nullptr,
                              std::stop_token stop = {});

/// Joins placed pieces in the order given; used for the whole job and for single hoopings. `frame`
/// maps the cloth frame to the frame of the result.
Result<StitchedJob> stitchPlaced(const std::vector<const PlacedPiece*>& pieces, const Affine& frame,
                                 StitchCache& cache, std::stop_token stop = {});

/// Joins single pieces without their copies and outlines.
Result<StitchedJob> stitchPieces(const std::vector<const Piece*>& pieces, const Affine& frame);

} // namespace rapt
