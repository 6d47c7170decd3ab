#pragma once
// How near stitching comes to its neighbours and to the edge of a field: by thread, not by boxes.

#include "geometry/segment_grid.h"
#include "job/stitching.h"
#include "library/library.h"

namespace rapt {

/// The nearest places of two things.
struct Gap {
    double mm = 0;     ///< bare ground between the threads' edges; 0 or less where they overlap
    Vec2 from, to;     ///< the two places, cloth frame
    std::string piece; ///< the neighbour's id
};

/// The neighbours of what is moved, made once for a drag. One thread: the threads of a neighbour
/// are only sorted when something comes near it.
class Clearance {
public:
    /// `moving`: ids of pieces whose spans (with all their copies and outlines) are moved; all
    /// others are neighbours. The job must outlive this.
    Clearance(const StitchedJob& job, const std::vector<std::string>& moving);

    /// The least gap of the moving pieces, at their needle points and every 0.5 mm between (fewer
    /// on more than 30 m of thread), after
    /// `change` (of the cloth frame) to any neighbour within `atMostMm`.
    std::optional<Gap> nearest(const Affine& change, double atMostMm) const;

    /// Box of the moving stitches, and the least distance of their penetrations to the edge of a
    /// field after `change`; negative where they reach out of it.
    const Box& movingBox() const { return box; }
    /// How far inside the field (millimetres; negative outside).
    double insideField(const Affine& change, const Hoop& hoop, const Pose& field) const;

private:
    struct Neighbour {
        const PieceSpan* span;
        double halfWidth;
        std::unique_ptr<const SegmentGrid> grid; ///< null until it is needed
    };
    /// Points that follow each other, and a circle round them.
    struct Patch {
        std::size_t first, last;
        Vec2 centre;
        double radius;
    };
    const SegmentGrid& gridOf(Neighbour& neighbour) const;

    const StitchedJob& stitched;
    mutable std::vector<Neighbour> neighbours;
    std::vector<Vec2> points; ///< along the moving threads
    std::vector<Patch> patches;
    double halfWidth = 0.2;
    Box box;
};

/// Distance of a place in the field frame to the edge of the field, negative outside. Exact for
/// rectangles; for ovals never too large.
double edgeDistance(const Hoop& hoop, Vec2 p);

} // namespace rapt
