#pragma once
// A small picture of a design, as a machine's panel shows it.

#include "scan/image.h"
#include "thread/stitch_list.h"

namespace rapt::standins {

/// The thread on white, as large as the picture allows.
Image thumbnail(const StitchList& list, int width, int height);

} // namespace rapt::standins
