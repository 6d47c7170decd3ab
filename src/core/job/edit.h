#pragma once
// Edits: from one job to the next, with a name for the undo list.

#include "job/job.h"

#include <functional>
#include <string>
#include <vector>

namespace rapt {

/// A named change of a job; nothing is changed in place.
struct Edit {
    std::string name;
    /// From the job as it is to the job as it will be.
    std::function<Job(Job)> change;
};

/// Edits of pieces do nothing for ids that the job does not have; locked pieces stay where they
/// are, as they are, until they are unlocked.
Edit movePieces(std::vector<std::string> ids, Vec2 by);
/// Turns each piece about `about` (cloth frame), clockwise as seen.
Edit turnPieces(std::vector<std::string> ids, double degrees, Vec2 about);
/// Left and right change places, about the upright line through `about`.
Edit mirrorPieces(std::vector<std::string> ids, Vec2 about);
/// Puts a piece elsewhere; locked ones stay.
Edit setPose(const std::string& id, const Pose& pose, const std::string& name);
/// What the piece's size keeps.
Edit setKeep(const std::string& id, Keep keep);
/// Locks pieces, or frees them.
Edit setLocked(std::vector<std::string> ids, bool locked);
/// Leaves pieces out of picture and stitches, or takes them in again.
Edit setHidden(std::vector<std::string> ids, bool hidden);
/// Another name; empty ones are refused by leaving the old.
Edit renamePiece(const std::string& id, const std::string& name);
/// Takes pieces out, and what only they needed.
Edit deletePieces(std::vector<std::string> ids);
/// Moves a piece in the sewing order; `place` is where it comes to stand, counted from 0.
Edit reorderPiece(const std::string& id, std::size_t place);
/// Pieces sewn one after the other from there on, in the order they were in. `before` is the piece
/// that follows them; empty: they are last.
Edit sewBefore(std::vector<std::string> ids, const std::string& before);
/// Moves a piece by so many places, earlier if negative; as far as there are any.
Edit shiftPiece(const std::string& id, int by);
/// Adds a piece last; its id is made unique.
Edit addPiece(Piece piece);
/// The same, sewn last in a hooping (from 1) that is planned already.
Edit addPieceTo(Piece piece, int hooping);
/// Copies of pieces with ids of their own, moved by `by` (cloth frame).
Edit duplicatePieces(std::vector<std::string> ids, Vec2 by);
/// Another design or drawing in place of the piece's own; pose, order, copies and outline stay.
Edit replaceContent(const std::string& id, PieceContent content);
/// Multiplies the row spacing and pitch of a shape piece.
Edit openSpacing(const std::string& id, double factor);
/// Changes every part of the shape pieces among these.
Edit changeParts(const std::string& name, std::vector<std::string> ids,
                 std::function<void(ShapePart&)> change);
/// Lays a picture under the cloth, or changes how it lies; its bytes are kept under its member
/// name.
Edit setArtwork(std::optional<Artwork> artwork, std::shared_ptr<const std::string> bytes = {});
/// The whole brief at once; `name` says what was changed.
Edit setBrief(const Brief& brief, const std::string& name);
/// The whole cloth at once; `name` says what was changed.
Edit setCloth(const Cloth& cloth, const std::string& name);
/// What the job is called.
Edit setJobName(const std::string& name);
/// The plan that takes the place of the old one.
Edit setHoopings(std::vector<Hooping> hoopings, double predictedJoinRmsMm,
                 std::vector<Cut> cuts = {});
/// Replaces what was seen at one hooping; a scan's bytes are kept under its member name.
Edit setRegistration(Registration registration, std::shared_ptr<const std::string> scan = {});

/// `base`, or `base 2`, `base 3`, … whichever no piece has as its id.
std::string unusedId(const Job& job, const std::string& base);

/// Several edits as one, in order.
Edit together(const std::string& name, std::vector<Edit> edits);

} // namespace rapt
