#pragma once
// Pieces give way to what is sewn on them.

#include "job/expansion.h"

namespace rapt {

/// Sets `relieved` of every piece that asks for it (Piece::relief) and of which later pieces hide
/// something. Worked out from where the pieces are now; what was worked out before is remembered in
/// the cache. Stops between pieces when asked to. Outlines neither hide nor give way.
void relieve(std::vector<PlacedPiece>& placed, StitchCache& cache, std::stop_token stop = {});

} // namespace rapt
