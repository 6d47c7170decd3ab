#pragma once
// What is put into hoopings: pieces, and the parts of them that may be sewn apart. Millimetres.

#include "geometry/polygon.h"
#include "job/expansion.h"

#include <memory>
#include <set>
#include <stop_token>

namespace rapt {

/// How far apart two stitchings of a piece are at least, to be separate elements of it.
inline constexpr double elementGapMm = 0.4;
/// Both sides of a cut are sewn so far over each other.
inline constexpr double cutOverlapMm = 0.6;

/// A piece, one of its separate elements (a letter, an island of a design), or one side of a cut.
struct Part {
    std::string piece; ///< id, also of a copy or outline
    int number = 0;    ///< among the parts of its piece, from 1; 0 for the whole piece
    int of = 1;        ///< how many parts its piece has
    std::shared_ptr<const StitchList> list; ///< its stitches, in the frame of its piece
    Affine map;                             ///< from there to the cloth frame
    Polyline hull;                          ///< of its penetrations, cloth frame
    Box box;                                ///< the same
    bool cut = false;                       ///< one side of a cut
};

/// A cut through one separate element of a stitched piece, in its frame.
struct ElementCut {
    int element = 1; ///< from 1
    Polyline path;
    friend bool operator==(const ElementCut&, const ElementCut&) = default;
};
/// The lists of the parts of a stitched piece, in the order they are sewn: its separate elements,
/// and the sides of those that are cut. One list is the whole. Every penetration is in one of them.
std::vector<TracedList> partLists(const StitchList& list, const std::vector<ElementCut>& cuts = {});

/// Which pieces fall into their parts.
struct Apart {
    bool all = false;
    std::set<std::string> pieces{}; ///< ids, where not all do
    bool has(const std::string& id) const { return all || pieces.contains(id); }
};

/// Stitches and the parts that pieces fell into, so that neither is made twice. One thread.
class PartCache {
public:
    explicit PartCache(StitchCache& c) : stitches(c) {}
    using Lists = std::vector<std::shared_ptr<const TracedList>>;

    /// The parts of a placed piece under the job's cuts, as partLists gives them. Fails as
    /// stitchesOf does.
    Result<std::shared_ptr<const Lists>> of(const Job& job, const PlacedPiece& placed);

    StitchCache& stitches;

private:
    struct Entry {
        std::shared_ptr<const StitchList> list;
        std::vector<ElementCut> cuts;
        std::shared_ptr<const Lists> parts;
    };
    std::vector<Entry> entries;
};

/// Everything that is sewn, in order, as pieces or their parts; pieces that the job cuts fall into
/// parts in any case. Pieces without a penetration are left out. Fails as stitchPlaced does.
Result<std::vector<Part>> partsOf(const Job& job, PartCache& cache, const Apart& apart,
                                  std::stop_token stop = {});

/// What a placed piece becomes of which only some parts (by number, from 1) are sewn; the origins
/// of its list are records of what `placed` sews. Fails (cannotDo) if it has no part of such a
/// number.
Result<PlacedPiece> someParts(const Job& job, const PlacedPiece& placed,
                              const std::vector<int>& numbers, PartCache& cache);

/// Which parts must be sewn after which: parts of different pieces that lie on each other keep
/// their order. For each part the numbers of those before it.
std::vector<std::vector<std::size_t>> sewnBefore(const std::vector<Part>& parts);

} // namespace rapt
