#pragma once
// Groups of pieces, which nest: a piece's `group` is the path to it, names from the outermost
// inwards with a stroke between them ("pond/reeds").

#include "job/edit.h"

#include <string_view>

namespace rapt {

/// A name as it can stand in a path: strokes become hyphens, blanks at the ends go.
std::string groupName(std::string_view text);

/// The path of a group inside another; either may be empty.
std::string groupIn(std::string_view outer, std::string_view inner);

/// A path without empty names, as files may have them.
std::string normalGroup(std::string_view path);

/// The group that holds this one; empty for an outermost one.
std::string groupAround(std::string_view path);

/// Its own name, the last of the path.
std::string lastName(std::string_view path);

/// True if a piece with this path lies in the group or in one inside it; all lie in the empty one.
bool liesIn(std::string_view path, std::string_view group);

/// Of the groups directly inside `opened` the one that a piece with this path lies in; empty if it
/// lies in none of them, or not in `opened` at all.
std::string groupBelow(std::string_view path, std::string_view opened);

/// The innermost group that both paths lie in; empty if there is none.
std::string commonGroup(std::string_view a, std::string_view b);

/// The paths of all groups of a job, outer ones before those inside, each once.
std::vector<std::string> groupsOf(const Job& job);

/// Ids of the pieces that lie in a group, in sewing order.
std::vector<std::string> piecesIn(const Job& job, std::string_view group);

/// The path of the group that is meant by a path or by a name that only one group has. Fails
/// (cannotDo) and names those that there are.
Result<std::string> findGroup(const Job& job, const std::string& name);

/// Makes one group, inside `within`, of pieces; groups that they are in already go along.
Edit groupPieces(std::vector<std::string> ids, const std::string& within, const std::string& name);

/// Moves what pieces have of groups inside `from` into `to`: a piece that lies in `from` itself
/// lies in `to` then.
Edit moveToGroup(std::vector<std::string> ids, const std::string& from, const std::string& to);

/// Takes pieces out of the group directly inside `within`; groups inside that stay.
Edit ungroupPieces(std::vector<std::string> ids, const std::string& within);

/// Another name for a group.
Edit renameGroup(const std::string& path, const std::string& name);

/// A name for a new group inside `within` that none there has.
std::string unusedGroupName(const Job& job, std::string_view within);

} // namespace rapt
