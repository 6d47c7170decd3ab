#include "divide/cuts.h"

#include "relieve/cut_list.h"
#include "respace/stretches.h"
#include "thread/measures.h"

#include <numbers>

namespace rapt {
namespace {

constexpr double stepMm = 0.4;
// Ends of neighbouring rows lie so far off the path at the most, on both sides of it.
constexpr double mostStaggerMm = 0.4;
constexpr double farMm = 5;
// Shorter ends of rows and runs are left to the other side, which sews them in its overlap.
constexpr double shortestEndMm = 0.15, shortestRunMm = 0.3;

/// How much the thread runs across a direction rather than along it, 0 to 1.
double acrossShare(const StitchList& list, Vec2 way) {
    double across = 0, all = 0;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* last) {
        if (!last || last->op == Op::jump) return;
        const Vec2 d = list.stitches[i].at() - last->at();
        across += std::abs(cross(d, way));
        all += length(d);
    });
    return all > 0 ? across / all : 0;
}

/// The path carried on over the box, in even steps, with teeth where rows end on it: so the ends
/// of neighbouring rows do not stand in a line.
Polyline toothed(const StitchList& list, const Polyline& path, const Box& box) {
    Polyline line = path;
    const double size = std::hypot(box.width(), box.height()) + farMm;
    const auto unit = [](Vec2 d) { return d * (1 / std::max(1e-9, length(d))); };
    const Vec2 way = unit(path.back() - path.front());
    line.insert(line.begin(), path.front() - way * size);
    line.push_back(path.back() + way * size);
    const double share = acrossShare(list, way);
    const double reach = share > 0.7 ? mostStaggerMm * share : 0;
    const Vec2 aside{-way.y, way.x};
    Polyline teeth{line.front()};
    std::uint32_t dice = 12345;
    for (std::size_t i = 1; i < line.size(); ++i) {
        const int steps = std::max(1, static_cast<int>(distance(line[i - 1], line[i]) / stepMm));
        for (int k = 1; k <= steps; ++k) {
            dice = dice * 1664525u + 1013904223u;
            const double off = reach * (static_cast<double>(dice >> 8) / (1 << 23) - 1);
            teeth.push_back(lerp(line[i - 1], line[i], static_cast<double>(k) / steps) +
                            aside * off);
        }
    }
    return teeth;
}

/// What lies on one side (+1: clockwise of the way) of a path, from `aheadMm` beyond it on.
Region sideOf(Polyline line, const Box& box, int side, double aheadMm) {
    const Vec2 d = line.back() - line.front();
    const Vec2 aside = Vec2{-d.y, d.x} * (side / std::max(1e-9, length(d)));
    for (Vec2& p : line) p = p + aside * aheadMm;
    const double size = 2 * (std::hypot(box.width(), box.height()) + farMm);
    const Vec2 first = line.front(), last = line.back();
    line.push_back(last + aside * size);
    line.push_back(first + aside * size);
    return Region({line});
}

/// What several parts sew of the list belongs to the first of them.
void markOverlaps(const StitchList& list, std::vector<TracedList>& parts) {
    std::vector<bool> known(list.stitches.size(), false);
    for (TracedList& part : parts)
        for (std::size_t i = 0; i < part.stitches.size(); ++i) {
            const auto from = part.origins.at(i);
            if (!from) continue;
            if (known[*from]) part.origins.remake(i, NewRecord::overlap);
            known[*from] = true;
        }
}

/// Both sides of one cut: a needle point may give way to an end of a thread only where the other
/// side has it.
std::array<TracedList, 2> bothSides(const TracedList& part, const Region (&gone)[2]) {
    std::array<TracedList, 2> sides;
    CutOptions options{shortestEndMm, shortestRunMm, 0,
                       std::vector<bool>(part.stitches.size(), false)};
    for (std::size_t i = 0; i < part.stitches.size(); ++i)
        options.mustStay[i] = gone[1].contains(part.stitches[i].at());
    sides[0] = cutOut(part, gone[0], gone[0], options);
    options.mustStay.assign(part.stitches.size(), true);
    for (std::size_t i = 0; i < sides[0].stitches.size(); ++i)
        if (const auto from = sides[0].origins.at(i)) options.mustStay[*from] = false;
    sides[1] = cutOut(part, gone[1], gone[1], options);
    for (TracedList& side : sides) side.origins = side.origins.after(part.origins);
    return sides;
}

