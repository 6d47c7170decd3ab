#include "job/clip.h"

#include "job/groups.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

namespace rapt {
namespace {

/// `base`, or `base 2`, … whichever is not taken; it is then.
std::string freshName(const std::string& base, std::set<std::string>& taken) {
    std::string name = base;
    for (int n = 2; !taken.insert(name).second; ++n) name = fmt::format("{} {}", base, n);
    return name;
}

} // namespace

Job clipOf(const Job& job, const std::vector<std::string>& ids) {
    const auto chosen = [&](const std::string& id) {
        return std::find(ids.begin(), ids.end(), id) != ids.end();
    };
    Job clip;
    clip.name = job.name;
    for (const Piece& p : job.pieces)
        if (chosen(p.id)) clip.pieces.push_back(p);
    for (const Repeat& r : job.repeats)
        if (std::all_of(r.pieces.begin(), r.pieces.end(), chosen)) clip.repeats.push_back(r);
    return clip;
}

Edit duplicatePieces(std::vector<std::string> ids, Vec2 by) {
    const std::string name =
        ids.size() == 1 ? "Duplicate" : fmt::format("Duplicate {} pieces", ids.size());
    return {name, [ids = std::move(ids), by, name](const Job& job) {
                return pastingOf(job, clipOf(job, ids), by, name).edit.change(job);
            }};
}

Pasting pastingOf(const Job& into, const Job& clip, Vec2 by, const std::string& name) {
    std::set<std::string> ids, groups, repeats;
    for (const Piece& p : into.pieces) {
        ids.insert(p.id);
        if (!p.group.empty()) groups.insert(groupBelow(p.group, {}));
    }
    for (const Repeat& r : into.repeats) repeats.insert(r.id);
    Job fresh = clip;
    std::map<std::string, std::string> newId, newGroup;
    Pasting pasting;
    for (Piece& p : fresh.pieces) {
        p.id = newId[p.id] = freshName(p.id, ids);
        if (!p.group.empty()) {
            const std::string outer = groupBelow(p.group, {});
            const auto [known, isNew] = newGroup.try_emplace(outer);
            if (isNew) known->second = freshName(outer, groups);
            p.group = known->second + p.group.substr(outer.size());
        }
        p.pose.x += by.x;
        p.pose.y += by.y;
        pasting.ids.push_back(p.id);
    }
    for (Repeat& r : fresh.repeats) {
        r.id = freshName(r.id, repeats);
        for (std::string& id : r.pieces) id = newId[id];
        if (r.kind == Repeat::Kind::circle) r.centre = r.centre + by;
    }
    pasting.edit = {
        name, [fresh](Job job) {
            job.pieces.insert(job.pieces.end(), fresh.pieces.begin(), fresh.pieces.end());
            job.repeats.insert(job.repeats.end(), fresh.repeats.begin(), fresh.repeats.end());
            return job;
        }};
    return pasting;
}

} // namespace rapt
