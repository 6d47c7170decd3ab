#include "job/stitching.h"

#include "job/expansion.h"
#include "job/outline.h"
#include "letter/stitching.h"

#include <bitset>
#include <fmt/format.h>

namespace rapt {
namespace {

/// Factors beyond this send any real design past the edge of the frame.
constexpr double reachMm = 20'000;
/// No single piece needs more; it would sew for days.
constexpr double maxPieceStitches = 4e6;
constexpr std::size_t maxJobStitches = 40'000'000;

Result<StitchList> scaledList(const StitchList& list, double sx, double sy) {
    StitchList result = list;
    for (Stitch& s : result.stitches) {
        const Vec2 p = s.at();
        const Vec2 q{p.x * sx, p.y * sy};
        if (!(std::abs(q.x) < reachMm && std::abs(q.y) < reachMm))
            return cannotDo(fmt::format("at this scale it reaches beyond ±{} mm", maxCoordinateMm));
        s.x = toUnits(q.x);
        s.y = toUnits(q.y);
    }
    return result;
}

Box boundsOfShape(const Shape& shape) {
    Box box;
    for (const ShapePart& part : shape.parts) box.add(boundsOf(part.lines));
    return box;
}

const void* addressOf(const Piece& piece) {
    if (const auto* design = std::get_if<DesignContent>(&piece.content)) return design->list.get();
    if (const auto* shape = std::get_if<ShapeContent>(&piece.content)) return shape->shape.get();
    return std::get<LetteringContent>(piece.content).lettering.get();
}

/// Words are stitched afresh at their real size. Stretched to one side they keep their proportion:
/// the size follows the mean of both factors, and the stitches take the rest.
Result<std::shared_ptr<const StitchList>> stitchWords(const Lettering& lettering, double sx,
                                                      double sy) {
    const double k = std::sqrt(std::abs(sx * sy));
    const auto stitched = stitchLettering(scaled(lettering, k));
    if (!stitched) return stitched.error();
    if (sx == k && sy == k) return std::make_shared<const StitchList>(stitched->list);
    Result<StitchList> moved = scaledList(stitched->list, sx / k, sy / k);
    if (!moved) return moved.error();
    return std::make_shared<const StitchList>(std::move(*moved));
}

/// Adds pieces one after the other to a joined list.
class Joiner {
public:
    explicit Joiner(const Affine& f) : frame(f) {}

    Status add(const PlacedPiece& from, const StitchList& list) {
        const Piece& piece = from.piece;
        if (joined.list.stitches.size() + list.stitches.size() > maxJobStitches)
            return cannotDo(fmt::format("the job has more than {} million stitches with its copies",
                                        maxJobStitches / 1'000'000),
                            piece.id);
        Pose placed = piece.pose;
        placed.scaleX = placed.scaleY = 1;
        const Affine map = placed.affine().then(frame);
        std::array<std::uint8_t, 256> threads{};
        for (const Thread& t : list.threads) {
            threads[t.index] = threadIndex(t);
            if (threads[t.index] == 0)
                return cannotDo("the job has more than 255 different threads; join some of them",
                                piece.id);
        }
        PieceSpan span{
            piece.id,      joined.list.stitches.size(), 0, {}, from.source, from.copy, from.outline,
            from.fromFirst};
        bool started = false;
        Vec2 needle = last;
        for (const Stitch& s : list.stitches) {
            // Moves before the first stitch become one jump to it.
            if (!started && s.op != Op::stitch && s.op != Op::stop) continue;
            if (s.op == Op::stitch || s.op == Op::jump) needle = map(s.at());
            if (!(std::abs(needle.x) <= maxCoordinateMm && std::abs(needle.y) <= maxCoordinateMm))
                return cannotDo(
                    fmt::format("reaches beyond ±{} mm; move or shrink it", maxCoordinateMm),
                    piece.id);
            if (s.op == Op::stitch && !started) begin(needle, threads[s.thread]);
            started = started || s.op == Op::stitch;
            joined.list.stitches.push_back(stitchAt(s.op, needle, threads[s.thread]));
            if (s.op == Op::stitch) span.extents.add(joined.list.stitches.back().at());
        }
        last = needle;
        span.last = joined.list.stitches.size();
        joined.spans.push_back(std::move(span));
        return done();
    }

    StitchedJob take() { return std::move(joined); }

private:
    /// The cut before a piece, and the move to its first stitch.
    void begin(Vec2 at, std::uint8_t thread) {
        auto& stitches = joined.list.stitches;
        if (!stitches.empty() && stitches.back().op != Op::trim)
            stitches.push_back(stitchAt(Op::trim, last, stitches.back().thread));
        stitches.push_back(stitchAt(Op::jump, at, thread));
    }

    /// The joined list's index of a thread, added if it is new; 0 if there is no room.
    std::uint8_t threadIndex(const Thread& thread) {
        auto& threads = joined.list.threads;
        for (const Thread& t : threads)
            if (t.sameThread(thread)) return t.index;
        if (threads.size() >= 255) return 0;
        Thread added = thread;
        added.index = static_cast<std::uint8_t>(threads.size() + 1);
        threads.push_back(added);
        return added.index;
    }

