#include "divide/parts.h"

#include "divide/cuts.h"
#include "sequence/overlaps.h"

#include <fmt/format.h>
#include <numeric>
#include <unordered_map>

namespace rapt {
namespace {

/// Records that hang together by thread: [first, last), the move to the first included.
struct Chain {
    std::size_t first, last;
};

std::vector<Chain> chainsOf(const StitchList& list) {
    std::vector<Chain> chains;
    std::size_t begin = 0;
    bool open = false;
    std::uint8_t thread = 0;
    for (std::size_t i = 0; i < list.stitches.size(); ++i) {
        const Stitch& s = list.stitches[i];
        const bool sews = s.op == Op::stitch;
        if (open && (!sews || s.thread != thread)) {
            chains.push_back({begin, i});
            begin = i;
            open = false;
        }
        if (sews) {
            open = true;
            thread = s.thread;
        }
    }
    if (open)
        chains.push_back({begin, list.stitches.size()});
    else if (!chains.empty())
        chains.back().last = list.stitches.size();
    return chains;
}

/// Chains that come near each other are one element.
class Elements {
public:
    Elements(const StitchList& l, const std::vector<Chain>& c) : list(l), chains(c), up(c.size()) {
        std::iota(up.begin(), up.end(), std::size_t{0});
        for (std::size_t i = 0; i < chains.size(); ++i) enter(i);
    }
    std::size_t rootOf(std::size_t i) {
        while (up[i] != i) i = up[i] = up[up[i]];
        return i;
    }

private:
    void enter(std::size_t chain) {
        const Stitch* last = nullptr;
        for (std::size_t i = chains[chain].first; i < chains[chain].last; ++i) {
            const Stitch& s = list.stitches[i];
            if (s.op != Op::stitch) continue;
            const Vec2 to = s.at(), from = last ? last->at() : to;
            const int steps = 1 + static_cast<int>(distance(from, to) / elementGapMm);
            for (int k = 0; k <= steps; ++k)
                touch(lerp(from, to, static_cast<double>(k) / steps), chain);
            last = &s;
        }
    }
    void touch(Vec2 p, std::size_t chain) {
        const auto x = static_cast<std::int32_t>(std::floor(p.x / elementGapMm));
        const auto y = static_cast<std::int32_t>(std::floor(p.y / elementGapMm));
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx) {
                const auto found = cells.find(key(x + dx, y + dy));
                if (found != cells.end()) up[rootOf(found->second)] = rootOf(chain);
            }
        cells[key(x, y)] = chain;
    }
    static std::uint64_t key(std::int32_t x, std::int32_t y) {
        return static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32 |
               static_cast<std::uint32_t>(y);
    }

    const StitchList& list;
    const std::vector<Chain>& chains;
    std::vector<std::size_t> up;
    std::unordered_map<std::uint64_t, std::size_t> cells;
};

/// Adds a chain; what went before it ends with a trim.
void append(StitchList& to, const StitchList& from, const Chain& chain) {
    std::size_t i = chain.first;
    if (!to.stitches.empty() && to.stitches.back().op != Op::trim) {
        const Stitch& last = to.stitches.back();
        to.stitches.push_back({last.x, last.y, Op::trim, last.thread});
    }
    // Of the moves before the first penetration only the one to it is needed.
    while (i < chain.last && from.stitches[i].op != Op::stitch) ++i;
    if (i < chain.last) {
        const Stitch& s = from.stitches[i];
        to.stitches.push_back({s.x, s.y, Op::jump, s.thread});
    }
    for (; i < chain.last && from.stitches[i].op == Op::stitch; ++i)
        to.stitches.push_back(from.stitches[i]);
}

std::vector<StitchList> elementsOf(const StitchList& list) {
    const std::vector<Chain> chains = chainsOf(list);
    Elements elements(list, chains);
    std::vector<StitchList> parts;
    std::unordered_map<std::size_t, std::size_t> known;
    for (std::size_t i = 0; i < chains.size(); ++i) {
        const auto [own, isNew] = known.try_emplace(elements.rootOf(i), parts.size());
        if (isNew) {
            parts.emplace_back();
            parts.back().name = list.name;
            parts.back().threads = list.threads;
        }
        append(parts[own->second], list, chains[i]);
    }
    if (parts.size() < 2) return {list};
    return parts;
}

Part partOf(const PlacedPiece& placed, std::shared_ptr<const StitchList> list, int number, int of,
            bool cut) {
    Part part{placed.piece.id,
              number,
              of,
              std::move(list),
              placed.piece.pose.unscaled().affine(),
              {},
              {},
              cut};
    std::vector<Vec2> points;
    for (const Stitch& s : part.list->stitches)
        if (s.op == Op::stitch) points.push_back(part.map(s.at()));
    part.hull = convexHull(std::move(points));
    part.box = boundsOf(part.hull);
    return part;
}

std::vector<ElementCut> cutsOf(const Job& job, const PlacedPiece& placed) {
    std::vector<ElementCut> cuts;
    const Affine back = placed.piece.pose.unscaled().affine().inverse();
    for (const Cut& c : job.cuts) {
        if (c.piece != placed.piece.id) continue;
        ElementCut& cut = cuts.emplace_back(ElementCut{c.element, c.path});
        for (Vec2& p : cut.path) p = back(p);
    }
    return cuts;
}

} // namespace

