#pragma once
// Where a frame can stand, and which parts its positions then hold. Millimetres.

#include "divide/part_set.h"
#include "divide/parts.h"
#include "library/library.h"

namespace rapt {

/// The field in one position of a candidate.
struct Stand {
    int position = 1;   ///< of the frame, from 1
    double slideMm = 0; ///< along the frame's x
    PartSet holds;      ///< the parts that it takes whole
};

/// A frame at a place on the cloth: one clamping.
struct Candidate {
    std::size_t hoop = 0; ///< index into the hoops asked with
    Pose frame;
    std::vector<Stand> stands;
    PartSet all; ///< what any stand holds
};

/// Placings that between them can do whatever any placing can: every clamping that a plan may use
/// holds, position by position, no more than one of these. A placing holds most when it cannot be
/// moved right or down without losing a part, so only those are made. None when stopped.
std::vector<Candidate> placings(const std::vector<Hoop>& hoops, const std::vector<Part>& parts,
                                double marginMm, std::stop_token stop = {});

/// True if the placings of a frame are all that may be needed; of round fields on a slide only some
/// are made, so nothing is proved by them.
bool placesAreExact(const Hoop& hoop);

/// What a frame that stands at a given place holds.
Candidate placingAt(const std::vector<Hoop>& hoops, std::size_t hoop, const Pose& frame,
                    const std::vector<Part>& parts, double marginMm);

/// A frame place at which its stands hold these parts (one set a stand, of the candidate's hoop and
/// turn), in the middle of where it may stand (or as near to `towards` as it may), on round numbers
/// if they serve; moved so that its ring lies on the cloth where that is possible.
Pose settled(const Candidate& candidate, const Hoop& hoop, const std::vector<PartSet>& wanted,
             const std::vector<Part>& parts, const Box& cloth, double marginMm,
             std::optional<Vec2> towards = {});

} // namespace rapt
