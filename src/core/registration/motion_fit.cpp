#include "registration/motion_fit.h"

#include "geometry/main_axis.h"
#include "geometry/ways.h"
#include "registration/rigid_search.h"

#include <algorithm>
#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

constexpr double degreesPerRadian = 180 / std::numbers::pi;
// Below this the residuals are rounding, and a suspect would be chance.
constexpr double roundingChi = 1e-6;
constexpr double seriousSigmas = 3;
// With many observations only those that fit worst are tried one by one.
constexpr std::size_t mostSuspects = 24;

using Parameters = Eigen::VectorXd; // x, y, turn (rad), stretch x, stretch y, skew

std::ptrdiff_t countOf(MotionModel model) {
    return model == MotionModel::rigid ? 3 : model == MotionModel::stretch ? 5 : 6;
}

Affine mapOf(const Parameters& v) {
    const double c = std::cos(v(2)), s = std::sin(v(2));
    const double sx = v.size() > 3 ? v(3) : 1, sy = v.size() > 3 ? v(4) : 1;
    const double k = v.size() > 5 ? v(5) : 0;
    return {c * sx, c * k - s * sy, s * sx, s * k + c * sy, v(0), v(1)};
}

double lineDistance(const Observation& o, const Affine& map, Vec2 q) {
    const Vec2 a = map(o.plannedLine[0]), b = map(o.plannedLine[1]);
    return cross(b - a, q - a) / distance(a, b);
}

/// All residuals, each divided by its σ.
Eigen::VectorXd weighted(const Used& used, const Parameters& v) {
    const Affine map = mapOf(v);
    std::vector<double> rows;
    for (const Observation* o : used) {
        if (o->kind == Observation::Kind::line) {
            for (const Vec2& q : o->seenLine) rows.push_back(lineDistance(*o, map, q) / o->sigmaMm);
            continue;
        }
        const Vec2 r = o->seen - map(o->planned);
        rows.push_back(r.x / o->sigmaMm);
        rows.push_back(r.y / o->sigmaMm);
        if (o->kind == Observation::Kind::card)
            rows.push_back(wrapped((o->seenTurnDeg - o->plannedTurnDeg) / degreesPerRadian - v(2)) *
                           degreesPerRadian / o->sigmaDeg);
    }
    return Eigen::Map<Eigen::VectorXd>(rows.data(), static_cast<Eigen::Index>(rows.size()));
}

Eigen::MatrixXd jacobian(const Used& used, const Parameters& v, const Eigen::VectorXd& steps) {
    const Eigen::Index rows = weighted(used, v).size();
    Eigen::MatrixXd j(rows, v.size());
    for (Eigen::Index k = 0; k < v.size(); ++k) {
        Parameters up = v, down = v;
        up(k) += steps(k);
        down(k) -= steps(k);
        j.col(k) = (weighted(used, up) - weighted(used, down)) / (2 * steps(k));
    }
    return j;
}

struct Solution {
    Parameters values;
    Eigen::MatrixXd covariance;
};

/// Levenberg and Marquardt from the rigid motion; the stretches are small.
Result<Solution> stretched(const Used& used, const RigidSolution& rigid, MotionModel model) {
    const std::ptrdiff_t n = countOf(model);
    Parameters v = Parameters::Zero(n);
    v(0) = rigid.move.x;
    v(1) = rigid.move.y;
    v(2) = rigid.turn;
    v(3) = v(4) = 1;
    Eigen::VectorXd steps = Eigen::VectorXd::Constant(n, 1e-6);
    steps(0) = steps(1) = 1e-4;
    double damping = 1e-6;
    Eigen::VectorXd r = weighted(used, v);
    const char* open =
        "the cloth's stretch stays open with these observations; add points far from "
        "each other both ways, or keep to turn and move";
    if (r.size() < n) return cannotDo(open);
    Eigen::MatrixXd information;
    for (int round = 0; round < 60; ++round) {
        const Eigen::MatrixXd j = jacobian(used, v, steps);
        information = j.transpose() * j;
        const Eigen::VectorXd scale = information.diagonal().cwiseMax(1e-30).cwiseSqrt();
        const Eigen::MatrixXd even =
            scale.cwiseInverse().asDiagonal() * information * scale.cwiseInverse().asDiagonal();
        const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> axes(even);
        if (axes.eigenvalues()(0) < 1e-9) return cannotDo(open);
        const Eigen::MatrixXd damped = even + damping * Eigen::MatrixXd::Identity(n, n);
        const Eigen::VectorXd step = -scale.cwiseInverse().cwiseProduct(
            damped.ldlt().solve(scale.cwiseInverse().cwiseProduct(j.transpose() * r)));
        const Parameters next = v + step;
        const Eigen::VectorXd nextR = weighted(used, next);
        if (nextR.squaredNorm() <= r.squaredNorm()) {
            const bool settled = step.cwiseQuotient(scale.cwiseInverse()).norm() < 1e-9;
            v = next;
            r = nextR;
            damping = std::max(1e-12, damping / 10);
            if (settled) break;
        } else {
            damping *= 10;
            if (damping > 1e6) break;
        }
    }
    return Solution{v, information.inverse()};
}

