#pragma once
// What the window says of a run: states, stops, and what is to be done after them.

#include "app/document/session.h"
#include "app/stitchout/machine_run.h"

namespace rapt::app {

/// "The thread broke", without a full stop.
QString titleOf(StopKind kind);

/// Words for a state.
QString wordsOf(MachineRun::State state);

/// Why it stands, what to do and where it goes on, as rich text; empty while there is nothing to
/// say.
QString wordsAfterStop(Session& session, const MachineRun& run);

} // namespace rapt::app
