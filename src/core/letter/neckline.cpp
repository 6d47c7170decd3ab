#include "letter/neckline.h"

#include <Eigen/Dense>
#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

constexpr double degrees = std::numbers::pi / 180;
constexpr double seamMm = 40; ///< how much of a shoulder seam is drawn

/// A place on a circle round the neck's middle, by its angle from the centre front.
Vec2 onNeck(double radius, double angleDeg) {
    return {radius * std::sin(angleDeg * degrees), radius * std::cos(angleDeg * degrees)};
}

std::vector<Polyline> garmentLines(const NeckWords& neck, double turnDeg) {
    std::vector<Polyline> lines(1);
    const int steps = 72;
    for (int i = 0; i <= steps; ++i)
        lines[0].push_back(
            onNeck(neck.radiusMm, turnDeg - neck.halfAngleDeg + 2 * neck.halfAngleDeg * i / steps));
    lines.push_back({onNeck(neck.radiusMm, turnDeg), onNeck(neck.radiusMm + seamMm, turnDeg)});
    for (const double side : {-1.0, 1.0}) {
        const double angle = turnDeg + side * neck.halfAngleDeg;
        lines.push_back({onNeck(neck.radiusMm, angle), onNeck(neck.radiusMm + seamMm, angle)});
    }
    return lines;
}

} // namespace

Result<double> neckRadius(double w, double d) {
    if (!(w > 0 && d > 0)) return cannotDo("a neck needs a width and a depth above 0");
    return (w * w / 4 + d * d) / (2 * d);
}

double neckHalfAngle(double w, double d) {
    const auto radius = neckRadius(w, d);
    return radius ? std::atan2(w / 2, *radius - d) / degrees : 0;
}

Result<Circle> circleThrough(Vec2 a, Vec2 b, Vec2 c) {
    const Vec2 u = b - a, v = c - a;
    const double det = 2 * cross(u, v);
    if (std::abs(det) < 1e-6 * (dot(u, u) + dot(v, v)) || det == 0)
        return cannotDo("the three points lie on one line; take the middle one at the deepest "
                        "place of the neck");
    const Vec2 centre{(v.y * dot(u, u) - u.y * dot(v, v)) / det,
                      (u.x * dot(v, v) - v.x * dot(u, u)) / det};
    return Circle{a + centre, length(centre)};
}

Result<TracedCircle> circleAlong(const Polyline& traced) {
    if (traced.size() < 3) return cannotDo("a traced curve needs at least three points");
    // Points evenly along the curve, so that slow hands count no more than quick ones.
    const double total = lengthOf(traced);
    Polyline even;
    const int count = 60;
    double gone = 0;
    std::size_t k = 1;
    for (int i = 0; i <= count; ++i) {
        const double want = total * i / count;
        while (k + 1 < traced.size() && gone + distance(traced[k - 1], traced[k]) < want) {
            gone += distance(traced[k - 1], traced[k]);
            ++k;
        }
        const double size = distance(traced[k - 1], traced[k]);
        even.push_back(
            lerp(traced[k - 1], traced[k], size > 0 ? std::min(1.0, (want - gone) / size) : 0));
    }
    double bulge = 0;
    for (const Vec2& p : even)
        bulge = std::max(bulge, distanceToSegment(p, even.front(), even.back()));
    if (bulge < 0.004 * total) return cannotDo("the traced curve is straight; it gives no radius");
    const Vec2 origin = boundsOf(even).centre();
    Eigen::MatrixXd m(even.size(), 3);
    Eigen::VectorXd rhs(even.size());
    for (Eigen::Index i = 0; i < m.rows(); ++i) {
        const Vec2 p = even[static_cast<std::size_t>(i)] - origin;
        m.row(i) << 2 * p.x, 2 * p.y, 1;
        rhs(i) = dot(p, p);
    }
    const Eigen::Vector3d s = m.colPivHouseholderQr().solve(rhs);
    const double squared = s(2) + s(0) * s(0) + s(1) * s(1);
    const double radius = std::sqrt(std::max(0.0, squared));
    TracedCircle result{{origin + Vec2{s(0), s(1)}, radius}, 0};
    double sum = 0;
    for (const Vec2& p : even) {
        const double d = distance(p, result.circle.centre) - radius;
        sum += d * d;
    }
    result.rmsMm = std::sqrt(sum / static_cast<double>(even.size()));
    return result;
}

Result<NeckPlan> planNeckWords(const NeckWords& neck, double wordsMm, double capHeightMm) {
    if (!(neck.radiusMm > 5 && neck.radiusMm < 5000))
        return cannotDo(fmt::format("a neck radius of {:.6g} mm makes no sense; 5 to 5000 mm do",
                                    neck.radiusMm));
    if (!(neck.fromEdgeMm >= 0 && neck.fromEdgeMm < 1000))
        return cannotDo("the distance from the edge can be 0 to 1000 mm");
    NeckPlan plan;
    // Below the neck the words stand with their tops towards it.
    plan.baselineRadiusMm = neck.radiusMm + neck.fromEdgeMm + capHeightMm;
    const double edgePerDegree = neck.radiusMm * degrees;
    const double side = neck.toLeft ? -1 : 1;
    switch (neck.place) {
    case NeckPlace::angle:
        plan.angleDeg = side * neck.at;
        break;
    case NeckPlace::fromCentre:
        plan.angleDeg = side * neck.at / edgePerDegree;
        break;
    case NeckPlace::fromShoulder:
        plan.angleDeg = side * (neck.halfAngleDeg - neck.at / edgePerDegree);
        break;
    }
    if (std::abs(plan.angleDeg) > 180)
        return cannotDo(fmt::format(
            "{:.0f} degrees from the centre front is beyond the back of the neck", plan.angleDeg));
    plan.turnDeg = neck.levelInHoop ? plan.angleDeg : 0;
    plan.usedMm = wordsMm;
    const double perDegree = plan.baselineRadiusMm * degrees;
    plan.freeRightMm = (neck.halfAngleDeg - plan.angleDeg) * perDegree - wordsMm / 2;
    plan.freeLeftMm = (neck.halfAngleDeg + plan.angleDeg) * perDegree - wordsMm / 2;
    plan.line.kind = LineKind::arc;
    plan.line.side = ArcSide::inside;
    plan.line.radiusMm = plan.baselineRadiusMm;
    plan.line.even = true;
    // Clockwise as seen moves a place at the bottom to the left.
    plan.line.middleDeg = neck.levelInHoop ? 0 : -plan.angleDeg;
    plan.garment = garmentLines(neck, -plan.turnDeg);
    return plan;
}

} // namespace rapt
