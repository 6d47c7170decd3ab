#include "app/document/selection.h"

#include "job/edit_lettering.h"

#include <algorithm>

namespace rapt::app {

Selection::Selection(Document& d) : document(d) {}

bool Selection::contains(const std::string& id) const {
    return std::find(chosen.begin(), chosen.end(), id) != chosen.end();
}

void Selection::choose(std::vector<std::string> ids, int copy) {
    std::vector<std::string> all = ids;
    for (const std::string& id : ids) {
        const Piece* asked = document.job().piece(id);
        if (!asked || asked->group.empty()) continue;
        for (const Piece& p : document.job().pieces)
            if (p.group == asked->group && std::find(all.begin(), all.end(), p.id) == all.end())
                all.push_back(p.id);
    }
    chooseSingly(std::move(all), copy);
}

void Selection::chooseSingly(std::vector<std::string> ids, int copy) {
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
}

} // namespace rapt::app
