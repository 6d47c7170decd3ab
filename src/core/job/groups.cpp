#include "job/groups.h"

#include <algorithm>
#include <fmt/ranges.h>
#include <set>

namespace rapt {
namespace {

constexpr char stroke = '/';

/// What of a path lies inside the group; the path itself if it does not lie in it.
std::string_view inside(std::string_view path, std::string_view group) {
    if (group.empty() || !liesIn(path, group)) return path;
    path.remove_prefix(group.size());
    if (!path.empty()) path.remove_prefix(1);
    return path;
}

} // namespace

std::string groupName(std::string_view text) {
    const auto first = text.find_first_not_of(" \t"), last = text.find_last_not_of(" \t");
    if (first == std::string_view::npos) return {};
    std::string name(text.substr(first, last - first + 1));
    std::replace(name.begin(), name.end(), stroke, '-');
    return name;
}

std::string groupIn(std::string_view outer, std::string_view inner) {
    std::string path(outer);
    if (!outer.empty() && !inner.empty()) path += stroke;
    return path += inner;
}

std::string groupAround(std::string_view path) {
    const auto at = path.rfind(stroke);
    return std::string(at == std::string_view::npos ? std::string_view() : path.substr(0, at));
}

std::string lastName(std::string_view path) {
    return std::string(path.substr(path.rfind(stroke) + 1));
}

std::string normalGroup(std::string_view path) {
    std::string normal;
    while (!path.empty()) {
        const auto end = std::min(path.find(stroke), path.size());
        normal = groupIn(normal, groupName(path.substr(0, end)));
        path.remove_prefix(std::min(end + 1, path.size()));
    }
    return normal;
}

bool liesIn(std::string_view path, std::string_view group) {
    return group.empty() || (path.starts_with(group) &&
                             (path.size() == group.size() || path[group.size()] == stroke));
}

std::string groupBelow(std::string_view path, std::string_view opened) {
    if (!liesIn(path, opened)) return {};
    const std::string_view rest = inside(path, opened);
    return rest.empty() ? std::string() : groupIn(opened, rest.substr(0, rest.find(stroke)));
}

std::string commonGroup(std::string_view a, std::string_view b) {
    std::string common(a);
    while (!liesIn(b, common)) common = groupAround(common);
    return common;
}

std::vector<std::string> groupsOf(const Job& job) {
    std::vector<std::string> paths;
    std::set<std::string> known;
    for (const Piece& p : job.pieces) {
        std::string path;
        while (path != p.group) {
            path = groupBelow(p.group, path);
            if (path.empty()) break;
            if (known.insert(path).second) paths.push_back(path);
        }
    }
    return paths;
}

std::vector<std::string> piecesIn(const Job& job, std::string_view group) {
    std::vector<std::string> ids;
    for (const Piece& p : job.pieces)
        if (!p.group.empty() && liesIn(p.group, group)) ids.push_back(p.id);
    return ids;
}

Result<std::string> findGroup(const Job& job, const std::string& name) {
    const std::vector<std::string> all = groupsOf(job);
    if (std::find(all.begin(), all.end(), name) != all.end()) return name;
    std::vector<std::string> called;
    for (const std::string& path : all)
        if (lastName(path) == name) called.push_back(path);
    if (called.size() == 1) return called.front();
    if (called.empty())
        return cannotDo(
            fmt::format("there is no group '{}'; known are {}", name,
                        all.empty() ? "none" : fmt::format("{}", fmt::join(all, ", "))));
    return cannotDo(
        fmt::format("several groups are called '{}': {}", name, fmt::join(called, ", ")));
}

Edit groupPieces(std::vector<std::string> ids, const std::string& within, const std::string& name) {
    return moveToGroup(std::move(ids), within, groupIn(within, groupName(name)));
}

Edit moveToGroup(std::vector<std::string> ids, const std::string& from, const std::string& to) {
    return {"Group", [ids = std::move(ids), from, to](Job job) {
                for (const std::string& id : ids)
                    if (Piece* p = job.piece(id)) p->group = groupIn(to, inside(p->group, from));
                return job;
            }};
}

Edit ungroupPieces(std::vector<std::string> ids, const std::string& within) {
    return {"Ungroup", [ids = std::move(ids), within](Job job) {
                for (const std::string& id : ids) {
                    Piece* p = job.piece(id);
                    if (!p || p->group.empty()) continue;
                    const std::string below = groupBelow(p->group, within);
                    if (!below.empty()) p->group = groupIn(within, inside(p->group, below));
                }
                return job;
            }};
}

Edit renameGroup(const std::string& path, const std::string& name) {
    const std::string renamed = groupIn(groupAround(path), groupName(name));
    return {"Rename", [path, renamed](Job job) {
                for (Piece& p : job.pieces)
                    if (!p.group.empty() && liesIn(p.group, path))
                        p.group = groupIn(renamed, inside(p.group, path));
                return job;
            }};
}

std::string unusedGroupName(const Job& job, std::string_view within) {
    const std::vector<std::string> all = groupsOf(job);
    for (int n = 1;; ++n) {
        std::string name = fmt::format("group {}", n);
        if (std::find(all.begin(), all.end(), groupIn(within, name)) == all.end()) return name;
    }
}

} // namespace rapt