    Affine frame;
    StitchedJob joined;
    Vec2 last;
};

} // namespace

Result<std::shared_ptr<const StitchList>> stitchPiece(const Piece& piece) {
    const double sx = piece.pose.scaleX;
    const double sy = piece.pose.scaleY;
    std::shared_ptr<const StitchList> list;
    if (const auto* design = std::get_if<DesignContent>(&piece.content)) {
        list = design->list;
    } else if (const auto* words = std::get_if<LetteringContent>(&piece.content)) {
        const bool afresh = piece.keep == Keep::spacing;
        auto stitched = stitchWords(*words->lettering, afresh ? sx : 1, afresh ? sy : 1);
        if (!stitched)
            return Error{stitched.error().fault, stitched.error().file, piece.id,
                         stitched.error().reason};
        if (afresh) return stitched;
        list = *stitched;
    } else {
        const Shape& shape = *std::get<ShapeContent>(piece.content).shape;
        const bool afresh = piece.keep == Keep::spacing;
        const Shape sized = afresh ? scaled(shape, sx, sy) : shape;
        if (const double count = estimatedStitches(sized); !(count <= maxPieceStitches))
            return cannotDo(fmt::format("it would take about {:.0f} million stitches at this size, "
                                        "the most for a piece is {:.0f} million",
                                        count / 1e6, maxPieceStitches / 1e6),
                            piece.id);
        if (const Box box = boundsOfShape(sized);
            std::max({-box.minX, box.maxX, -box.minY, box.maxY}) >= reachMm)
            return cannotDo(fmt::format("at this scale it reaches beyond ±{} mm", maxCoordinateMm),
                            piece.id);
        list = std::make_shared<const StitchList>(stitchShape(sized));
        if (afresh) return list;
    }
    if (sx == 1 && sy == 1) return list;
    Result<StitchList> moved = scaledList(*list, sx, sy);
    if (!moved) return cannotDo(moved.error().reason, piece.id);
    return std::make_shared<const StitchList>(std::move(*moved));
}

Result<std::shared_ptr<const StitchList>> StitchCache::stitch(const Piece& piece) {
    const Key key{addressOf(piece), piece.keep, piece.pose.scaleX, piece.pose.scaleY};
    const auto it = entries.find(key);
    if (it != entries.end()) {
        it->second.used = true;
        return it->second.list;
    }
    auto list = stitchPiece(piece);
    if (list) entries[key] = {piece.content, *list, true};
    return list;
}

std::shared_ptr<const Shape> StitchCache::outline(const Outline& outline,
                                                  const std::shared_ptr<const StitchList>& around) {
    for (OutlineEntry& e : outlines)
        if (e.around == around && e.outline == outline) {
            e.used = true;
            return e.shape;
        }
    auto shape = std::make_shared<const Shape>(outlineShape(outline, *around));
    outlines.push_back({outline, around, shape, true});
    return shape;
}

void StitchCache::dropUnused() {
    std::erase_if(entries, [](const auto& entry) { return !entry.second.used; });
    std::erase_if(outlines, [](const OutlineEntry& e) { return !e.used; });
    for (auto& [key, entry] : entries) entry.used = false;
    for (OutlineEntry& e : outlines) e.used = false;
}

Result<StitchedJob> stitchPlaced(const std::vector<const PlacedPiece*>& pieces, const Affine& frame,
                                 StitchCache& cache, std::stop_token stop) {
    Joiner joiner(frame);
    for (const PlacedPiece* placed : pieces) {
        if (stop.stop_requested()) return cannotDo("cancelled");
        const auto list = cache.stitch(placed->piece);
        if (!list) return Error{list.error().fault, "", placed->source, list.error().reason};
        const Status added = joiner.add(*placed, **list);
        if (!added) return added.error();
    }
    return joiner.take();
}

Result<StitchedJob> stitchPieces(const std::vector<const Piece*>& pieces, const Affine& frame) {
    std::vector<PlacedPiece> placed;
    for (const Piece* piece : pieces) placed.push_back({*piece, piece->id, 1, false, {}});
    std::vector<const PlacedPiece*> all;
    for (const PlacedPiece& p : placed) all.push_back(&p);
    StitchCache cache;
    return stitchPlaced(all, frame, cache);
}

Result<StitchedJob> stitchJob(const Job& job, StitchCache* cache, std::stop_token stop) {
    StitchCache own;
    StitchCache& stitches = cache ? *cache : own;
    const std::vector<PlacedPiece> placed = placedPieces(job, stitches);
    std::vector<const PlacedPiece*> all;
    for (const PlacedPiece& p : placed) all.push_back(&p);
    auto stitched = stitchPlaced(all, Affine{}, stitches, stop);
    if (stitched) stitched->list.name = job.name;
    return stitched;
}

} // namespace rapt
