#pragma once
// Finding the cloth without a camera: what the needle can be brought to, and what it then says.
// Millimetres, field frame.

#include "divide/hooping_lists.h"
#include "library/library.h"

namespace rapt {

/// What can be found with the needle: a mark, or a straight edge that the plan has.
struct NeedleTarget {
    std::string name;
    Observation::Kind kind = Observation::Kind::point;
    Vec2 planned;                      ///< of a point, field frame
    std::array<Vec2, 2> plannedLine{}; ///< of an edge
};
/// The marks of a hooping in the order that is quickly walked from `from` (field frame), then the
/// datum lines, the hems and the garment's straight lines that its field reaches.
std::vector<NeedleTarget> needleTargets(const Job& job, int hooping, const Hoop& hoop, Vec2 from);

/// Places of the design that a hooping sews, for a cloth on which they are known: the middle, the
/// corners and the ends of the axes of its box (basting crosses left out), its first and last
/// stitch, and of every earlier hooping the last stitch that this field reaches.
std::vector<NeedleTarget> designTargets(const Job& job, int hooping,
                                        const std::vector<HoopingList>& lists, const Hoop& hoop);

/// Box of what a hooping sews of the design, without basting crosses; empty if it sews nothing.
Box designBox(const StitchList& list);

/// A target that the needle was brought to; further places of an edge join those of before.
Observation needleSeen(const NeedleTarget& target, Vec2 at, const Registration* before,
                       double sigmaMm);

} // namespace rapt
