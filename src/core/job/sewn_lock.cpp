#include "job/sewn_lock.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

/// Of a hooping all that says what was sewn where.
bool sameSewing(const Hooping& a, const Hooping& b) {
    return a.hoop == b.hoop && a.position == b.position && a.frame == b.frame && a.pose == b.pose &&
           a.pieces == b.pieces && a.parts == b.parts;
}

/// Of a piece all that its stitches depend on.
bool sameStitches(const Piece& a, const Piece& b) {
    Piece other = b;
    other.name = a.name;
    other.locked = a.locked;
    other.group = a.group;
    other.extra = a.extra;
    other.poseExtra = a.poseExtra;
    return a == other;
}

bool sameRepeat(const Repeat* a, const Repeat* b) { return a && b ? *a == *b : a == b; }

} // namespace

std::set<std::string> sewnIds(const Job& job) {
    std::set<std::string> ids;
    for (const Hooping& h : job.hoopings)
        if (h.sewn > 0) ids.insert(h.pieces.begin(), h.pieces.end());
    return ids;
}

std::set<std::string> sewnPieces(const Job& job) {
    std::set<std::string> pieces;
    for (const std::string& id : sewnIds(job))
        if (const Piece* p = job.piece(id)) pieces.insert(p->id);
    return pieces;
}

std::optional<Error> changesSewn(const Job& before, const Job& after) {
    std::set<std::string> seen;
    for (std::size_t i = 0; i < before.hoopings.size(); ++i) {
        const Hooping& h = before.hoopings[i];
        if (h.sewn == 0) continue;
        const auto same = std::find_if(after.hoopings.begin(), after.hoopings.end(),
                                       [&](const Hooping& o) { return sameSewing(h, o); });
        if (same == after.hoopings.end())
            return cannotDo(fmt::format("hooping {} is sewn and stays as it is", i + 1));
        if (same->sewn == 0) continue; // it was not sewn after all
        for (const std::string& id : h.pieces) {
            const Piece* was = before.piece(id);
            if (!was || !seen.insert(was->id).second) continue;
            const Piece* is = after.piece(was->id);
            if (is && sameStitches(*was, *is) &&
                sameRepeat(before.repeatOf(was->id), after.repeatOf(was->id)))
                continue;
            return cannotDo(fmt::format("{} is sewn in hooping {} and stays as it is; change a "
                                        "copy of it, or say that the hooping is not sewn",
                                        was->name, i + 1),
                            was->id);
        }
    }
    return std::nullopt;
}

} // namespace rapt