Vec2 residualOf(const Observation& o, const Affine& map) {
    if (o.kind != Observation::Kind::line) return o.seen - map(o.planned);
    const Vec2 way = map(o.plannedLine[1]) - map(o.plannedLine[0]);
    const Vec2 normal = Vec2{-way.y, way.x} * (1 / length(way));
    double sum = 0;
    for (const Vec2& q : o.seenLine) sum += lineDistance(o, map, q);
    return normal * (sum / static_cast<double>(o.seenLine.size()));
}

double meanSquareOf(const Observation& o, const Affine& map) {
    if (o.kind != Observation::Kind::line) {
        const Vec2 r = residualOf(o, map);
        return dot(r, r);
    }
    double sum = 0;
    for (const Vec2& q : o.seenLine) sum += std::pow(lineDistance(o, map, q), 2);
    return sum / static_cast<double>(o.seenLine.size());
}

MotionFit fitOf(const std::vector<Observation>& all, const Used& used, const Solution& s,
                MotionModel model) {
    MotionFit fit;
    fit.model = model;
    fit.translation = {s.values(0), s.values(1)};
    fit.rotationDeg = s.values(2) * degreesPerRadian;
    if (s.values.size() > 3) {
        fit.stretchX = s.values(3);
        fit.stretchY = s.values(4);
    }
    if (s.values.size() > 5) fit.skew = s.values(5);
    fit.map = mapOf(s.values);
    for (const Observation& o : all) fit.residuals.push_back(residualOf(o, fit.map));
    double squares = 0;
    for (const Observation* o : used) squares += meanSquareOf(*o, fit.map);
    fit.rmsMm = std::sqrt(squares / static_cast<double>(used.size()));
    const Eigen::VectorXd r = weighted(used, s.values);
    fit.freedom = static_cast<int>(r.size() - s.values.size());
    fit.chi = fit.freedom > 0 ? std::sqrt(r.squaredNorm() / fit.freedom) : 0;
    for (Eigen::Index i = 0; i < s.covariance.rows(); ++i)
        for (Eigen::Index k = 0; k < s.covariance.cols(); ++k)
            fit.covariance.push_back(s.covariance(i, k));
    return fit;
}

Result<MotionFit> fitUsed(const std::vector<Observation>& all, const Used& used,
                          MotionModel model) {
    const auto rigid = bestRigid(used);
    if (!rigid) return rigid.error();
    if (model == MotionModel::rigid) {
        Parameters v(3);
        v << rigid->move.x, rigid->move.y, rigid->turn;
        return fitOf(all, used, {v, rigid->covariance}, model);
    }
    const auto solution = stretched(used, *rigid, model);
    if (!solution) return solution.error();
    return fitOf(all, used, *solution, model);
}

/// √(χ²/n): what a suspect must bring below a third. With equal σ this is the rms over σ.
double misfit(const Used& used, const MotionFit& fit) {
    double sum = 0;
    for (const Observation* o : used) {
        sum += meanSquareOf(*o, fit.map) / (o->sigmaMm * o->sigmaMm);
        if (o->kind != Observation::Kind::card) continue;
        const double turn =
            wrapped((o->seenTurnDeg - o->plannedTurnDeg - fit.rotationDeg) / degreesPerRadian);
        sum += std::pow(turn * degreesPerRadian / o->sigmaDeg, 2);
    }
    return std::sqrt(sum / static_cast<double>(used.size()));
}

void findSuspect(const std::vector<Observation>& all, const Used& used, ObservationReport& report) {
    const double whole = misfit(used, report.fit);
    if (used.size() < 4 || whole < roundingChi) return;
    std::vector<std::pair<double, std::size_t>> order;
    for (std::size_t i = 0; i < used.size(); ++i)
        order.emplace_back(-misfit({used[i]}, report.fit), i);
    std::sort(order.begin(), order.end());
    if (order.size() > mostSuspects) order.resize(mostSuspects);
    double least = whole / 3;
    for (const auto& [badness, i] : order) {
        Used rest = used;
        rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(i));
        auto fit = fitUsed(all, rest, report.fit.model);
        if (!fit) continue;
        const double without = misfit(rest, *fit);
        if (without >= least) continue;
        least = without;
        report.suspect = static_cast<std::size_t>(used[i] - all.data());
        report.withoutSuspect = std::move(*fit);
    }
}