/// How much it costs to lead a cut through each place: thread that is cut, by what it is.
class CutGround {
public:
    CutGround(const StitchList& list, Vec2 a, double from, double to) : along(a), low(from) {
        const Vec2 across{-along.y, along.x};
        double left = 1e9, right = -1e9;
        for (const Stitch& s : list.stitches) {
            if (s.op != Op::stitch) continue;
            left = std::min(left, dot(s.at(), across));
            right = std::max(right, dot(s.at(), across));
        }
        start = left - margin;
        columns = static_cast<int>(std::ceil((right - left + 2 * margin) / cell)) + 1;
        rows = std::max(1, static_cast<int>((to - from) / cell) + 1);
        cost.assign(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows), 0);
        for (const SewnChain& chain : recogniseStretches(list))
            for (const SewnStretch& s : chain.stretches) lay(chain, s);
    }

    /// The cheapest way over all columns, by dynamic programming.
    Polyline cheapest() const {
        std::vector<double> sum(static_cast<std::size_t>(rows));
        std::vector<std::int8_t> came(cost.size());
        for (int j = 0; j < rows; ++j) sum[static_cast<std::size_t>(j)] = costAt(0, j);
        for (int i = 1; i < columns; ++i) {
            std::vector<double> next(sum.size(), 1e18);
            for (int j = 0; j < rows; ++j)
                for (int k = -2; k <= 2; ++k) {
                    if (j + k < 0 || j + k >= rows) continue;
                    const double way =
                        sum[static_cast<std::size_t>(j + k)] + bendCost * std::abs(k);
                    double& best = next[static_cast<std::size_t>(j)];
                    if (way + costAt(i, j) >= best) continue;
                    best = way + costAt(i, j);
                    came[indexOf(i, j)] = static_cast<std::int8_t>(k);
                }
            sum = std::move(next);
        }
        int j = static_cast<int>(std::min_element(sum.begin(), sum.end()) - sum.begin());
        Polyline path;
        for (int i = columns - 1; i >= 0; --i) {
            path.push_back(placeOf(i, j));
            j += came[indexOf(i, j)];
        }
        std::reverse(path.begin(), path.end());
        return simplified(path);
    }

    Polyline straight() const {
        const double middle = low + cell * (rows - 1) / 2;
        const Vec2 across{-along.y, along.x};
        return {along * middle + across * start,
                along * middle + across * (start + cell * (columns - 1))};
    }

private:
    static constexpr double cell = 0.5, margin = 1.0;
    static constexpr double bendCost = 0.03, lengthCost = 0.02;

    std::size_t indexOf(int i, int j) const {
        return static_cast<std::size_t>(i) * static_cast<std::size_t>(rows) +
               static_cast<std::size_t>(j);
    }
    double costAt(int i, int j) const {
        // Away from the middle only where it pays.
        const double off = rows > 1 ? std::abs(2.0 * j / (rows - 1) - 1) : 0;
        return cost[indexOf(i, j)] + lengthCost + 0.002 * off;
    }
    Vec2 placeOf(int i, int j) const {
        return along * (low + j * cell) + Vec2{-along.y, along.x} * (start + i * cell);
    }

    void lay(const SewnChain& chain, const SewnStretch& s) {
        const double weight = s.kind == StretchKind::satin  ? 6
                              : s.kind == StretchKind::fill ? 2
                                                            : 1;
        for (std::size_t i = s.first; i < s.last; ++i) {
            const Vec2 a = chain.points[i], b = chain.points[i + 1];
            const int steps = 1 + static_cast<int>(distance(a, b) / cell);
            const double part = weight * distance(a, b) / steps;
            for (int k = 0; k < steps; ++k) {
                const Vec2 p = lerp(a, b, (k + 0.5) / steps);
                const int row = static_cast<int>(std::lround((dot(p, along) - low) / cell));
                const int column =
                    static_cast<int>(std::lround((dot(p, Vec2{-along.y, along.x}) - start) / cell));
                if (row < 0 || row >= rows || column < 0 || column >= columns) continue;
                cost[indexOf(column, row)] += part;
            }
        }
    }

    /// Without points on a line between their neighbours.
    static Polyline simplified(const Polyline& path) {
        Polyline result;
        for (const Vec2& p : path) {
            while (result.size() > 1 &&
                   distanceToSegment(result.back(), result[result.size() - 2], p) < 0.05)
                result.pop_back();
            result.push_back(p);
        }
        return result;
    }

    Vec2 along;
    double low, start = 0;
    int columns = 0, rows = 0;
    std::vector<double> cost;
};

/// On which side of a path all of a box lies, `aheadMm` clear of it; 0 if it may touch it.
int sideClear(const Box& box, const Polyline& line, double aheadMm) {
    const Vec2 d = line.back() - line.front();
    const Vec2 aside = Vec2{-d.y, d.x} * (1 / std::max(1e-9, length(d)));
    double low = 1e18, high = -1e18, least = 1e18, most = -1e18;
    for (const Vec2& p : line) {
        low = std::min(low, dot(p, aside));
        high = std::max(high, dot(p, aside));
    }
    for (const Vec2& c : box.corners()) {
        least = std::min(least, dot(c, aside));
        most = std::max(most, dot(c, aside));
    }
    return least > high + aheadMm ? 1 : most < low - aheadMm ? -1 : 0;
}

} // namespace

std::vector<TracedList> cutApart(const StitchList& list, const std::vector<Polyline>& paths,
                                 double overlapMm) {
    std::vector<TracedList> parts{tracedWhole(list)};
    const Box box = extentsOf(list);
    for (const Polyline& path : paths) {
        if (path.size() < 2) continue;
        const Polyline line = toothed(list, path, box);
        const Region gone[] = {sideOf(line, box, -1, overlapMm / 2),
                               sideOf(line, box, 1, overlapMm / 2)};
        std::vector<TracedList> next;
        for (TracedList& part : parts) {
            if (sideClear(extentsOf(part), line, overlapMm) != 0) {
                next.push_back(std::move(part));
                continue;
            }
            for (TracedList& side : bothSides(part, gone))
                if (sews(side)) next.push_back(std::move(side));
        }
        parts = std::move(next);
    }
    markOverlaps(list, parts);
    return parts;
}

Polyline cutPath(const StitchList& list, Vec2 along, double from, double to, bool straight) {
    const CutGround ground(list, along, from, to);
    return straight ? ground.straight() : ground.cheapest();
}

} // namespace rapt
