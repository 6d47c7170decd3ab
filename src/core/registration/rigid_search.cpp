#include "registration/rigid_search.h"

#include <algorithm>
#include <fmt/format.h>
#include <numbers>
#include <optional>

namespace rapt {
namespace {

constexpr double radiansPerDegree = std::numbers::pi / 180;
constexpr int steps = 360;

Vec2 turned(Vec2 p, double c, double s) { return {c * p.x - s * p.y, s * p.x + c * p.y}; }

/// χ² at one turn with the best translation, and its derivative by the turn.
struct Slice {
    double cost = 0, slope = 0;
    Vec2 move;
};

class Search {
public:
    explicit Search(const Used& u) : used(u) {
        // About the middle of all, so that far origins cost no digits.
        std::size_t n = 0;
        for (const Observation* o : used) {
            if (o->kind == Observation::Kind::line)
                for (const Vec2& q : o->seenLine) add(o->plannedLine[0], q, n);
            else
                add(o->planned, o->seen, n);
        }
        const double share = 1 / static_cast<double>(std::max<std::size_t>(1, n));
        planMiddle = planMiddle * share;
        seenMiddle = seenMiddle * share;
    }

    Slice at(double turn) const {
        const double c = std::cos(turn), s = std::sin(turn);
        const Vec2 move = moveAt(c, s);
        Slice slice;
        slice.move = move;
        for (const Observation* o : used) addTo(slice, *o, turn, c, s, move);
        return slice;
    }

    /// Back from the middles to the plan's origin.
    Vec2 moveOf(double turn, Vec2 move) const {
        return seenMiddle + move - turned(planMiddle, std::cos(turn), std::sin(turn));
    }

    /// JᵀWJ over (x, y, turn) about the middles.
    Eigen::Matrix3d information(double turn, Vec2 move) const {
        const double c = std::cos(turn), s = std::sin(turn);
        Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
        const auto addRow = [&](double x, double y, double t, double sigma) {
            const Eigen::Vector3d row(x / sigma, y / sigma, t / sigma);
            m += row * row.transpose();
        };
        for (const Observation* o : used) {
            if (o->kind == Observation::Kind::line) {
                const Vec2 n = turned(normalOf(*o), c, s);
                const Vec2 a = turned(o->plannedLine[0] - planMiddle, c, s);
                for (const Vec2& q : o->seenLine)
                    addRow(-n.x, -n.y, lineSlope(q - seenMiddle, a, n, move), o->sigmaMm);
                continue;
            }
            const Vec2 p = turned(o->planned - planMiddle, c, s);
            addRow(-1, 0, p.y, o->sigmaMm);
            addRow(0, -1, -p.x, o->sigmaMm);
            if (o->kind == Observation::Kind::card)
                addRow(0, 0, -1, o->sigmaDeg * radiansPerDegree);
        }
        return m;
    }

    /// How far what was planned reaches from its middle; at least 1 mm.
    double reach() const {
        double most = 1;
        for (const Observation* o : used) {
            if (o->kind != Observation::Kind::line) {
                most = std::max(most, distance(o->planned, planMiddle));
                continue;
            }
            for (const Vec2& q : o->seenLine) most = std::max(most, distance(q, seenMiddle));
        }
        return most;
    }

    Vec2 planMiddle, seenMiddle;

private:
    void add(Vec2 planned, Vec2 seen, std::size_t& n) {
        planMiddle = planMiddle + planned;
        seenMiddle = seenMiddle + seen;
        ++n;
    }

    /// d/dturn of n·(q − a − move), where n and a turn.
    static double lineSlope(Vec2 q, Vec2 a, Vec2 n, Vec2 move) {
        const Vec2 nTurned{-n.y, n.x}, aTurned{-a.y, a.x};
        return dot(nTurned, q - a - move) - dot(n, aTurned);
    }

    Vec2 moveAt(double c, double s) const {
        Eigen::Matrix2d m = Eigen::Matrix2d::Zero();
        Eigen::Vector2d b = Eigen::Vector2d::Zero();
        for (const Observation* o : used) {
            const double w = 1 / (o->sigmaMm * o->sigmaMm);
            if (o->kind == Observation::Kind::line) {
                const Vec2 n = turned(normalOf(*o), c, s);
                const Vec2 a = turned(o->plannedLine[0] - planMiddle, c, s);
                const Eigen::Vector2d e(n.x, n.y);
                for (const Vec2& q : o->seenLine) {
                    m += w * e * e.transpose();
                    b += w * e * dot(n, q - seenMiddle - a);
                }
                continue;
            }
            const Vec2 d = o->seen - seenMiddle - turned(o->planned - planMiddle, c, s);
            m += w * Eigen::Matrix2d::Identity();
            b += w * Eigen::Vector2d(d.x, d.y);
        }
        // Parallel lines leave a direction free; it stays where it is.
        const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(m);
        Eigen::Vector2d t = Eigen::Vector2d::Zero();
        for (int k = 0; k < 2; ++k) {
            const double value = axes.eigenvalues()(k);
            if (value <= 1e-12 * axes.eigenvalues()(1)) continue;
            const Eigen::Vector2d v = axes.eigenvectors().col(k);
            t += v * (v.dot(b) / value);
        }
        return {t(0), t(1)};
    }

