#pragma once
// Visiting things one after the other with little travel. Internal to ordering; millimetres.

#include "geometry/vec2.h"

#include <vector>

namespace rapt {

/// Something that is entered at one place and left at another.
struct Stop {
    Vec2 in, out;
};

/// An order of the stops with little travel from `from` and between them: the nearest next one,
/// then moving single stops and turning stretches as long as that helps (2-opt and Or-opt; Croes
/// 1958, Or 1976). The indices of the stops.
std::vector<std::size_t> shortTravel(Vec2 from, const std::vector<Stop>& stops);

} // namespace rapt
