#include "load/load_trial.h"

#include <unordered_map>

namespace rapt {
namespace {

// Remedies move pieces by at most 60 mm and enlarge them; what leaves this room is not weighed.
constexpr double roomMm = 120;

Box roomFor(const StitchedJob& stitched) {
    Box box;
    for (const PieceSpan& span : stitched.spans) box.add(span.extents);
    return box.empty() ? box : box.grown(roomMm);
}

bool sewnAlike(const PlacedPiece& a, const PlacedPiece& b) {
    return a.relieved == b.relieved && a.piece == b.piece;
}

} // namespace

LoadTrial::LoadTrial(const Job& j, const StitchedJob& stitched, StitchCache& c)
    : job(j), cache(c), was(placedPieces(j, c)), sums(roomFor(stitched)) {
    (void)sums.add(stitched.list, 0, stitched.list.stitches.size(), nullptr, 1);
}

void LoadTrial::lay(const PlacedPiece& placed, float sign) {
    const auto list = stitchesOf(placed, cache);
    if (!list) return;
    const Affine map = placed.piece.pose.unscaled().affine();
    (void)sums.add(**list, 0, (*list)->stitches.size(), &map, sign);
    const auto count = static_cast<long long>((*list)->stitches.size());
    more += sign > 0 ? count : -count;
}

void LoadTrial::takeBack() {
    for (const std::size_t i : added) lay(now[i], -1);
    for (const std::size_t i : taken) lay(was[i], 1);
    added.clear();
    taken.clear();
    more = 0;
}

const LoadMap& LoadTrial::map() {
    takeBack();
    sums.averageChanged(current, changed);
    return current;
}

std::optional<LoadTrial::Tried> LoadTrial::tryOut(const Edit& edit) {
    takeBack();
    now = placedPieces(edit.change(job), cache, stop);
    if (stop.stop_requested()) return std::nullopt;
    std::unordered_map<std::string, std::size_t> before;
    for (std::size_t i = 0; i < was.size(); ++i) before.emplace(was[i].piece.id, i);
    for (std::size_t i = 0; i < now.size(); ++i) {
        if (!stitchesOf(now[i], cache)) return std::nullopt;
        const auto same = before.find(now[i].piece.id);
        if (same != before.end() && sewnAlike(was[same->second], now[i])) {
            before.erase(same);
            continue;
        }
        added.push_back(i);
    }
    for (const auto& [id, i] : before) taken.push_back(i);
    if (added.empty() && taken.empty()) return std::nullopt;
    for (const std::size_t i : taken) lay(was[i], -1);
    for (const std::size_t i : added) lay(now[i], 1);
    sums.averageChanged(current, changed);
    return Tried{&current, more};
}

} // namespace rapt