/// Sums over places, each weighed by its σ, about their weighted middles.
struct PlaceSums {
    double dots = 0, crosses = 0, squares = 0, seenSquares = 0, mirrorDots = 0, mirrorCrosses = 0;
    double weight = 0;
    std::size_t n = 0;
    Eigen::Matrix2d planned = Eigen::Matrix2d::Zero(), mixed = Eigen::Matrix2d::Zero();
};

PlaceSums placeSums(const Used& used) {
    PlaceSums s;
    Vec2 p0, q0;
    const auto each = [&](const auto& take) {
        for (const Observation* o : used)
            if (o->kind != Observation::Kind::line) take(*o, 1 / (o->sigmaMm * o->sigmaMm));
    };
    each([&](const Observation& o, double w) {
        p0 = p0 + o.planned * w;
        q0 = q0 + o.seen * w;
        s.weight += w;
        ++s.n;
    });
    if (s.n == 0) return s;
    p0 = p0 * (1 / s.weight);
    q0 = q0 * (1 / s.weight);
    each([&](const Observation& o, double w) {
        const Vec2 p = o.planned - p0, q = o.seen - q0, m{-p.x, p.y};
        s.dots += w * dot(p, q);
        s.crosses += w * cross(p, q);
        s.mirrorDots += w * dot(m, q);
        s.mirrorCrosses += w * cross(m, q);
        s.squares += w * dot(p, p);
        s.seenSquares += w * dot(q, q);
        const Eigen::Vector2d a(p.x, p.y), b(q.x, q.y);
        s.planned += w * a * a.transpose();
        s.mixed += w * b * a.transpose();
    });
    return s;
}

std::optional<double> scaleOf(const PlaceSums& s) {
    if (s.n < 2 || s.squares < 1e-12 * s.weight) return std::nullopt;
    return std::hypot(s.dots, s.crosses) / s.squares;
}

double departure(Vec2 x, Vec2 y) {
    return std::abs(std::atan2(std::abs(cross(x, y)), dot(x, y)) * degreesPerRadian - 90);
}

std::optional<double> squareErrorOfPlaces(const PlaceSums& s) {
    if (s.n < 3) return std::nullopt;
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(s.planned);
    if (axes.eigenvalues()(0) < 1e-9 * axes.eigenvalues()(1)) return std::nullopt;
    const Eigen::Matrix2d map = s.mixed * s.planned.inverse();
    return departure({map(0, 0), map(1, 0)}, {map(0, 1), map(1, 1)});
}

/// 1σ of it: the images of the two axes err independently across themselves, by the weights'
/// inverse.
double squareSigmaOfPlaces(const PlaceSums& s) {
    return std::sqrt(s.planned.inverse().trace()) * degreesPerRadian;
}

/// The way of a seen line, by its main axis; none for places that coincide.
std::optional<Vec2> wayOf(const Observation& o) {
    const MainAxis axis = mainAxisOf(o.seenLine);
    if (axis.spread < 1) return std::nullopt;
    return axis.way();
}

/// From two lines that the plan has square to each other.
std::optional<double> squareErrorOfLines(const Used& used) {
    for (std::size_t i = 0; i < used.size(); ++i)
        for (std::size_t k = i + 1; k < used.size(); ++k) {
            const Observation &a = *used[i], &b = *used[k];
            if (a.kind != Observation::Kind::line || b.kind != Observation::Kind::line) continue;
            if (std::abs(dot(normalOf(a), normalOf(b))) > 1e-6) continue;
            const auto x = wayOf(a), y = wayOf(b);
            if (x && y) return departure(*x, *y);
        }
    return std::nullopt;
}

bool isMirrored(const PlaceSums& s, double sigmaMm, const MotionFit& fit) {
    if (s.n < 3 || fit.rmsMm <= sigmaMm) return false;
    const double best = std::hypot(s.mirrorDots, s.mirrorCrosses);
    const double own = s.squares + s.seenSquares - 2 * std::hypot(s.dots, s.crosses);
    return s.squares + s.seenSquares - 2 * best < own / 9;
}

/// What lies within its own uncertainty is named as the contract asks, but is no reason to stop.
bool isSerious(const std::vector<Observation>& all, const ObservationReport& report) {
    if (!report.suspect) return false;
    const Observation& o = all[*report.suspect];
    return misfit({&o}, *report.withoutSuspect) > seriousSigmas;
}

