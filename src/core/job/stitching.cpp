#include "job/stitching.h"

#include "job/expansion.h"
#include "job/outline.h"
#include "job/relieving.h"
#include "letter/stitching.h"
#include "relieve/cover.h"
#include "respace/respace.h"
#include "thread/runs.h"
#include "thread/trims.h"

#include <bitset>
#include <fmt/format.h>

namespace rapt {
namespace {

/// Factors beyond this send any real design past the edge of the frame.
constexpr double reachMm = 20'000;
/// No single piece needs more; it would sew for days.
constexpr double maxPieceStitches = 4e6;
constexpr std::size_t maxJobStitches = 12'000'000;

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
Result<std::shared_ptr<const StitchList>>
stitchWords(const std::shared_ptr<const Lettering>& lettering, double sx, double sy,
            StitchCache& cache) {
    const double k = std::sqrt(std::abs(sx * sy));
    const auto stitched = cache.words(lettering, k);
    if (!stitched) return stitched.error();
    const std::shared_ptr<const StitchList> list(*stitched, &(*stitched)->list);
    if (sx == k && sy == k) return list;
    Result<StitchList> moved = scaledList(*list, sx / k, sy / k);
    if (!moved) return moved.error();
    return std::make_shared<const StitchList>(std::move(*moved));
}

Result<std::shared_ptr<const StitchList>> stitchSizedShape(const Shape& sized) {
    if (const double count = estimatedStitches(sized); !(count <= maxPieceStitches))
        return cannotDo(fmt::format("it would take about {:.0f} million stitches at this size, the "
                                    "most for a piece is {:.0f} million",
                                    count / 1e6, maxPieceStitches / 1e6));
    if (const Box box = boundsOfShape(sized);
        std::max({-box.minX, box.maxX, -box.minY, box.maxY}) >= reachMm)
        return cannotDo(fmt::format("at this scale it reaches beyond ±{} mm", maxCoordinateMm));
    for (const ShapePart& part : sized.parts)
        if (part.kind == StitchKind::fill && isTangled(part))
            return cannotDo("more edges lie side by side in its outline than can be worked out");
    return std::make_shared<const StitchList>(stitchShape(sized));
}

/// All runs of a piece at its scale.
Result<std::shared_ptr<const StitchList>> stitchContent(const Piece& piece, StitchCache& cache) {
    const double sx = piece.pose.scaleX;
    const double sy = piece.pose.scaleY;
    const bool afresh = piece.keep == Keep::spacing;
    std::shared_ptr<const StitchList> list;
    if (const auto* design = std::get_if<DesignContent>(&piece.content)) {
        list = design->list;
        if (afresh && (sx != 1 || sy != 1 || piece.respacing != RespaceOptions{})) {
            auto laid = respace(*list, {sx, sy}, piece.respacing);
            if (!laid) return laid.error();
            return std::make_shared<const StitchList>(std::move(laid->list));
        }
    } else if (const auto* words = std::get_if<LetteringContent>(&piece.content)) {
        auto stitched = stitchWords(words->lettering, afresh ? sx : 1, afresh ? sy : 1, cache);
        if (!stitched || afresh) return stitched;
        list = *stitched;
    } else {
        auto stitched = stitchSizedShape(shapeOf(piece));
        if (!stitched || afresh) return stitched;
        list = *stitched;
    }
    if (sx == 1 && sy == 1) return list;
    Result<StitchList> moved = scaledList(*list, sx, sy);
    if (!moved) return moved.error();
    return std::make_shared<const StitchList>(std::move(*moved));
}

Error tooManyStitches(const std::string& piece) {
    return cannotDo(fmt::format("the job has more than {} million stitches with its copies",
                                maxJobStitches / 1'000'000),
                    piece);
}

/// Adds pieces one after the other to a joined list.
class Joiner {
public:
    explicit Joiner(const Joining& j) : joining(j) {}

    Status add(const PlacedPiece& source, const StitchList& list) {
        const Piece& piece = source.piece;
        if (joined.list.stitches.size() + list.stitches.size() > maxJobStitches)
            return tooManyStitches(piece.id);
        const Affine map = piece.pose.unscaled().affine().then(joining.frame);
        std::array<std::uint8_t, 256> threads{};
        for (const Thread& t : list.threads) {
            threads[t.index] = threadIndex(t);
            if (threads[t.index] == 0)
                return cannotDo("the job has more than 255 different threads; join some of them",
                                piece.id);
        }
        PieceSpan span{piece.id,
                       joined.list.stitches.size(),
                       0,
                       {},
                       source.source,
                       source.copy,
                       source.outline,
                       source.fromFirst};
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
            if (s.op == Op::stitch && !started) span.first = begin(needle, threads[s.thread]);
            started = started || s.op == Op::stitch;
            joined.list.stitches.push_back(stitchAt(s.op, needle, threads[s.thread]));
            if (s.op == Op::stitch) span.extents.add(joined.list.stitches.back().at());
        }
        last = needle;
        span.last = joined.list.stitches.size();
        joined.spans.push_back(std::move(span));
        return done();
    }

