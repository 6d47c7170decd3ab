#include "registration/fit.h"

#include "geometry/pose.h"

#include <Eigen/Dense>
#include <algorithm>
#include <fmt/format.h>
#include <numbers>
#include <numeric>

namespace rapt {
namespace {

constexpr double coincidentMm = 1e-6;
// Below this the residuals are rounding, and a suspect would be chance.
constexpr double roundingRmsMm = 1e-6;
constexpr double degreesPerRadian = 180 / std::numbers::pi;

Vec2 centroidOf(const std::vector<PointPair>& points, Vec2 PointPair::*side) {
    Vec2 sum;
    for (const PointPair& p : points) sum = sum + p.*side;
    return sum * (1.0 / static_cast<double>(points.size()));
}

/// Centred sums of the cross-covariance that every fit in the plane needs.
struct Sums {
    Vec2 planned, seen;                       ///< centroids
    double dots = 0;                          ///< Σ p·q
    double crosses = 0;                       ///< Σ p×q
    double mirrorDots = 0, mirrorCrosses = 0; ///< the same with p mirrored (x → −x)
    double plannedSquares = 0, seenSquares = 0;
};

Sums sumsOf(const std::vector<PointPair>& points) {
    Sums s;
    s.planned = centroidOf(points, &PointPair::planned);
    s.seen = centroidOf(points, &PointPair::seen);
    for (const PointPair& pair : points) {
        const Vec2 p = pair.planned - s.planned;
        const Vec2 q = pair.seen - s.seen;
        const Vec2 m{-p.x, p.y};
        s.dots += dot(p, q);
        s.crosses += cross(p, q);
        s.mirrorDots += dot(m, q);
        s.mirrorCrosses += cross(m, q);
        s.plannedSquares += dot(p, p);
        s.seenSquares += dot(q, q);
    }
    return s;
}

RigidFit rigid(const std::vector<PointPair>& points, const Sums& s) {
    RigidFit fit;
    const double angle = std::atan2(s.crosses, s.dots);
    fit.rotationDeg = angle * degreesPerRadian;
    const double c = std::cos(angle);
    const double n = std::sin(angle);
    fit.translation =
        s.seen - Vec2{c * s.planned.x - n * s.planned.y, n * s.planned.x + c * s.planned.y};
    double squares = 0;
    for (const PointPair& pair : points) {
        const Vec2 p = pair.planned - s.planned;
        // Relative to the centroids, so that far origins cost no digits.
        const Vec2 r = (pair.seen - s.seen) - Vec2{c * p.x - n * p.y, n * p.x + c * p.y};
        fit.residuals.push_back(r);
        squares += dot(r, r);
    }
    fit.rmsMm = std::sqrt(squares / static_cast<double>(points.size()));
    return fit;
}

/// RMS left over by the best motion with reflection: from the sums alone.
double mirroredRms(const Sums& s, std::size_t n) {
    const double best = std::hypot(s.mirrorDots, s.mirrorCrosses);
    const double squares = s.plannedSquares + s.seenSquares - 2 * best;
    return std::sqrt(std::max(0.0, squares) / static_cast<double>(n));
}

/// Two points that lie at the same place on one side, found in order of x.
std::optional<std::pair<std::size_t, std::size_t>> coinciding(const std::vector<PointPair>& points,
                                                              Vec2 PointPair::*side) {
    std::vector<std::size_t> order(points.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return (points[a].*side).x < (points[b].*side).x;
    });
    for (std::size_t i = 0; i < order.size(); ++i)
        for (std::size_t j = i + 1; j < order.size(); ++j) {
            const Vec2 a = points[order[i]].*side;
            const Vec2 b = points[order[j]].*side;
            if (b.x - a.x >= coincidentMm) break;
            if (distance(a, b) < coincidentMm) return std::minmax(order[i], order[j]);
        }
    return std::nullopt;
}

std::optional<std::string> coincidence(const std::vector<PointPair>& points) {
    for (const bool planned : {true, false})
        if (const auto pair = coinciding(points, planned ? &PointPair::planned : &PointPair::seen))
            return fmt::format("points {} and {} coincide as {}; give points that lie apart",
                               points[pair->first].name, points[pair->second].name,
                               planned ? "planned" : "seen");
    return std::nullopt;
}

/// Departure from 90° of the images of the two axes under the best affine map.
std::optional<double> squareError(const std::vector<PointPair>& points, const Sums& s) {
    if (points.size() < 3) return std::nullopt;
    Eigen::Matrix2d planned = Eigen::Matrix2d::Zero();
    Eigen::Matrix2d mixed = Eigen::Matrix2d::Zero();
    for (const PointPair& pair : points) {
        const Eigen::Vector2d p(pair.planned.x - s.planned.x, pair.planned.y - s.planned.y);
        const Eigen::Vector2d q(pair.seen.x - s.seen.x, pair.seen.y - s.seen.y);
        planned += p * p.transpose();
        mixed += q * p.transpose();
    }
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(planned);
    if (axes.eigenvalues()(0) < 1e-9 * axes.eigenvalues()(1)) return std::nullopt;
    const Eigen::Matrix2d map = mixed * planned.inverse();
    const Eigen::Vector2d x = map.col(0);
    const Eigen::Vector2d y = map.col(1);
    const double angle = std::atan2(std::abs(x(0) * y(1) - x(1) * y(0)), x.dot(y));
    return std::abs(angle * degreesPerRadian - 90.0);
}

/// Sum of squared residuals without one point, by taking its share off the centred sums.
double squaresWithout(const Sums& s, const PointPair& pair, double n) {
    const double share = n / (n - 1);
    const Vec2 p = pair.planned - s.planned;
    const Vec2 q = pair.seen - s.seen;
    const double dots = s.dots - share * dot(p, q);
    const double crosses = s.crosses - share * cross(p, q);
    return s.plannedSquares + s.seenSquares - share * (dot(p, p) + dot(q, q)) -
           2 * std::hypot(dots, crosses);
}

void findSuspect(const std::vector<PointPair>& points, const Sums& s, FitReport& report) {
    if (points.size() < 4 || report.fit.rmsMm < roundingRmsMm) return;
    const double n = static_cast<double>(points.size());
    const auto least =
        std::min_element(points.begin(), points.end(), [&](const PointPair& a, const PointPair& b) {
            return squaresWithout(s, a, n) < squaresWithout(s, b, n);
        });
    const auto k = least - points.begin();
    std::vector<PointPair> rest = points;
    rest.erase(rest.begin() + k);
    const RigidFit fit = rigid(rest, sumsOf(rest));
    if (fit.rmsMm >= report.fit.rmsMm / 3) return;
    report.suspect = static_cast<std::size_t>(k);
    report.withoutSuspect = fit;
}

void judge(const std::vector<PointPair>& points, double sigma, FitReport& report) {
    // A fit that removes three parameters leaves this much noise (expected RMS of residuals).
    const double n = static_cast<double>(points.size());
    const double expected = sigma * std::sqrt(std::max(0.5, (2 * n - 3) / n));
    const double stretch = std::abs(report.scale - 1) * 100;
    if (report.suspect) {
        report.verdict = Verdict::doubt;
        report.text = fmt::format(
            "Point {} does not fit the others: {:.2f} mm RMS with it, {:.2f} mm without. Look at "
            "it again before sewing.",
            points[*report.suspect].name, report.fit.rmsMm, report.withoutSuspect->rmsMm);
    } else if (report.fit.rmsMm > 4 * expected) {
        report.verdict = Verdict::redo;
        report.text = fmt::format("The points do not fit the plan: {:.2f} mm RMS where placing "
                                  "alone explains {:.2f} mm. Hoop or measure again.",
                                  report.fit.rmsMm, expected);
    } else if (report.fit.rmsMm > 2 * expected) {
        report.verdict = Verdict::doubt;
        report.text = fmt::format(
            "The points fit only roughly: {:.2f} mm RMS where placing alone explains {:.2f} mm; "
            "the cloth measures {:.2f} % {}. Look again.",
            report.fit.rmsMm, expected, stretch, report.scale >= 1 ? "longer" : "shorter");
    } else {
        report.verdict = Verdict::good;
        report.text = fmt::format(
            "The points fit: {:.2f} mm RMS, no more than placing by hand explains. Turn the design "
            "{:+.2f}° and move it {:+.2f}, {:+.2f} mm.",
            report.fit.rmsMm, report.fit.rotationDeg, report.fit.translation.x,
            report.fit.translation.y);
    }
}

} // namespace

