#pragma once
// Marks on the cloth by which a hooping is registered.

#include "job/job.h"
#include "library/library.h"

#include <vector>

namespace rapt {

/// Room that a locator card needs between its centre and the edge of the field.
inline constexpr double cardRoomMm = 12;

/// Two or three marks in the hooping's field and, where possible, on the cloth: the first two as
/// far apart as they can be with room for a card, the third as far from both as it can be. Names
/// are the hooping's number and a letter. Cloth frame.
std::vector<Mark> marksFor(const Hoop& hoop, const Pose& pose, const Box& cloth, int number);

} // namespace rapt