    /// Which runs of its design the last piece sews, where it does not sew all.
    void setRuns(std::vector<int> runs) { joined.spans.back().runs = std::move(runs); }

    StitchedJob take() { return std::move(joined); }

private:
    /// The cut before a piece, and the move to its first stitch: the number of that record, with
    /// which the piece's own span begins (but for stops before it).
    std::size_t begin(Vec2 at, std::uint8_t thread) {
        auto& stitches = joined.list.stitches;
        const bool sewnOn = !stitches.empty() && joining.trimOverMm &&
                            stitches.back().thread == thread &&
                            distance(last, at) <= *joining.trimOverMm;
        if (!stitches.empty() && stitches.back().op != Op::trim && !sewnOn)
            stitches.push_back(stitchAt(Op::trim, last, stitches.back().thread));
        stitches.push_back(stitchAt(Op::jump, at, thread));
        return stitches.size() - 1;
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

    Joining joining;
    StitchedJob joined;
    Vec2 last;
};

} // namespace

Shape shapeOf(const Piece& piece) {
    const Shape& shape = *std::get<ShapeContent>(piece.content).shape;
    if (piece.keep == Keep::stitches) return shape;
    const double sx = piece.pose.scaleX, sy = piece.pose.scaleY;
    Shape sized = scaled(shape, sx, sy);
    const RespaceOptions& o = piece.respacing;
    // What is not kept of the spacing grows with the size.
    const double grown = std::pow(std::sqrt(std::abs(sx * sy)), 1 - o.spacingShare);
    if (grown != 1 || o.spacingMm)
        for (ShapePart& part : sized.parts) {
            part.spacingMm = o.spacingMm.value_or(part.spacingMm * grown);
            part.stitchLengthMm *= grown;
        }
    return sized;
}

namespace {

Result<std::shared_ptr<const StitchList>> stitchWith(const Piece& piece, StitchCache& cache) {
    auto list = stitchContent(piece, cache);
    if (!list) return Error{list.error().fault, list.error().file, piece.id, list.error().reason};
    if (piece.leftOutRuns.empty()) return list;
    return std::make_shared<const StitchList>(withoutRuns(**list, piece.leftOutRuns));
}

} // namespace

Result<std::shared_ptr<const StitchList>> stitchPiece(const Piece& piece) {
    StitchCache own;
    return stitchWith(piece, own);
}

std::optional<UnrecognisedStitches> unrecognisedIn(const Piece& piece) {
    const auto* design = std::get_if<DesignContent>(&piece.content);
    const bool laid =
        piece.pose.scaleX != 1 || piece.pose.scaleY != 1 || piece.respacing != RespaceOptions{};
    if (!design || piece.keep == Keep::stitches || !laid) return std::nullopt;
    const RespaceReport report = surveyStretches(*design->list);
    if (report.unknown == 0) return std::nullopt;
    const Vec2 at = report.unknownAt.front();
    return UnrecognisedStitches{report.unknown,
                                report.unknownStitches,
                                {at.x * piece.pose.scaleX, at.y * piece.pose.scaleY}};
}

Result<std::shared_ptr<const StitchList>> StitchCache::stitch(const Piece& piece) {
    const Key key{addressOf(piece),  piece.keep,      piece.pose.scaleX,
                  piece.pose.scaleY, piece.respacing, piece.leftOutRuns};
    const auto it = entries.find(key);
    if (it != entries.end()) {
        it->second.used = true;
        return it->second.list;
    }
    auto list = stitchWith(piece, *this);
    if (list) entries[key] = {piece.content, *list, true};
    return list;
}

Result<std::shared_ptr<const StitchedLettering>>
StitchCache::words(const std::shared_ptr<const Lettering>& lettering, double factor) {
    for (WordsEntry& e : wordEntries)
        if (e.lettering == lettering && e.factor == factor) {
            e.used = true;
            return e.words;
        }
    auto made = stitchLettering(scaled(*lettering, factor));
    if (!made) return made.error();
    auto words = std::make_shared<const StitchedLettering>(std::move(*made));
    wordEntries.push_back({lettering, factor, words, true});
    return words;
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

std::shared_ptr<const Contours> StitchCache::cover(const std::shared_ptr<const StitchList>& list,
                                                   double leastLayers) {
    for (CoverEntry& e : covers)
        if (e.list == list && e.leastLayers == leastLayers) {
            e.used = true;
            return e.contours;
        }
    auto contours = std::make_shared<const Contours>(denseCover(*list, leastLayers));
    covers.push_back({list, leastLayers, contours, true});
    return contours;
}

std::shared_ptr<const TracedList>
StitchCache::relieved(const ReliefKey& key,
                      const std::function<std::shared_ptr<const TracedList>()>& make) {
    for (ReliefEntry& e : reliefs)
        if (e.key == key) {
            e.used = true;
            return e.list;
        }
    reliefs.push_back({key, make(), true});
    return reliefs.back().list;
}

void StitchCache::dropUnused() {
    std::erase_if(entries, [](const auto& entry) { return !entry.second.used; });
    for (auto& [key, entry] : entries) entry.used = false;
    const auto drop = [](auto& list) {
        std::erase_if(list, [](const auto& e) { return !e.used; });
        for (auto& e : list) e.used = false;
    };
    drop(wordEntries);
    drop(outlines);
    drop(covers);
    drop(reliefs);
}

namespace {

/// The numbers, in its design, of the runs that a placed piece sews.
std::vector<int> runsSewn(const PlacedPiece& placed, StitchCache& cache) {
    const auto whole = cache.stitch(placed.piece);
    if (!whole) return {};
    const int seen = runNumbers(**whole).empty() ? 0 : runNumbers(**whole).back();
    std::vector<int> own; // of those that are not left out
    const auto& out = placed.piece.leftOutRuns;
    for (int n = 1; static_cast<int>(own.size()) < seen; ++n)
        if (std::find(out.begin(), out.end(), n) == out.end()) own.push_back(n);
    if (!placed.relieved) return own;
    std::vector<int> left = originalRuns(*placed.relieved, **whole);
    for (int& n : left) n = n > 0 ? own[static_cast<std::size_t>(n) - 1] : 0;
    return left;
}

} // namespace

Result<StitchedJob> stitchPlaced(const std::vector<const PlacedPiece*>& pieces,
                                 const Joining& joining, StitchCache& cache, std::stop_token stop) {
    // Counted before anything is joined: copies share their lists.
    std::size_t count = 0;
    for (const PlacedPiece* placed : pieces) {
        if (stop.stop_requested()) return cancelled();
        const auto list = stitchesOf(*placed, cache);
        if (!list) return Error{list.error().fault, "", placed->source, list.error().reason};
        count += (*list)->stitches.size();
        if (count > maxJobStitches) return tooManyStitches(placed->source);
    }
    Joiner joiner(joining);
    for (const PlacedPiece* placed : pieces) {
        if (stop.stop_requested()) return cancelled();
        const auto list = stitchesOf(*placed, cache);
        if (!list) return Error{list.error().fault, "", placed->source, list.error().reason};
        const Status added = joining.trimOverMm
                                 ? joiner.add(*placed, trimmedOver(**list, *joining.trimOverMm))
                                 : joiner.add(*placed, **list);
        if (!added) return added.error();
        if (!placed->piece.leftOutRuns.empty() || placed->relieved)
            joiner.setRuns(runsSewn(*placed, cache));
    }
    return joiner.take();
}

Result<StitchedJob> stitchPieces(const std::vector<const Piece*>& pieces, const Affine& frame) {
    std::vector<PlacedPiece> placed;
    for (const Piece* piece : pieces)
        placed.push_back({*piece, piece->id, 1, false, false, {}, {}});
    std::vector<const PlacedPiece*> all;
    for (const PlacedPiece& p : placed) all.push_back(&p);
    StitchCache cache;
    return stitchPlaced(all, {frame, {}}, cache);
}

Result<StitchedJob> stitchJob(const Job& job, StitchCache* cache, std::stop_token stop) {
    StitchCache own;
    StitchCache& stitches = cache ? *cache : own;
    const std::vector<PlacedPiece> placed = placedPieces(job, stitches, stop);
    if (stop.stop_requested()) return cancelled();
    std::vector<const PlacedPiece*> all;
    for (const PlacedPiece& p : placed) all.push_back(&p);
    auto stitched = stitchPlaced(all, {{}, job.trimOverMm}, stitches, stop);
    if (stitched) stitched->list.name = job.name;
    return stitched;
}

} // namespace rapt
