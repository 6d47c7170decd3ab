#pragma once
// Which stretches lie below later ones. Internal to recognising.

#include "respace/stretches.h"

namespace rapt {

/// Sets `under` of every stretch that a later satin or fill of its thread covers nearly all of.
void markUnderlay(std::vector<SewnChain>& chains);

} // namespace rapt
