#include "place/clearance.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr double stepMm = 0.5;
// More points than this would make dragging slow.
constexpr double mostPoints = 60'000;
constexpr std::size_t pointsAPatch = 16;

template<class Visit>
void eachThread(const StitchedJob& job, const PieceSpan& span, Visit visit) {
    const Stitch* needle = nullptr;
    for (std::size_t i = span.first; i < span.last; ++i) {
        const Stitch& s = job.list.stitches[i];
        if (s.op == Op::stitch) visit(needle ? needle->at() : s.at(), s.at());
        if (s.op == Op::stitch || s.op == Op::jump) needle = &s;
    }
}

double halfWidthOf(const StitchedJob& job, const PieceSpan& span) {
    const auto widths = widthTable(job.list);
    double width = 0;
    for (std::size_t i = span.first; i < span.last; ++i)
        width = std::max<double>(width, widths[job.list.stitches[i].thread]);
    return width / 2;
}

} // namespace

Clearance::Clearance(const StitchedJob& job, const std::vector<std::string>& moving)
    : stitched(job) {
    const auto isMoving = [&](const PieceSpan& s) {
        return std::find(moving.begin(), moving.end(), s.source) != moving.end();
    };
    double threadMm = 0;
    std::size_t stitches = 0;
    for (const PieceSpan& span : job.spans)
        if (isMoving(span))
            eachThread(job, span, [&](Vec2 a, Vec2 b) {
                threadMm += distance(a, b);
                ++stitches;
            });
    // Hundreds of copies may be at hand at once: then not every stitch is asked.
    const double step = std::max(stepMm, threadMm / mostPoints);
    const std::size_t stride = 1 + stitches / static_cast<std::size_t>(mostPoints);
    std::size_t seen = 0;
    for (const PieceSpan& span : job.spans) {
        if (span.extents.empty()) continue;
        if (!isMoving(span)) {
            neighbours.push_back({&span, halfWidthOf(job, span), nullptr});
            continue;
        }
        box.add(span.extents);
        halfWidth = std::max(halfWidth, halfWidthOf(job, span));
        eachThread(job, span, [&](Vec2 a, Vec2 b) {
            if (seen++ % stride != 0) return;
            // The needle points themselves are always among them: what juts out is one.
            const int n = std::max(1, static_cast<int>(distance(a, b) / step));
            for (int k = 1; k <= n; ++k) points.push_back(lerp(a, b, static_cast<double>(k) / n));
        });
    }
    for (std::size_t k = 0; k < points.size(); k += pointsAPatch) {
        Patch patch{k, std::min(points.size(), k + pointsAPatch), {}, 0};
        Box around;
        for (std::size_t i = patch.first; i < patch.last; ++i) around.add(points[i]);
        patch.centre = around.centre();
        patch.radius = std::hypot(around.width(), around.height()) / 2;
        patches.push_back(patch);
    }
}

std::optional<Gap> Clearance::nearest(const Affine& change, double atMostMm) const {
    std::optional<Gap> best;
    double reach = atMostMm;
    // No more than so much longer becomes any distance (Frobenius norm).
    const double stretch =
        std::hypot(std::hypot(change.a, change.b), std::hypot(change.c, change.d));
    Box moved;
    for (const Vec2 corner : box.corners())
        if (!box.empty()) moved.add(change(corner));
    // The nearest boxes first: most of the others then need not be looked at.
    std::vector<std::pair<double, Neighbour*>> byBox;
    for (Neighbour& n : neighbours) byBox.emplace_back(boxGap(moved, n.span->extents), &n);
    std::sort(byBox.begin(), byBox.end(),
              [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<std::pair<double, const Patch*>> order;
    for (const auto& [boxesApart, neighbour] : byBox) {
        Neighbour& n = *neighbour;
        const double widths = halfWidth + n.halfWidth;
        if (boxesApart - widths > reach) break;
        const SegmentGrid& grid = gridOf(n);
        // The patches that may be nearest first; the others then need not be looked into.
        order.clear();
        for (const Patch& patch : patches) {
            const auto bounds = grid.distanceBounds(change(patch.centre));
            const double radius = patch.radius * stretch;
            reach = std::min(reach, bounds.most + radius - widths);
            order.emplace_back(bounds.least - radius - widths, &patch);
        }
        std::sort(order.begin(), order.end(),
                  [](const auto& a, const auto& b) { return a.first < b.first; });
        for (const auto& [least, patch] : order) {
            if (least > reach) break;
            for (std::size_t k = patch->first; k < patch->last; ++k) {
                const Vec2 at = change(points[k]);
                if (grid.distanceBounds(at).least - widths > reach) continue;
                const auto near = grid.nearest(at, reach + widths);
                if (!near) continue;
                const double gap = near->distance - widths;
                if (best && gap >= best->mm) continue;
                best = Gap{gap, at, near->at, n.span->source};
                reach = std::min(reach, gap);
                if (gap <= -widths + 0.01) return best; // they cross: it cannot get less
            }
        }
    }
    return best;
}

const SegmentGrid& Clearance::gridOf(Neighbour& neighbour) const {
    if (!neighbour.grid) {
        std::vector<Segment> segments;
        eachThread(stitched, *neighbour.span, [&](Vec2 a, Vec2 b) { segments.push_back({a, b}); });
        neighbour.grid = std::make_unique<const SegmentGrid>(std::move(segments));
    }
    return *neighbour.grid;
}

double Clearance::insideField(const Affine& change, const Hoop& hoop, const Pose& field) const {
    double least = std::numeric_limits<double>::infinity();
    const Affine inField = change.then(field.affine().inverse());
    for (const Vec2& p : points) least = std::min(least, edgeDistance(hoop, inField(p)));
    return least;
}

double edgeDistance(const Hoop& hoop, Vec2 p) {
    const double w = hoop.widthMm / 2, h = hoop.heightMm / 2;
    double edge = std::min(w - std::abs(p.x), h - std::abs(p.y));
    if (hoop.shape == Hoop::Shape::oval)
        edge = std::min(edge, (1 - std::hypot(p.x / w, p.y / h)) * std::min(w, h));
    const double dx = std::abs(p.x) - w + hoop.cornerMm, dy = std::abs(p.y) - h + hoop.cornerMm;
    if (hoop.shape == Hoop::Shape::rounded && dx > 0 && dy > 0)
        edge = hoop.cornerMm - std::hypot(dx, dy);
    return edge;
}

} // namespace rapt
