// Runs: the same stitch length along the scaled line, corners kept.

#include "geometry/polygon.h"
#include "respace/laying.h"

namespace rapt {
namespace {

// A turn sharper than this (40 degrees) is a corner that keeps its needle point.
constexpr double cornerCosine = 0.766;
// Stitches may cut a bend by so much.
constexpr double mostCutMm = 0.1;

class RunLayer {
public:
    RunLayer(std::vector<Vec2> l, const std::vector<double>& r, NeedlePath& o)
        : line(std::move(l)), ratios(r), out(o) {}

    /// `line` is scaled; `ratios[i]` says how many stitches stitch i becomes.
    void run() {
        std::size_t from = 0;
        for (std::size_t i = 1; i < line.size(); ++i) {
            if (i + 1 < line.size() && !isCorner(i)) continue;
            lay(from, i);
            out.fix(line[i]);
            from = i;
        }
    }

private:
    bool isCorner(std::size_t i) const {
        const Vec2 in = line[i] - line[i - 1], on = line[i + 1] - line[i];
        return dot(in, on) < cornerCosine * length(in) * length(on);
    }

    /// The points between two corners: evenly many to a stitch, more where a bend would be cut.
    void lay(std::size_t from, std::size_t to) {
        std::vector<double> sums{0};
        for (std::size_t i = from; i < to; ++i) sums.push_back(sums.back() + ratios[i]);
        const int stitches = std::max(1, static_cast<int>(std::lround(sums.back())));
        double last = 0;
        for (int j = 1; j <= stitches; ++j) {
            const double t = j < stitches ? placeOf(sums, sums.back() * j / stitches)
                                          : static_cast<double>(to - from);
            bridge(from, last, t);
            if (j < stitches) out.add(at(from, t));
            last = t;
        }
    }

    static double placeOf(const std::vector<double>& sums, double wanted) {
        const auto next = std::upper_bound(sums.begin(), sums.end(), wanted);
        const auto i = static_cast<std::size_t>(next - sums.begin()) - 1;
        if (i + 1 >= sums.size()) return static_cast<double>(sums.size() - 1);
        return static_cast<double>(i) + (wanted - sums[i]) / (sums[i + 1] - sums[i]);
    }

    Vec2 at(std::size_t from, double t) const {
        const auto i = std::min(static_cast<std::size_t>(t), line.size() - 2 - from);
        return lerp(line[from + i], line[from + i + 1], t - static_cast<double>(i));
    }

    /// Adds points of the line between two places where the straight stitch would cut it short.
    void bridge(std::size_t from, double a, double b) {
        const Vec2 start = at(from, a), end = at(from, b);
        double worst = mostCutMm;
        std::size_t most = 0;
        for (auto i = static_cast<std::size_t>(a) + 1; static_cast<double>(i) < b; ++i) {
            const double off = distanceToSegment(line[from + i], start, end);
            if (off > worst) {
                worst = off;
                most = i;
            }
        }
        if (most == 0) return;
        bridge(from, a, static_cast<double>(most));
        // A bend keeps its point; an even one that is too near to it goes.
        out.fix(line[from + most]);
        bridge(from, static_cast<double>(most), b);
    }

    std::vector<Vec2> line;
    const std::vector<double>& ratios;
    NeedlePath& out;
};

/// A line scaled, and how many stitches each of its stitches becomes.
void layLine(const std::vector<Vec2>& line, const Scaling& scaling, NeedlePath& out) {
    std::vector<Vec2> scaled;
    std::vector<double> ratios;
    for (const Vec2& p : line) scaled.push_back(scaling(p));
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
        const double before = distance(line[i], line[i + 1]);
        const double grown = before > 0 ? distance(scaled[i], scaled[i + 1]) / before : 1;
        ratios.push_back(std::max(1e-6, scaling.kept(grown)));
    }
    RunLayer(std::move(scaled), ratios, out).run();
}

std::vector<Vec2> pointsOf(const SewnChain& chain, const SewnStretch& s) {
    return {chain.points.begin() + static_cast<std::ptrdiff_t>(s.first),
            chain.points.begin() + static_cast<std::ptrdiff_t>(s.last) + 1};
}

} // namespace

void layRun(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
            NeedlePath& out) {
    layLine(pointsOf(chain, stretch), scaling, out);
}

void layRepeatedRun(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
                    NeedlePath& out) {
    std::vector<Vec2> line;
    const auto passes = static_cast<std::size_t>(stretch.passes);
    for (std::size_t i = stretch.first; i <= stretch.last; i += passes)
        line.push_back(chain.points[i]);
    NeedlePath once(scaling.options);
    once.fix(scaling(line.front()));
    layLine(line, scaling, once);
    for (std::size_t i = 1; i < once.points.size(); ++i)
        for (std::size_t pass = 0; pass < passes; ++pass)
            out.addSame(once.points[pass % 2 == 0 ? i : i - 1]);
}

void layTie(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
            NeedlePath& out) {
    // It hangs on the stitching next to it.
    const Vec2 anchor = chain.points[stretch.first == 0 ? stretch.last : stretch.first];
    const Vec2 placed = scaling(anchor);
    for (std::size_t i = stretch.first + 1; i <= stretch.last; ++i)
        out.addSame(placed + scaling.mirrored(chain.points[i] - anchor));
}

void layAsItIs(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
               NeedlePath& out) {
    for (std::size_t i = stretch.first + 1; i <= stretch.last; ++i)
        out.addSame(scaling(chain.points[i]), static_cast<std::uint32_t>(chain.recordOf(i)));
}

} // namespace rapt
