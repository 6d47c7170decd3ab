#include "place/sizing.h"

#include "divide/frames.h"
#include "job/stitching.h"
#include "place/clearance.h"
#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double leastFactor = 0.02, mostFactor = 50;

Box sizedBox(const Piece& piece) {
    const auto list = stitchPiece(piece);
    return list ? extentsOf(**list) : Box{};
}

/// A Pose whose turn and place act on the scaled list.
Vec2 middleOf(const Pose& pose, const Box& box) { return pose.unscaled().affine()(box.centre()); }

bool has(const std::vector<std::string>& ids, const std::string& id) {
    return std::find(ids.begin(), ids.end(), id) != ids.end();
}

void scaleOutline(Outline& o, double factor) {
    for (double* mm : {&o.widthMm, &o.heightMm, &o.cornerMm, &o.offsetMm}) *mm *= factor;
}

void scaleSteps(Repeat& r, double factor, Vec2 about) {
    r.acrossMm *= factor;
    r.downMm *= factor;
    if (r.kind == Repeat::Kind::circle) r.centre = about + (r.centre - about) * factor;
    for (CopyException& e : r.exceptions) e.shift = e.shift * factor;
}

/// Penetrations of the pieces with their copies and outlines, cloth frame.
Result<std::vector<Vec2>> pointsOf(const Job& job, const std::vector<std::string>& ids) {
    const auto stitched = stitchJob(job);
    if (!stitched) return stitched.error();
    std::vector<Vec2> points;
    for (const PieceSpan& span : stitched->spans)
        if (has(ids, span.source))
            for (std::size_t i = span.first; i < span.last; ++i)
                if (stitched->list.stitches[i].op == Op::stitch)
                    points.push_back(stitched->list.stitches[i].at());
    if (points.empty()) return cannotDo("there is nothing to measure");
    return points;
}

/// The largest factor at which all points (field frame), scaled about `centre` and moved to the
/// field's middle, keep the margin.
double factorInField(const std::vector<Vec2>& points, Vec2 centre, const Hoop& hoop,
                     double marginMm) {
    const double w = hoop.widthMm / 2 - marginMm, h = hoop.heightMm / 2 - marginMm;
    double need = 1e-9;
    for (const Vec2& p : points) {
        const Vec2 d = p - centre;
        need = std::max({need, std::abs(d.x) / w, std::abs(d.y) / h});
        if (hoop.shape == Hoop::Shape::oval) need = std::max(need, std::hypot(d.x / w, d.y / h));
    }
    double factor = 1 / need;
    if (hoop.shape != Hoop::Shape::rounded) return factor;
    // Round corners: the field is convex, so smaller always fits better.
    Polyline hull = convexHull(points);
    for (Vec2& p : hull) p = p - centre;
    double low = 0, high = factor;
    for (int i = 0; i < 50; ++i) {
        Polyline tried = hull;
        for (Vec2& p : tried) p = p * factor;
        const bool good = holds(hoop, tried, marginMm);
        if (i == 0 && good) return factor;
        (good ? low : high) = factor;
        factor = (low + high) / 2;
    }
    return low;
}

Box boxOf(const std::vector<Vec2>& points) {
    Box box;
    for (const Vec2& p : points) box.add(p);
    return box;
}

} // namespace

Result<Pose> resizedTo(const Piece& piece, std::optional<double> widthMm,
                       std::optional<double> heightMm, bool locked) {
    const Box now = sizedBox(piece);
    if (now.empty() || (widthMm && now.width() <= 0) || (heightMm && now.height() <= 0))
        return cannotDo("it has no extent that could be resized");
    const Vec2 middle = middleOf(piece.pose, now);
    Piece trial = piece;
    // Rows move as the size changes: a few rounds bring the stitches to the size asked for.
    for (int round = 0; round < 6; ++round) {
        const Box box = sizedBox(trial);
        if (box.empty()) break;
        double kx = widthMm && box.width() > 0 ? *widthMm / box.width() : 1;
        double ky = heightMm && box.height() > 0 ? *heightMm / box.height() : 1;
        if (locked && !(widthMm && heightMm)) kx = ky = widthMm ? kx : ky;
        if (std::abs(kx - 1) < 1e-6 && std::abs(ky - 1) < 1e-6) break;
        trial.pose.scaleX *= kx;
        trial.pose.scaleY *= ky;
    }
    const Box box = sizedBox(trial);
    if (box.empty()) return cannotDo("at this size it cannot be stitched");
    const Vec2 moved = middleOf(trial.pose, box);
    trial.pose.x += middle.x - moved.x;
    trial.pose.y += middle.y - moved.y;
    return trial.pose;
}

