#pragma once
// From the job to stitches: each piece in its own frame, then the whole job in the cloth frame.

#include "base/result.h"
#include "job/job.h"
#include "thread/origin.h"

#include <functional>
#include <memory>
#include <stop_token>

namespace rapt {

/// The stitches of one piece at its scale, before mirror, turn and move. Recipes that keep their
/// spacing are stitched at the new size; everything else is moved. Fails (cannotDo) for content
/// that this version does not stitch.
Result<std::shared_ptr<const StitchList>> stitchPiece(const Piece& piece);

/// What a shape piece is stitched from: its shape at its scale and with its spacing.
Shape shapeOf(const Piece& piece);

/// What could not be recognised when a stitch-only piece was laid afresh: it was scaled as it was.
struct UnrecognisedStitches {
    std::size_t stretches = 0, stitches = 0;
    Vec2 at; ///< where the first one begins, in the frame of the piece's stitches
};
/// For a piece that is laid afresh at its size; nothing if all was recognised.
std::optional<UnrecognisedStitches> unrecognisedIn(const Piece& piece);

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
    /// For each of its thread runs the number that it has in the piece's design, where some are
    /// left out or hidden; empty if all are sewn.
    std::vector<int> runs{};

    /// The number in the design of the n-th run that is sewn (both from 1); 0 for a new one.
    int designRun(int n) const {
        const auto at = static_cast<std::size_t>(n) - 1;
        return runs.empty() ? n : at < runs.size() ? runs[at] : 0;
    }
};

/// All stitches, and which piece each came from.
struct StitchedJob {
    StitchList list;              ///< cloth frame; the same thread of several pieces is one thread
    std::vector<PieceSpan> spans; ///< in sewing order
};

struct StitchedLettering;

/// Remembers what was stitched, so that an edit stitches again only what it touched, and copies
/// share one list. One thread.
class StitchCache {
public:
    /// The stitches of one piece in the cloth frame, made once.
    Result<std::shared_ptr<const StitchList>> stitch(const Piece& piece);
    /// Words set and sewn so many times as large, with all that there is to say of them.
    Result<std::shared_ptr<const StitchedLettering>>
    words(const std::shared_ptr<const Lettering>& lettering, double factor);
    /// The line of an outline round a stitched list.
    std::shared_ptr<const Shape> outline(const Outline& outline,
                                         const std::shared_ptr<const StitchList>& around);
    /// The dense cover of a stitched list (relieve/cover.h), in its frame.
    std::shared_ptr<const Contours> cover(const std::shared_ptr<const StitchList>& list,
                                          double leastLayers);

    /// All that a relieved list depends on.
    struct ReliefKey {
        std::shared_ptr<const StitchList> list;
        Relief relief;
        /// What lies on it, and from its frame to the list's.
        std::vector<std::pair<std::shared_ptr<const StitchList>, Affine>> covers;
        friend bool operator==(const ReliefKey&, const ReliefKey&) = default;
    };
    /// Stitches after relief, made once a key; null if nothing gives way.
    std::shared_ptr<const TracedList>
    relieved(const ReliefKey& key, const std::function<std::shared_ptr<const TracedList>()>& make);

    /// Forgets what was not asked for since the last call.
    void dropUnused();

private:
    /// All that stitches in the piece frame depend on.
    struct Key {
        const void* content;
        Keep keep;
        double scaleX, scaleY;
        RespaceOptions respacing;
        std::vector<int> leftOutRuns;
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
    struct CoverEntry {
        std::shared_ptr<const StitchList> list;
        double leastLayers;
        std::shared_ptr<const Contours> contours;
        bool used = true;
    };
    struct ReliefEntry {
        ReliefKey key;
        std::shared_ptr<const TracedList> list;
        bool used = true;
    };
    struct WordsEntry {
        std::shared_ptr<const Lettering> lettering;
        double factor;
        std::shared_ptr<const StitchedLettering> words;
        bool used = true;
    };
    std::map<Key, Entry> entries;
    std::vector<WordsEntry> wordEntries;
    std::vector<OutlineEntry> outlines;
    std::vector<CoverEntry> covers;
    std::vector<ReliefEntry> reliefs;
};

struct PlacedPiece;

/// The whole job as one list: everything that job/expansion.h gives, in order, each begun by a jump
/// to its first stitch after a trim. Fails for a piece that cannot be stitched, more than 255
/// threads, over 12 million stitches, and places beyond ±10,000 mm; the error's place is the piece.
Result<StitchedJob> stitchJob(const Job& job, StitchCache* cache = nullptr,
                              std::stop_token stop = {});

/// How pieces are joined to one list.
struct Joining {
    Affine frame;                       ///< from the cloth frame to that of the result
    std::optional<double> trimOverMm{}; ///< as in the job
};

/// Joins placed pieces in the order given; used for the whole job and for single hoopings.
Result<StitchedJob> stitchPlaced(const std::vector<const PlacedPiece*>& pieces,
                                 const Joining& joining, StitchCache& cache,
                                 std::stop_token stop = {});

/// Joins single pieces without their copies and outlines.
Result<StitchedJob> stitchPieces(const std::vector<const Piece*>& pieces, const Affine& frame);

} // namespace rapt