std::vector<StitchList> partLists(const StitchList& list, const std::vector<ElementCut>& cuts) {
    std::vector<StitchList> elements = elementsOf(list);
    if (cuts.empty()) return elements;
    std::vector<StitchList> parts;
    for (std::size_t e = 0; e < elements.size(); ++e) {
        std::vector<Polyline> paths;
        for (const ElementCut& c : cuts)
            if (c.element == static_cast<int>(e) + 1) paths.push_back(c.path);
        for (StitchList& side : cutApart(elements[e], paths, cutOverlapMm))
            parts.push_back(std::move(side));
    }
    return parts;
}

Result<std::shared_ptr<const PartCache::Lists>> PartCache::of(const Job& job,
                                                              const PlacedPiece& placed) {
    const auto list = stitchesOf(placed, stitches);
    if (!list) return list.error();
    auto cuts = cutsOf(job, placed);
    for (const Entry& e : entries)
        if (e.list == *list && e.cuts == cuts) return e.parts;
    auto parts = std::make_shared<Lists>();
    for (StitchList& part : partLists(**list, cuts))
        parts->push_back(std::make_shared<const StitchList>(std::move(part)));
    entries.push_back({*list, std::move(cuts), parts});
    return std::shared_ptr<const Lists>(parts);
}

Result<std::vector<Part>> partsOf(const Job& job, PartCache& cache, const Apart& apart,
                                  std::stop_token stop) {
    std::vector<Part> parts;
    for (const PlacedPiece& placed : placedPieces(job, cache.stitches, stop)) {
        if (stop.stop_requested()) return cancelled();
        const auto list = stitchesOf(placed, cache.stitches);
        if (!list) return Error{list.error().fault, "", placed.source, list.error().reason};
        const auto cuts = cutsOf(job, placed);
        if (!apart.has(placed.piece.id) && cuts.empty()) {
            parts.push_back(partOf(placed, *list, 0, 1, false));
        } else {
            const auto lists = cache.of(job, placed);
            if (!lists) return lists.error();
            const int of = static_cast<int>((*lists)->size());
            int number = 0;
            for (const auto& part : **lists)
                parts.push_back(partOf(placed, part, of > 1 ? ++number : 0, of, !cuts.empty()));
        }
        while (!parts.empty() && parts.back().hull.empty()) parts.pop_back();
    }
    return parts;
}

Result<PlacedPiece> someParts(const Job& job, const PlacedPiece& placed,
                              const std::vector<int>& numbers, PartCache& cache) {
    const auto list = stitchesOf(placed, cache.stitches);
    if (!list) return list.error();
    const auto lists = cache.of(job, placed);
    if (!lists) return lists.error();
    StitchList chosen;
    chosen.name = (*list)->name;
    chosen.threads = (*list)->threads;
    for (const int n : numbers) {
        if (n < 1 || n > static_cast<int>((*lists)->size()))
            return cannotDo(
                fmt::format("piece '{}' has no part {}; divide again", placed.piece.id, n),
                placed.source);
        const StitchList& part = *(**lists)[static_cast<std::size_t>(n - 1)];
        append(chosen, part, {0, 0});
        chosen.stitches.insert(chosen.stitches.end(), part.stitches.begin(), part.stitches.end());
    }
    PlacedPiece some = placed;
    some.relieved = std::make_shared<const StitchList>(std::move(chosen));
    return some;
}

std::vector<std::vector<std::size_t>> sewnBefore(const std::vector<Part>& parts) {
    std::vector<std::optional<SewnGround>> grounds(parts.size());
    const auto groundFor = [&](std::size_t i) -> const SewnGround& {
        if (!grounds[i]) {
            StitchList placed = *parts[i].list;
            for (Stitch& s : placed.stitches) s = stitchAt(s.op, parts[i].map(s.at()), s.thread);
            grounds[i] = groundOf(placed);
        }
        return *grounds[i];
    };
    std::vector<std::vector<std::size_t>> before(parts.size());
    for (std::size_t i = 0; i < parts.size(); ++i)
        for (std::size_t j = 0; j < i; ++j)
            if (parts[i].piece != parts[j].piece && parts[i].box.overlaps(parts[j].box) &&
                overlap(groundFor(i), groundFor(j)))
                before[i].push_back(j);
    return before;
}

} // namespace rapt
