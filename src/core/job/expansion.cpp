#include "job/expansion.h"
#include "job/sewn_lock.h"

#include "job/outline.h"
#include "job/relieving.h"
#include "thread/measures.h"

#include <numbers>

namespace rapt {
namespace {

Affine translation(Vec2 by) { return {1, 0, 0, 1, by.x, by.y}; }

Affine rotation(double degrees, Vec2 about) {
    const Turn t = turnOf(degrees);
    return {t.cosine,
            -t.sine,
            t.sine,
            t.cosine,
            about.x - t.cosine * about.x + t.sine * about.y,
            about.y - t.sine * about.x - t.cosine * about.y};
}

std::string instanceId(const Job& job, const std::string& base, int copy) {
    std::string id = copy == 1 ? base : base + "#" + std::to_string(copy);
    const auto taken = [&] {
        for (const Piece& p : job.pieces)
            if (p.id == id) return true;
        return false;
    };
    while ((copy > 1 || base.ends_with(":outline")) && taken()) id += "#";
    return id;
}

/// Lays out the pieces of one job.
class Expander {
public:
    Expander(const Job& j, StitchCache& c, const std::stop_token& t)
        : job(j), cache(c), stop(t), sewn(sewnIds(j)) {}

    std::vector<PlacedPiece> run() {
        std::vector<const Repeat*> outlined;
        for (const Piece& piece : job.pieces) {
            if (stop.stop_requested()) break;
            const Repeat* repeat = job.repeatOf(piece.id);
            if (repeat && std::find(outlined.begin(), outlined.end(), repeat) == outlined.end()) {
                outlined.push_back(repeat);
                for (const std::string& id : repeat->pieces)
                    if (const Piece* p = job.piece(id)) addOutlines(*p, repeat);
            }
            if (!repeat) addOutlines(piece, nullptr);
            if (!piece.hidden) addCopies(piece, piece.id, false, repeat);
        }
        return std::move(placed);
    }

private:
    void addOutlines(const Piece& piece, const Repeat* repeat) {
        if (!piece.outline || piece.hidden) return;
        const auto list = cache.stitch(piece);
        if (!list) return;
        Piece outline;
        outline.name = piece.name + (piece.outline->cut ? ", cutting line" : ", basting line");
        outline.pose = piece.pose.unscaled();
        outline.content = ShapeContent{cache.outline(*piece.outline, *list)};
        addCopies(outline, piece.id + ":outline", true, repeat, piece.id);
    }

    void addCopies(const Piece& piece, const std::string& baseId, bool outline,
                   const Repeat* repeat, const std::string& source = {}) {
        const int copies = repeat ? std::clamp(repeat->copies(), 1, mostCopies) : 1;
        const Box box = repeat ? boxOf(*repeat) : Box{};
        for (int copy = 1; copy <= copies; ++copy) {
            const CopyException* exception = repeat ? repeat->exception(copy) : nullptr;
            if (exception && exception->leftOut) continue;
            PlacedPiece p;
            p.piece = piece;
            p.source = source.empty() ? piece.id : source;
            p.copy = copy;
            p.outline = outline;
            if (repeat) p.fromFirst = copyMap(*repeat, copy, box);
            if (exception) {
                const Vec2 centre = p.fromFirst(box.empty() ? Vec2{} : box.centre());
                p.fromFirst = p.fromFirst.then(rotation(exception->turnDeg, centre))
                                  .then(translation(exception->shift));
            }
            p.piece.id = instanceId(job, baseId, copy);
            p.sewn = sewn.contains(p.piece.id);
            if (copy > 1 || exception) p.piece.pose = posedBy(piece.pose, p.fromFirst);
            placed.push_back(std::move(p));
        }
    }

    Box boxOf(const Repeat& repeat) {
        auto& box = boxes[&repeat];
        if (!box) box = boxOfOriginals(job, repeat, cache);
        return *box;
    }

