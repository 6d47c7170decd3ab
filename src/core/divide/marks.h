#pragma once
// Marks on the cloth by which a clamping is registered. Millimetres, cloth frame.

#include "job/job.h"
#include "library/library.h"

#include <vector>

namespace rapt {

/// Room that a locator card needs between its centre and the edge of the field.
inline constexpr double cardRoomMm = 12;

/// Half the size of a stitched witness cross.
inline constexpr double crossArmMm = 3;

/// Fields of one clamping: of the positions that are used.
struct ClampedFields {
    const Hoop* hoop = nullptr;
    std::vector<Pose> fields;
    /// True if the place lies in one of them, and a cross of that size round it, too.
    bool reach(Vec2 p, double armMm = 0) const;
};

/// What is kept in mind when marks are chosen.
struct MarkGround {
    Box cloth;
    std::vector<Box> sewn; ///< marks keep off these where they can
};

/// Two or three marks in a clamping's fields and, where possible, on the cloth: the first two as
/// far apart as they can be (a little nearer if they then lie on the datum lines), the third as far
/// from both as it can be. With `shared`, only where one of these fields reaches, too. Names are
/// the clamping's number and a letter. Empty if no two places are 25 mm apart.
std::vector<Mark> marksFor(const ClampedFields& clamping, const MarkGround& ground, int number,
                           const std::vector<ClampedFields>* shared = nullptr);

/// Marks every clamping of a plan anew; each mark is listed with the hoopings in whose field it
/// lies. In a chain later clampings get marks that an earlier one sews as crosses.
void markPlan(std::vector<Hooping>& hoopings, const Library& library, const MarkGround& ground,
              bool chain);

} // namespace rapt
