#pragma once
// Edits: from one job to the next, with a name for the undo list.

#include "job/job.h"

#include <functional>
#include <string>
#include <vector>

namespace rapt {

struct Edit {
    std::string name;
    std::function<Job(Job)> change;
};

/// Edits of pieces do nothing for ids that the job does not have.
Edit movePieces(std::vector<std::string> ids, Vec2 by);
/// Turns each piece about `about` (cloth frame), clockwise as seen.
Edit turnPieces(std::vector<std::string> ids, double degrees, Vec2 about);
/// Left and right change places, about the upright line through `about`.
Edit mirrorPieces(std::vector<std::string> ids, Vec2 about);
Edit setPose(const std::string& id, const Pose& pose, const std::string& name);
Edit setKeep(const std::string& id, Keep keep);
Edit renamePiece(const std::string& id, const std::string& name);
Edit deletePieces(std::vector<std::string> ids);
/// Moves a piece in the sewing order; `place` is where it comes to stand, counted from 0.
Edit reorderPiece(const std::string& id, std::size_t place);
/// Moves a piece by so many places, earlier if negative; as far as there are any.
Edit shiftPiece(const std::string& id, int by);
/// Adds a piece last; its id is made unique.
Edit addPiece(Piece piece);
Edit duplicatePieces(std::vector<std::string> ids, Vec2 by);
/// Multiplies the row spacing and pitch of a shape piece.
Edit openSpacing(const std::string& id, double factor);
Edit setBrief(const Brief& brief, const std::string& name);
Edit setCloth(const Cloth& cloth, const std::string& name);
Edit setJobName(const std::string& name);
Edit setHoopings(std::vector<Hooping> hoopings, double predictedJoinRmsMm);
/// Replaces what was seen at one hooping; a scan's bytes are kept under its member name.
Edit setRegistration(Registration registration, std::shared_ptr<const std::string> scan = {});

/// `base`, or `base 2`, `base 3`, … whichever no piece has as its id.
std::string unusedId(const Job& job, const std::string& base);

} // namespace rapt
