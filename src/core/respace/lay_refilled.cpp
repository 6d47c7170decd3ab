// Fills whose rows would turn when width and height are scaled differently: the scaled outline is
// filled anew at the old angle.

#include "respace/laying.h"
#include "respace/stagger.h"

#include "geometry/pose.h"
#include "recipe/shape.h"

#include <numbers>

namespace rapt {
namespace {

constexpr double travelStitchMm = 2.5;
// Rows turned by less than three degrees, and narrow strips, look the same as before.
constexpr double leastTurnSine = 0.052;
constexpr std::size_t leastRows = 8;

/// The outline of the rows: along one side and back along the other, half a row beyond the first
/// and the last. Scaled.
Polyline outlineOf(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling) {
    Polyline near, far;
    for (std::size_t i = 0; i < stretch.rows.size(); ++i) {
        const SewnRow& row = stretch.rows[i];
        (i % 2 == 0 ? near : far).push_back(scaling(chain.rowFrom(row)));
        (i % 2 == 0 ? far : near).push_back(scaling(chain.rowTo(row)));
    }
    const std::size_t last = near.size() - 1;
    const auto beyond = [](const Polyline& side, std::size_t end, std::size_t inside) {
        return side[end] + (side[end] - side[inside]) * 0.5;
    };
    Polyline outline{beyond(near, 0, 1)};
    outline.insert(outline.end(), near.begin(), near.end());
    outline.push_back(beyond(near, last, last - 1));
    outline.push_back(beyond(far, last, last - 1));
    outline.insert(outline.end(), far.rbegin(), far.rend());
    outline.push_back(beyond(far, 0, 1));
    return outline;
}

/// The distance of neighbouring rows across their way. The mean of them all, as the stretch knows
/// it, is drawn down by the rows of tips.
double spacingAcross(const SewnChain& chain, const SewnStretch& stretch, Vec2 axis) {
    std::vector<double> steps;
    for (std::size_t i = 0; i + 1 < stretch.rows.size(); ++i) {
        const auto middle = [&](const SewnRow& row) {
            return lerp(chain.rowFrom(row), chain.rowTo(row), 0.5);
        };
        steps.push_back(
            std::abs(cross(axis, middle(stretch.rows[i + 1]) - middle(stretch.rows[i]))));
    }
    const auto half = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2);
    std::nth_element(steps.begin(), half, steps.end());
    return *half;
}

// Sections are of one fill if their rows agree so far.
constexpr double mostApartDeg = 1, mostApartShare = 0.03;

const RowLattice& latticeOf(const SewnChain& chain, const SewnStretch& stretch,
                            const Scaling& scaling, double spacingRatio, Vec2 axis,
                            std::vector<RowLattice>& known) {
    const double across = scaling.across(axis);
    RowLattice own;
    own.angleDeg = std::atan2(axis.y, axis.x) * 180 / std::numbers::pi;
    own.spacingMm =
        spacingAcross(chain, stretch, axis) / spacingRatio * across / scaling.kept(across);
    for (const RowLattice& l : known)
        if (std::abs(std::remainder(l.angleDeg - own.angleDeg, 180)) < mostApartDeg &&
            std::abs(l.spacingMm / own.spacingMm - 1) < mostApartShare)
            return l;
    const SewnRow& first = stretch.rows.front();
    const Turn turn = turnOf(own.angleDeg);
    own.through = cross({turn.cosine, turn.sine},
                        scaling(lerp(chain.rowFrom(first), chain.rowTo(first), 0.5)));
    return known.emplace_back(own);
}

void travelTo(Vec2 to, NeedlePath& out) {
    if (out.points.empty()) return out.add(to);
    const Vec2 from = out.points.back();
    const int parts = static_cast<int>(std::ceil(distance(from, to) / travelStitchMm));
    for (int k = 1; k < parts; ++k) out.add(lerp(from, to, static_cast<double>(k) / parts));
    out.add(to);
}

} // namespace

bool turnsRows(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling) {
    if (scaling.x == scaling.y || stretch.rows.size() < leastRows) return false;
    Vec2 way;
    for (std::size_t i = 0; i < stretch.rows.size(); ++i) {
        const Vec2 d = chain.rowTo(stretch.rows[i]) - chain.rowFrom(stretch.rows[i]);
        way = way + (i % 2 == 0 ? d : d * -1.0);
    }
    const Vec2 scaled = scaling(way);
    return std::abs(cross(way, scaled)) > leastTurnSine * length(way) * length(scaled);
}

void layRefilled(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
                 double spacingRatio, const ThreadHabits& habits, std::vector<RowLattice>& known,
                 NeedlePath& out) {
    Stagger stagger(chain, stretch, habits);
    const Vec2 axis = stagger.axis();
    const double along = scaling.along(axis);
    const RowLattice& lattice = latticeOf(chain, stretch, scaling, spacingRatio, axis, known);
    ShapePart part;
    part.lines = {outlineOf(chain, stretch, scaling)};
    part.spacingMm = lattice.spacingMm;
    part.stitchLengthMm = stagger.stitchLengthMm() * along / scaling.kept(along);
    part.angleDeg = lattice.angleDeg;
    std::vector<Polyline> rows = stitchFill(part, lattice.through);
    const Vec2 start = scaling(chain.points[stretch.first]);
    const Vec2 end = scaling(chain.points[stretch.last]);
    if (rows.empty()) return out.fix(end);
    const Vec2 a = rows.front().front(), b = rows.back().back();
    if (distance(start, b) + distance(end, a) < distance(start, a) + distance(end, b)) {
        std::reverse(rows.begin(), rows.end());
        for (Polyline& line : rows) std::reverse(line.begin(), line.end());
    }
    for (const Polyline& line : rows) {
        travelTo(line.front(), out);
        for (const Vec2& p : line) out.addNear(p);
    }
    travelTo(end, out);
    out.fix(end);
}

} // namespace rapt
