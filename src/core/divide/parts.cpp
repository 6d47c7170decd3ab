#include "divide/parts.h"

#include "divide/cuts.h"
#include "sequence/overlaps.h"
#include "thread/sequences.h"
#include "thread/ties.h"

#include <fmt/format.h>
#include <numeric>
#include <unordered_map>

namespace rapt {
namespace {

/// Sequences that come near each other are one element.
class Elements {
public:
    Elements(const StitchList& l, const std::vector<Sequence>& s)
        : list(l), sequences(s), up(s.size()) {
        std::iota(up.begin(), up.end(), std::size_t{0});
        for (std::size_t i = 0; i < sequences.size(); ++i) enter(i);
    }
    std::size_t rootOf(std::size_t i) {
        while (up[i] != i) i = up[i] = up[up[i]];
        return i;
    }

private:
    void enter(std::size_t i) {
        const Sequence& s = sequences[i];
        Vec2 from = s.ledInFrom.value_or(list.stitches[s.first].at());
        for (std::size_t r = s.first; r < s.last; ++r) {
            const Vec2 to = list.stitches[r].at();
            const int steps = 1 + static_cast<int>(distance(from, to) / elementGapMm);
            for (int k = 0; k <= steps; ++k)
                touch(lerp(from, to, static_cast<double>(k) / steps), i);
            from = to;
        }
    }
    void touch(Vec2 p, std::size_t sequence) {
        const auto x = static_cast<std::int32_t>(std::floor(p.x / elementGapMm));
        const auto y = static_cast<std::int32_t>(std::floor(p.y / elementGapMm));
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx) {
                const auto found = cells.find(key(x + dx, y + dy));
                if (found != cells.end()) up[rootOf(found->second)] = rootOf(sequence);
            }
        cells[key(x, y)] = sequence;
    }
    static std::uint64_t key(std::int32_t x, std::int32_t y) {
        return static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32 |
               static_cast<std::uint32_t>(y);
    }

    const StitchList& list;
    const std::vector<Sequence>& sequences;
    std::vector<std::size_t> up;
    std::unordered_map<std::uint64_t, std::size_t> cells;
};

/// Distributes a list over its elements. Where a thread was carried from one element to another it
/// is cut, and tied on both sides.
class ElementWriter {
public:
    ElementWriter(const StitchList& l, const std::vector<Sequence>& s) : list(l), sequences(s) {}

    /// `elementOf`: of each sequence; elements are numbered as they begin.
    std::vector<TracedList> run(const std::vector<std::size_t>& elementOf, std::size_t count) {
        std::vector<TracedList> elements(count, tracedLike(list));
        std::vector<std::optional<std::size_t>> before(count); // last sequence in each
        for (std::size_t i = 0; i < sequences.size(); ++i) {
            TracedList& to = elements[elementOf[i]];
            auto& last = before[elementOf[i]];
            const bool goesOn = i > 0 && last == i - 1 && !sequences[i].cutBefore;
            lead(to, i, goesOn);
            for (std::size_t r = sequences[i].first; r < sequences[i].last; ++r)
                to.keep(list.stitches[r], r);
            last = i;
        }
        for (TracedList& element : elements) element = tieMadeEnds(list, element);
        return elements;
    }

private:
    /// Stops before a sequence, the cut, and the move to it.
    void lead(TracedList& to, std::size_t i, bool goesOn) {
        const Sequence& s = sequences[i];
        const Stitch& first = list.stitches[s.first];
        if (!goesOn && !to.stitches.empty() && to.stitches.back().op != Op::trim) {
            const Stitch& last = to.stitches.back();
            to.make({last.x, last.y, Op::trim, last.thread}, NewRecord::move);
        }
        for (std::size_t r = i > 0 ? sequences[i - 1].last : 0; r < s.first; ++r)
            if (list.stitches[r].op == Op::stop) to.keep(list.stitches[r], r);
        const Vec2 at = s.ledInFrom.value_or(first.at());
        to.make(stitchAt(Op::jump, at, first.thread), NewRecord::move);
        // The first stitch of a list lays no thread from where it is led in.
        if (s.ledInFrom && !sews(to))
            to.make(stitchAt(Op::stitch, at, first.thread), NewRecord::cutEnd);
    }

    const StitchList& list;
    const std::vector<Sequence>& sequences;
};

std::vector<TracedList> elementsOf(const StitchList& list) {
    const std::vector<Sequence> sequences = sequencesOf(list);
    Elements elements(list, sequences);
    std::unordered_map<std::size_t, std::size_t> known;
    std::vector<std::size_t> elementOf;
    for (std::size_t i = 0; i < sequences.size(); ++i)
        elementOf.push_back(known.try_emplace(elements.rootOf(i), known.size()).first->second);
    std::vector<TracedList> parts;
    if (known.size() < 2)
        parts.push_back(tracedWhole(list));
    else
        parts = ElementWriter(list, sequences).run(elementOf, known.size());
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
    for (const Sequence& s : sequencesOf(*part.list))
        if (s.ledInFrom) points.push_back(part.map(*s.ledInFrom));
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

std::vector<TracedList> partLists(const StitchList& list, const std::vector<ElementCut>& cuts) {
    std::vector<TracedList> elements = elementsOf(list);
    if (cuts.empty()) return elements;
    std::vector<TracedList> parts;
    for (std::size_t e = 0; e < elements.size(); ++e) {
        std::vector<Polyline> paths;
        for (const ElementCut& c : cuts)
            if (c.element == static_cast<int>(e) + 1) paths.push_back(c.path);
        for (TracedList& side : cutApart(elements[e], paths, cutOverlapMm)) {
            side.origins = side.origins.after(elements[e].origins);
            parts.push_back(tieMadeEnds(list, side)); // a later cut may have taken a tie away
        }
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
    for (TracedList& part : partLists(**list, cuts))
        parts->push_back(std::make_shared<const TracedList>(std::move(part)));
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
    TracedList chosen = tracedLike(**list);
    for (const int n : numbers) {
        if (n < 1 || n > static_cast<int>((*lists)->size()))
            return cannotDo(
                fmt::format("piece '{}' has no part {}; divide again", placed.piece.id, n),
                placed.source);
        const TracedList& part = *(**lists)[static_cast<std::size_t>(n - 1)];
        if (!chosen.stitches.empty() && chosen.stitches.back().op != Op::trim) {
            const Stitch& last = chosen.stitches.back();
            chosen.make({last.x, last.y, Op::trim, last.thread}, NewRecord::move);
        }
        chosen.append(part);
    }
    PlacedPiece some = placed;
    some.relieved = std::make_shared<const TracedList>(std::move(chosen));
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