    const Job& job;
    StitchCache& cache;
    const std::stop_token& stop;
    const std::set<std::string> sewn;
    std::map<const Repeat*, std::optional<Box>> boxes;
    std::vector<PlacedPiece> placed;
};

} // namespace

std::vector<PlacedPiece> placedPieces(const Job& job, StitchCache& cache, std::stop_token stop) {
    std::vector<PlacedPiece> placed = Expander(job, cache, stop).run();
    relieve(placed, cache, stop);
    return placed;
}

Result<std::shared_ptr<const StitchList>> stitchesOf(const PlacedPiece& placed,
                                                     StitchCache& cache) {
    if (placed.relieved) return std::shared_ptr<const StitchList>(placed.relieved);
    return cache.stitch(placed.piece);
}

Box boxOfOriginals(const Job& job, const Repeat& repeat, StitchCache& cache) {
    Box box;
    for (const std::string& id : repeat.pieces) {
        const Piece* piece = job.piece(id);
        const auto list = piece ? cache.stitch(*piece) : cannotDo("not there");
        if (!list) continue;
        const Affine map = piece->pose.unscaled().affine();
        const auto addAll = [&](const StitchList& stitches, const Affine& m) {
            for (const Stitch& s : stitches.stitches)
                if (s.op == Op::stitch) box.add(m(s.at()));
        };
        addAll(**list, map);
        if (!piece->outline) continue;
        const Shape& outline = *cache.outline(*piece->outline, *list);
        for (const ShapePart& part : outline.parts)
            for (const Polyline& line : part.lines)
                for (const Vec2& p : line) box.add(map(p));
    }
    return box;
}

Affine copyMap(const Repeat& repeat, int copy, const Box& original) {
    const int n = copy - 1;
    switch (repeat.kind) {
    case Repeat::Kind::grid: {
        const double acrossMm = repeat.acrossMm + (repeat.byGap ? original.width() : 0);
        const double downMm = repeat.downMm + (repeat.byGap ? original.height() : 0);
        const int columns = std::max(1, repeat.columns);
        return translation({(n % columns) * acrossMm, (n / columns) * downMm});
    }
    case Repeat::Kind::line: {
        const Turn t = turnOf(repeat.directionDeg);
        // A gap is measured along the direction: the box's extent in that direction is added.
        const double size = std::abs(t.cosine) < 1e-9 ? original.height()
                            : std::abs(t.sine) < 1e-9
                                ? original.width()
                                : std::min(original.width() / std::abs(t.cosine),
                                           original.height() / std::abs(t.sine));
        const double step = repeat.acrossMm + (repeat.byGap && !original.empty() ? size : 0);
        return translation(Vec2{t.cosine, t.sine} * (n * step));
    }
    case Repeat::Kind::circle: {
        const bool full = std::abs(repeat.sweepDeg) >= 360;
        const double step =
            repeat.sweepDeg / std::max(1, full ? repeat.count : repeat.count - 1) * n;
        const Affine turn = rotation(step, repeat.centre);
        if (repeat.turned || original.empty()) return turn;
        return translation(turn(original.centre()) - original.centre());
    }
    case Repeat::Kind::mirror: {
        const bool across = repeat.leftRight && n % 2 == 1;
        const bool down = repeat.nearFar && (repeat.leftRight ? n / 2 == 1 : n == 1);
        return {across ? -1.0 : 1.0, 0, 0, down ? -1.0 : 1.0, 0, 0};
    }
    }
    return {};
}

Pose posedBy(const Pose& pose, const Affine& isometry) {
    Pose result = pose;
    const Vec2 at = isometry({pose.x, pose.y});
    result.x = at.x;
    result.y = at.y;
    const double turn = std::atan2(isometry.c, isometry.a) * 180 / std::numbers::pi;
    if (isometry.determinant() > 0) {
        result.rotationDeg = normalizedDegrees(pose.rotationDeg + turn);
        return result;
    }
    // F·R(θ) = R(−θ)·F for the mirror F of x; any reflection is such a mirror and then a turn.
    result.mirror = !pose.mirror;
    result.rotationDeg = normalizedDegrees(turn - 180 - pose.rotationDeg);
    return result;
}

} // namespace rapt