Vec2 RigidFit::operator()(Vec2 p) const {
    const Turn t = turnOf(rotationDeg);
    return Vec2{t.cosine * p.x - t.sine * p.y, t.sine * p.x + t.cosine * p.y} + translation;
}

const char* nameOf(Verdict verdict) {
    switch (verdict) {
    case Verdict::good:
        return "good";
    case Verdict::doubt:
        return "doubt";
    case Verdict::redo:
        return "redo";
    }
    return "";
}

Result<FitReport> fitPoints(const std::vector<PointPair>& points, double sigmaMm) {
    if (points.size() < 2)
        return cannotDo(fmt::format("a fit needs at least two points, {} given", points.size()));
    if (const auto reason = coincidence(points)) return cannotDo(*reason);
    const Sums s = sumsOf(points);
    FitReport report;
    report.fit = rigid(points, s);
    if (points.size() > 2 && report.fit.rmsMm > sigmaMm &&
        mirroredRms(s, points.size()) < report.fit.rmsMm / 3)
        return cannotDo("only a mirror image explains these points; check that the cloth is not "
                        "upside down and that names are not exchanged");
    report.scale = std::hypot(s.dots, s.crosses) / s.plannedSquares;
    report.squareErrorDeg = squareError(points, s);
    findSuspect(points, s, report);
    judge(points, sigmaMm, report);
    return report;
}

double predictedErrorMm(const std::vector<Vec2>& planned, Vec2 at, double sigmaMm) {
    Vec2 centre;
    for (const Vec2& p : planned) centre = centre + p;
    centre = centre * (1.0 / static_cast<double>(planned.size()));
    double spread = 0;
    for (const Vec2& p : planned) spread += dot(p - centre, p - centre);
    const Vec2 d = at - centre;
    return sigmaMm * std::sqrt(2.0 / static_cast<double>(planned.size()) + dot(d, d) / spread);
}

} // namespace rapt