void judge(const std::vector<Observation>& all, ObservationReport& report) {
    const MotionFit& f = report.fit;
    const std::string where = motionText(f);
    report.suspectIsSerious = isSerious(all, report);
    if (report.suspectIsSerious) {
        const Observation& o = all[*report.suspect];
        report.verdict = Verdict::doubt;
        report.text = fmt::format("{} does not fit the others: {:.2f} mm RMS with it, {:.2f} mm "
                                  "without. Look at it again, or leave it out.",
                                  o.name.empty() ? "One observation" : o.name, f.rmsMm,
                                  report.withoutSuspect->rmsMm);
    } else if (f.freedom > 0 && f.chi > 4) {
        report.verdict = Verdict::redo;
        report.text =
            fmt::format("What was seen does not fit the plan: {:.2f} mm RMS, {:.1f} times "
                        "what its uncertainty explains. Hoop or measure again.",
                        f.rmsMm, f.chi);
    } else if (f.freedom > 0 && f.chi > 2) {
        report.verdict = Verdict::doubt;
        report.text = fmt::format("What was seen fits only roughly: {:.2f} mm RMS, {:.1f} times "
                                  "what its uncertainty explains. Look again. The cloth lies {}.",
                                  f.rmsMm, f.chi, where);
    } else {
        report.text =
            fmt::format("The cloth lies {}; what was seen agrees to {:.2f} mm RMS{}.", where,
                        f.rmsMm, f.freedom == 0 ? ", with nothing to check it by" : "");
    }
}

} // namespace

double MotionFit::sigmaAt(Vec2 p) const {
    const auto n = static_cast<Eigen::Index>(std::lround(std::sqrt(covariance.size())));
    const Eigen::Map<const Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>>
        c(covariance.data(), n, n);
    const Vec2 image = map(p) - translation;
    const Turn t = turnOf(rotationDeg);
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(2, n);
    g(0, 0) = g(1, 1) = 1;
    g(0, 2) = -image.y;
    g(1, 2) = image.x;
    if (n > 3) {
        g(0, 3) = t.cosine * p.x;
        g(1, 3) = t.sine * p.x;
        g(0, 4) = -t.sine * p.y;
        g(1, 4) = t.cosine * p.y;
    }
    if (n > 5) {
        g(0, 5) = t.cosine * p.y;
        g(1, 5) = t.sine * p.y;
    }
    return std::sqrt(std::max(0.0, (g * c * g.transpose()).trace()));
}

std::string motionText(const MotionFit& fit) {
    const auto rounded = [](double v) { return std::round(v * 100) / 100; };
    const std::string way = wayText({rounded(fit.translation.x), rounded(fit.translation.y)});
    std::string text = fmt::format("turned {:.2f}° {}", std::abs(fit.rotationDeg),
                                   fit.rotationDeg < 0 ? "anticlockwise" : "clockwise");
    if (std::abs(fit.rotationDeg) < 0.005) text = "unturned";
    text += way.empty() ? " and not moved" : " and " + way;
    const auto stretch = [](double k) {
        return fmt::format("{:.2f} % {}", std::abs(k - 1) * 100, k < 1 ? "shorter" : "longer");
    };
    if (fit.model != MotionModel::rigid)
        text +=
            fmt::format(", {} across and {} down", stretch(fit.stretchX), stretch(fit.stretchY));
    if (fit.model == MotionModel::skew)
        text += fmt::format(", {:.2f}° out of square",
                            std::abs(std::atan(fit.skew)) * degreesPerRadian);
    return text;
}

Result<ObservationReport> fitObservations(const std::vector<Observation>& observations,
                                          MotionModel model) {
    Used used;
    for (const Observation& o : observations)
        if (!o.leftOut) used.push_back(&o);
    auto fit = fitUsed(observations, used, model);
    if (!fit) return fit.error();
    ObservationReport report;
    report.fit = std::move(*fit);
    const PlaceSums sums = placeSums(used);
    double sigma = 0;
    for (const Observation* o : used) sigma = std::max(sigma, o->sigmaMm);
    if (sums.n == used.size() && isMirrored(sums, sigma, report.fit))
        return cannotDo("only a mirror image explains these points; check that the cloth is not "
                        "upside down and that names are not exchanged");
    report.scale = scaleOf(sums);
    report.linesSquareErrorDeg = squareErrorOfLines(used);
    report.squareErrorDeg = squareErrorOfPlaces(sums);
    if (report.squareErrorDeg)
        report.squareSigmaDeg = squareSigmaOfPlaces(sums);
    else
        report.squareErrorDeg = report.linesSquareErrorDeg;
    findSuspect(observations, used, report);
    judge(observations, report);
    return report;
}

} // namespace rapt
