#pragma once
// Edits that change how much thread lies where: respacing, relieving, leaving out.

#include "job/edit.h"
#include "job/stitching.h"

namespace rapt {

/// The ids of all pieces, in order.
std::vector<std::string> idsOf(const Job& job);

/// The pieces give way to what lies on them; without a relief they are whole again.
Edit setRelief(std::vector<std::string> ids, std::optional<Relief> relief);

/// How pieces are laid at their size; their spacing is kept then.
Edit setRespacing(std::vector<std::string> ids, const RespaceOptions& options);

/// A thread run of a piece, counted from 1, is not sewn, or is again.
Edit leaveOutRun(const std::string& id, int run, bool leaveOut);

/// Every long move gets a trim and no short one does; nothing as before.
Edit setTrimOver(std::optional<double> mm);

/// The job as if nothing had been mended: stitches kept, nothing relieved or left out. Nothing if
/// that is how it is.
std::optional<Job> unmended(const Job& job);

/// Stitches of a piece in a stitched job, its copies included, its outlines not.
std::size_t stitchesOfPiece(const StitchedJob& stitched, const std::string& id);

} // namespace rapt
