#include "app/document/selection.h"

#include "job/edit_lettering.h"
#include "job/groups.h"

#include <algorithm>
#include <set>

namespace rapt::app {

Selection::Selection(Document& d) : document(d) {}

bool Selection::contains(const std::string& id) const {
    return std::find(chosen.begin(), chosen.end(), id) != chosen.end();
}

void Selection::choose(std::vector<std::string> ids, int copy) {
    const Job& job = document.job();
    const Piece* first = ids.empty() ? nullptr : job.piece(ids.front());
    while (!first || !liesIn(first->group, openedGroup)) {
        if (openedGroup.empty()) break;
        openedGroup = groupAround(openedGroup);
    }
    std::vector<std::string> all = ids;
    std::set<std::string> known(ids.begin(), ids.end()), groups;
    for (const std::string& id : ids) {
        const Piece* asked = job.piece(id);
        const std::string group = asked ? groupBelow(asked->group, openedGroup) : std::string();
        if (group.empty() || !groups.insert(group).second) continue;
        for (std::string& other : piecesIn(job, group))
            if (known.insert(other).second) all.push_back(std::move(other));
    }
    set(std::move(all), copy);
}

void Selection::chooseSingly(std::vector<std::string> ids, int copy) {
    const Piece* first = ids.empty() ? nullptr : document.job().piece(ids.front());
    std::string common = first ? first->group : std::string();
    for (const std::string& id : ids)
        if (const Piece* p = document.job().piece(id)) common = commonGroup(common, p->group);
    if (ids != chosen) openedGroup = common;
    // All of a group is the group.
    if (ids != chosen && !common.empty() && ids.size() == piecesIn(document.job(), common).size())
        openedGroup = groupAround(common);
    set(std::move(ids), copy);
}

void Selection::chooseGroup(const std::string& path) {
    openedGroup = groupAround(path);
    set(piecesIn(document.job(), path), 1);
}

bool Selection::openTowards(const std::string& id, int copy) {
    const Piece* piece = document.job().piece(id);
    const std::string below = piece ? groupBelow(piece->group, openedGroup) : std::string();
    if (below.empty()) return false;
    openedGroup = below;
    choose({id}, copy);
    return true;
}

void Selection::close() {
    if (openedGroup.empty())
        set({}, 1);
    else
        chooseGroup(std::string(openedGroup));
}

std::string Selection::group() const {
    const Piece* first = chosen.empty() ? nullptr : document.job().piece(chosen.front());
    if (!first) return {};
    const std::string path = groupBelow(first->group, openedGroup);
    if (path.empty()) return {};
    std::vector<std::string> all = piecesIn(document.job(), path), mine = chosen;
    std::sort(all.begin(), all.end());
    std::sort(mine.begin(), mine.end());
    return all == mine ? path : std::string();
}

void Selection::set(std::vector<std::string> ids, int copy) {
    if (ids == chosen && copy == copyPointedAt) return;
    chosen = std::move(ids);
    copyPointedAt = copy;
    document.endMerge();
    emit changed();
}

const Piece* Selection::single() const {
    return chosen.size() == 1 ? document.job().piece(chosen[0]) : nullptr;
}

const Lettering* Selection::words() const {
    return chosen.size() == 1 ? letteringOf(document.job(), chosen[0]) : nullptr;
}

void Selection::dropVanished() {
    std::vector<std::string> left;
    for (const std::string& id : chosen)
        if (document.job().piece(id)) left.push_back(id);
    if (left != chosen) chooseSingly(left);
    // A group may be undone, dissolved or renamed while it is open.
    const Piece* first = chosen.empty() ? nullptr : document.job().piece(chosen.front());
    while (!openedGroup.empty() && !(first && liesIn(first->group, openedGroup)))
        openedGroup = groupAround(openedGroup);
}

} // namespace rapt::app
