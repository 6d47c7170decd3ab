#pragma once
// Rows side by side: satins and fills among straight legs. Internal to recognising.

#include "respace/legs.h"
#include "respace/stretches.h"

namespace rapt {

/// The satins and fills among the legs of one chain, in order, without overlap. Legs that belong to
/// none of them are left to the caller.
std::vector<SewnStretch> findBands(const std::vector<Leg>& legs, std::span<const Vec2> points);

} // namespace rapt