Edit scalePieces(std::vector<std::string> ids, double factor, Vec2 about, const std::string& name) {
    return {name, [ids = std::move(ids), factor, about](Job job) {
                for (const std::string& id : ids) {
                    Piece* p = job.piece(id);
                    if (!p || p->locked) continue;
                    p->pose.scaleX *= factor;
                    p->pose.scaleY *= factor;
                    p->pose.x = about.x + (p->pose.x - about.x) * factor;
                    p->pose.y = about.y + (p->pose.y - about.y) * factor;
                    if (p->outline) scaleOutline(*p->outline, factor);
                }
                for (Repeat& r : job.repeats)
                    if (std::all_of(r.pieces.begin(), r.pieces.end(),
                                    [&](const std::string& id) { return has(ids, id); }))
                        scaleSteps(r, factor, about);
                return job;
            }};
}

Result<SizedAsOne> sizedAsOne(const Job& job, const std::vector<std::string>& ids,
                              const ResizeRequest& request, std::stop_token stop) {
    for (const std::string& id : ids)
        if (const Piece* p = job.piece(id); p && p->locked)
            return cannotDo(fmt::format("{} is locked; unlock it first", p->name));
    Job trial = job;
    std::erase_if(trial.pieces, [&](const Piece& p) { return !has(ids, p.id); });
    std::erase_if(trial.repeats, [&](const Repeat& r) {
        return std::none_of(r.pieces.begin(), r.pieces.end(),
                            [&](const std::string& id) { return has(ids, id); });
    });
    StitchCache cache;
    const auto extents = [&](const Job& j) -> Result<Box> {
        const auto stitched = stitchJob(j, &cache, stop);
        if (!stitched) return stitched.error();
        Box box;
        for (const PieceSpan& span : stitched->spans) box.add(span.extents);
        if (box.empty()) return cannotDo("there is nothing to measure");
        return box;
    };
    const auto before = extents(trial);
    if (!before) return before.error();
    const auto factors = scaleFactors(request, *before);
    if (!factors) return factors.error();
    SizedAsOne sized{factors->x, *before, *before, {}};
    const Vec2 about = before->centre();
    // Stitched afresh, extents differ from the scaled ones by a hair: a few rounds take that away.
    constexpr int mostRounds = 6;
    for (int round = 0; round < mostRounds; ++round) {
        const auto now = extents(scalePieces(ids, sized.factor, about, "").change(trial));
        if (!now) return now.error();
        sized.after = *now;
        const double left = request.widthMm    ? *request.widthMm / now->width()
                            : request.heightMm ? *request.heightMm / now->height()
                                               : 1;
        if (std::abs(left - 1) < 1e-6 || round + 1 == mostRounds) break;
        sized.factor *= left;
    }
    const Vec2 move = about - sized.after.centre();
    sized.after = Box::centredAt(about, sized.after.width(), sized.after.height());
    sized.edit =
        together("Size as one", {scalePieces(ids, sized.factor, about, ""), movePieces(ids, move)});
    return sized;
}