    void addTo(Slice& slice, const Observation& o, double turn, double c, double s,
               Vec2 move) const {
        const double w = 1 / (o.sigmaMm * o.sigmaMm);
        if (o.kind == Observation::Kind::line) {
            const Vec2 n = turned(normalOf(o), c, s);
            const Vec2 a = turned(o.plannedLine[0] - planMiddle, c, s);
            for (const Vec2& q : o.seenLine) {
                const Vec2 centred = q - seenMiddle;
                const double r = dot(n, centred - a - move);
                slice.cost += w * r * r;
                slice.slope += 2 * w * r * lineSlope(centred, a, n, move);
            }
            return;
        }
        const Vec2 p = turned(o.planned - planMiddle, c, s);
        const Vec2 r = o.seen - seenMiddle - p - move;
        slice.cost += w * dot(r, r);
        slice.slope -= 2 * w * dot(r, Vec2{-p.y, p.x});
        if (o.kind != Observation::Kind::card) return;
        const double sigma = o.sigmaDeg * radiansPerDegree;
        const double d = wrapped((o.seenTurnDeg - o.plannedTurnDeg) * radiansPerDegree - turn);
        slice.cost += d * d / (sigma * sigma);
        slice.slope -= 2 * d / (sigma * sigma);
    }

    const Used& used;
};

double bisected(const Search& search, double low, double high) {
    for (int i = 0; i < 60 && high - low > 1e-16; ++i) {
        const double middle = (low + high) / 2;
        (search.at(middle).slope < 0 ? low : high) = middle;
    }
    return (low + high) / 2;
}

std::string missing(const Used& used, const Eigen::Vector3d& freeWay) {
    if (used.empty())
        return "nothing was observed; give at least two points, a card, or two lines that cross";
    if (std::abs(freeWay(2)) > 0.5)
        return "the turn stays open: these observations all lie at one place; add a point away "
               "from them, a card, or a line";
    const bool lines = std::all_of(used.begin(), used.end(), [](const Observation* o) {
        return o->kind == Observation::Kind::line;
    });
    return lines ? "the place along the line stays open; add a line across it, a point or a card"
                 : "the place stays open; add a point or a card";
}

} // namespace

Vec2 normalOf(const Observation& line) {
    const Vec2 way = line.plannedLine[1] - line.plannedLine[0];
    return Vec2{-way.y, way.x} * (1 / length(way));
}

double wrapped(double radians) {
    const double turns = std::remainder(radians, 2 * std::numbers::pi);
    return turns <= -std::numbers::pi ? std::numbers::pi : turns;
}

Result<RigidSolution> bestRigid(const Used& used) {
    if (used.empty()) return cannotDo(missing(used, Eigen::Vector3d::Zero()));
    const Search search(used);
    constexpr double step = 2 * std::numbers::pi / steps;
    // Off the round angles, where wrapped turns have their kinks.
    const auto angle = [&](int i) { return -std::numbers::pi + (i + 0.37) * step; };
    std::optional<std::pair<double, Slice>> best;
    double highest = 0;
    Slice before = search.at(angle(0));
    for (int i = 1; i <= steps; ++i) {
        const Slice here = search.at(angle(i));
        highest = std::max(highest, here.cost);
        if (before.slope <= 0 && here.slope > 0) {
            const double turn = wrapped(bisected(search, angle(i - 1), angle(i)));
            const Slice found = search.at(turn);
            const double tie = 1e-9 * (1 + found.cost);
            if (!best || found.cost < best->second.cost - tie ||
                (found.cost < best->second.cost + tie && std::abs(turn) < std::abs(best->first)))
                best = {turn, found};
        }
        before = here;
    }
    // Points that coincide as seen fit every turn alike.
    if (!best || highest - best->second.cost < 1e-12 * (1 + highest))
        return cannotDo(missing(used, Eigen::Vector3d(0, 0, 1)));
    const double reach = search.reach();
    const Eigen::Matrix3d information = search.information(best->first, best->second.move);
    const Eigen::DiagonalMatrix<double, 3> scale(1, 1, 1 / reach);
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> axes(
        Eigen::Matrix3d(scale * information * scale));
    if (axes.eigenvalues()(0) < 1e-10 * axes.eigenvalues()(2))
        return cannotDo(missing(used, axes.eigenvectors().col(0)));
    RigidSolution solution;
    solution.turn = best->first;
    solution.move = search.moveOf(solution.turn, best->second.move);
    solution.cost = best->second.cost;
    // x and y about the plan's origin: t = t' + middle − R·middle.
    const double c = std::cos(solution.turn), s = std::sin(solution.turn);
    const Vec2 m = turned(search.planMiddle, c, s);
    Eigen::Matrix3d shift = Eigen::Matrix3d::Identity();
    shift(0, 2) = m.y;
    shift(1, 2) = -m.x;
    solution.covariance = shift * information.inverse() * shift.transpose();
    return solution;
}

} // namespace rapt
