#pragma once
// Trims by the length of the move. Millimetres.

#include "thread/origin.h"

namespace rapt {

/// The list with a trim before every move within one thread that is longer than `overMm`, its ends
/// tied, and with none before shorter ones.
TracedList trimmedOver(const StitchList& list, double overMm);

} // namespace rapt