Result<Fit> fitToField(const Job& job, std::vector<std::string> ids, const Hoop& hoop,
                       const Pose& field, double marginMm) {
    if (2 * marginMm >= std::min(hoop.widthMm, hoop.heightMm))
        return cannotDo(fmt::format("the margin leaves nothing of the field {}", hoop.id));
    Fit fit;
    Job trial = job;
    std::vector<Edit> edits;
    const Affine onCloth = field.affine(), inField = onCloth.inverse();
    // Stitched afresh at the new size, extents differ by a hair: a second round takes that away.
    for (int round = 0; round < 4; ++round) {
        auto points = pointsOf(trial, ids);
        if (!points) return points.error();
        for (Vec2& p : *points) p = inField(p);
        const Vec2 centre = boxOf(*points).centre();
        double factor = factorInField(*points, centre, hoop, marginMm);
        if (round > 0 && factor >= 1 && factor < 1.0005) factor = 1;
        factor = std::clamp(factor, leastFactor, mostFactor);
        const Vec2 about = onCloth(centre), move = Vec2{field.x, field.y} - about;
        if (factor == 1 && length(move) < 1e-4) break;
        std::vector<Edit> step{scalePieces(ids, factor, about, ""), movePieces(ids, move)};
        for (Edit& e : step) {
            trial = e.change(trial);
            edits.push_back(std::move(e));
        }
        fit.factor *= factor;
        fit.move = fit.move + move;
    }
    fit.edit = together("Fit to the field", std::move(edits));
    return fit;
}

Result<Fit> fitBetweenNeighbours(const Job& job, std::vector<std::string> ids, const Hoop& hoop,
                                 const Pose& field, double marginMm) {
    const auto stitched = stitchJob(job);
    if (!stitched) return stitched.error();
    const Clearance clearance(*stitched, ids);
    if (clearance.movingBox().empty()) return cannotDo("there is nothing to measure");
    const Vec2 centre = clearance.movingBox().centre();
    const auto at = [&](double k) {
        return Affine{k, 0, 0, k, centre.x * (1 - k), centre.y * (1 - k)};
    };
    const auto good = [&](double k) {
        const Affine change = at(k);
        if (clearance.insideField(change, hoop, field) < marginMm) return false;
        const auto gap = clearance.nearest(change, marginMm + 1);
        return !gap || gap->mm >= marginMm;
    };
    // A border fits from some size on upwards, what lies inside it up to some size: look from the
    // largest downwards.
    double high = mostFactor;
    while (high > leastFactor && clearance.insideField(at(high), hoop, field) < marginMm)
        high *= 0.99;
    double found = high;
    while (found > leastFactor && !good(found)) found *= 0.97;
    if (found <= leastFactor)
        return cannotDo(fmt::format("at no size it stays {:.1f} mm away from its neighbours and "
                                    "inside {}; move it first",
                                    marginMm, hoop.id));
    double low = found, top = std::min(high / 0.99, found / 0.97);
    for (int round = 0; round < 14; ++round) {
        const double middle = (low + top) / 2;
        (good(middle) ? low : top) = middle;
    }
    Fit fit;
    fit.factor = low;
    fit.edit = scalePieces(ids, low, centre, "Fit between the neighbours");
    return fit;
}

GridSize gridThatFits(const Repeat& repeat, const Box& original, const Hoop& hoop, double turnDeg,
                      double marginMm) {
    const double across = repeat.acrossMm + (repeat.byGap ? original.width() : 0);
    const double down = repeat.downMm + (repeat.byGap ? original.height() : 0);
    const auto fits = [&](int columns, int rows) {
        const Box box = Box::centredAt({}, original.width() + (columns - 1) * std::abs(across),
                                       original.height() + (rows - 1) * std::abs(down));
        Polyline corners;
        for (const Vec2 p : box.corners()) corners.push_back(turned(p, -turnDeg));
        return holds(hoop, corners, marginMm);
    };
    GridSize best;
    constexpr int most = 100;
    int rows = most;
    for (int columns = 1; columns <= most && rows > 0; ++columns) {
        while (rows > 0 && !fits(columns, rows)) --rows;
        if (columns * rows > best.columns * best.rows) best = {columns, rows};
        if (across == 0) break;
    }
    return best;
}

} // namespace rapt
