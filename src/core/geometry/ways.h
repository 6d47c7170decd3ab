#pragma once
// Moves in words, as a person stands before the cloth.

#include "geometry/vec2.h"

#include <string>

namespace rapt {

/// `7 mm left and 2.5 mm towards you`; parts under 0.01 mm are left out, whole numbers have no
/// decimals. Empty for no move.
std::string wayText(Vec2 by);

} // namespace rapt
