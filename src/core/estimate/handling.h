#pragma once
// What a person does between sewing (docs/measures.md, "Time").

#include "library/library.h"

namespace rapt {

/// Seconds for so many clampings and hoopings in all: every clamping, every further position, and a
/// registration of each clamping unless there is only one.
inline double handlingSeconds(int clampings, int hoopings, const Machine& machine) {
    return clampings * machine.hoopingSeconds + (hoopings - clampings) * machine.positionSeconds +
           (clampings > 1 ? clampings * machine.registrationSeconds : 0);
}

} // namespace rapt
