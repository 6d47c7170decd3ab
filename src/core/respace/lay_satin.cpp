// Satins: the same pitch between the scaled sides.

#include "respace/laying.h"

namespace rapt {
namespace {

// A side goes on beyond its first and last needle point by no more.
constexpr double mostBeyondMm = 0.12;
// Crossings are rather drawn apart by so much than pushed together.
constexpr double mostApart = 1.03;
constexpr std::size_t leastSquared = 8;
constexpr double mostSquare = 0.75;

/// One side of a satin: every other needle point, asked for anywhere between them.
class SatinSide {
public:
    SatinSide(const SewnChain& c, const SewnStretch& s, const Scaling& k, std::size_t parity)
        : chain(c), stretch(s), scaling(k), first(parity),
          count((s.last - s.first - parity) / 2 + 1) {}

    /// `t` counts the needle points of both sides from the first one. Before its first and after
    /// its last point a side goes straight on for a hair: there it has none only because the other
    /// has.
    Vec2 at(double t) const {
        if (count < 2) return point(0);
        const double k = (t - static_cast<double>(first)) / 2;
        const auto i = std::min(static_cast<std::size_t>(std::max(0.0, k)), count - 2);
        const Vec2 a = point(i), b = point(i + 1);
        const double beyond = mostBeyondMm / std::max(mostBeyondMm, distance(a, b));
        return lerp(a, b, std::clamp(k - static_cast<double>(i), -beyond, 1 + beyond));
    }

private:
    Vec2 point(std::size_t i) const { return scaling(chain.points[stretch.first + first + 2 * i]); }

    const SewnChain& chain;
    const SewnStretch& stretch;
    const Scaling& scaling;
    std::size_t first, count;
};

/// How many times as many crossings are needed from the first point to point i.
std::vector<double> crossingsUpTo(const SewnChain& chain, const SewnStretch& stretch,
                                  const Scaling& scaling, double spacingRatio) {
    const std::size_t n = stretch.last - stretch.first;
    const auto at = [&](std::size_t i) { return chain.points[stretch.first + i]; };
    std::vector<double> sums{0};
    sums.reserve(n + 1);
    const bool even = scaling.x == scaling.y;
    const double everywhere = scaling.kept(std::abs(scaling.x)) * spacingRatio;
    for (std::size_t i = 0; i < n; ++i) {
        double ratio = everywhere;
        if (!even) {
            // The advance along the centre line: from the middle of one crossing to that two on.
            const std::size_t a = i == 0 ? 0 : i - 1, b = std::min(i + 2, n);
            const std::size_t c = std::min(a + 1, n), d = b == 0 ? 0 : b - 1;
            const Vec2 way = lerp(at(b), at(d), 0.5) - lerp(at(a), at(c), 0.5);
            const double size = length(way);
            ratio = size > 0 ? scaling.kept(scaling.along(way * (1 / size))) * spacingRatio : 1;
        }
        sums.push_back(sums.back() + ratio);
    }
    return sums;
}

/// About `wanted` crossings, an odd number of them if `odd`: rather a hair too few than too many,
/// since a pitch that is a hair too small crowds the thread in places.
int crossingsFor(double wanted, int odd) {
    const double pairs = (wanted - odd) / 2;
    const int fewer = 2 * static_cast<int>(std::floor(pairs + 1e-9)) + odd;
    if (fewer > 0 && wanted <= mostApart * fewer) return fewer;
    return std::max(1, 2 * static_cast<int>(std::lround(pairs)) + odd);
}

/// True if the first or the last crossing runs square across the end and advances nothing: it is
/// there once, whatever the size.
bool isSquare(const SewnChain& chain, const SewnStretch& stretch, bool atStart) {
    if (stretch.last - stretch.first < leastSquared) return false;
    const auto step = [&](std::size_t i) {
        const std::size_t k = atStart ? stretch.first + i : stretch.last - i;
        return distance(chain.points[k], chain.points[atStart ? k + 2 : k - 2]);
    };
    // Beside the end the side advances by half of what it does farther on.
    return step(0) < mostSquare * std::min(step(2), step(3));
}

void layCrossings(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
                  double spacingRatio, NeedlePath& out) {
    const std::vector<double> sums = crossingsUpTo(chain, stretch, scaling, spacingRatio);
    const std::size_t n = sums.size() - 1;
    const SatinSide sides[] = {{chain, stretch, scaling, 0}, {chain, stretch, scaling, 1}};
    // As many crossings as bring the thread to the side where it ended.
    const int crossings = crossingsFor(sums[n], static_cast<int>(n % 2));
    const double step = sums[n] / crossings;
    std::size_t i = 0;
    int lastSide = 0; // where the needle stands
    for (int j = 1; j < crossings; ++j) {
        const double wanted = j * step;
        while (i + 1 < n && sums[i + 1] < wanted) ++i;
        const double t =
            static_cast<double>(i) + (wanted - sums[i]) / std::max(1e-12, sums[i + 1] - sums[i]);
        // In a fine tip crossings are left out by pairs, so that the sides still alternate.
        if (j % 2 == lastSide) continue;
        const std::size_t before = out.points.size();
        out.add(sides[j % 2].at(t));
        if (out.points.size() > before) lastSide = j % 2;
    }
    out.fix(scaling(chain.points[stretch.last]));
}

} // namespace

void laySatin(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
              double spacingRatio, NeedlePath& out) {
    SewnStretch inner = stretch;
    if (isSquare(chain, stretch, true)) out.fix(scaling(chain.points[++inner.first]));
    const bool squareEnd = isSquare(chain, stretch, false);
    inner.last -= squareEnd;
    layCrossings(chain, inner, scaling, spacingRatio, out);
    if (squareEnd) out.fix(scaling(chain.points[stretch.last]));
}

} // namespace rapt
