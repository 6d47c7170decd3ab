// Fills: rows at the same distance, with the same stitches, between the scaled ends of the rows.

#include "respace/laying.h"
#include "respace/stagger.h"

namespace rapt {
namespace {

// End rows move out by no more rows than this.
constexpr double mostBeyond = 2;

/// The ends of the rows on one side, asked for anywhere between the rows. Scaled.
class RowEnds {
public:
    void add(double row, Vec2 p) {
        if (!rows.empty() && row <= rows.back()) return;
        rows.push_back(row);
        points.push_back(p);
    }

    /// Beyond the first and last row the side goes straight on, for a little.
    Vec2 at(double row) {
        if (points.size() == 1) return points[0];
        while (now + 2 < rows.size() && rows[now + 1] <= row) ++now;
        while (now > 0 && rows[now] > row) --now;
        const double t = (row - rows[now]) / (rows[now + 1] - rows[now]);
        return lerp(points[now], points[now + 1], std::clamp(t, -mostBeyond, 1 + mostBeyond));
    }

private:
    std::vector<double> rows;
    std::vector<Vec2> points;
    std::size_t now = 0;
};

// Rows may be drawn apart or pushed together by this share, so that they come out even.
constexpr double mostStretch = 0.04;
// The first and last row may lie so far from the scaled outline; towards another band they may move
// by this share of a row.
constexpr double inwardMm = 0.15, outwardMm = 0.2, neighbourSlack = 0.25;

class FillLayer {
public:
    FillLayer(const SewnChain& c, const SewnStretch& s, const Scaling& k, double ratio,
              const ThreadHabits& habits, NeedlePath& o)
        : chain(c), stretch(s), scaling(k), spacingRatio(ratio), stagger(c, s, habits), out(o) {}

    void run(BandEnds neighbours) {
        collectEnds();
        countRows();
        const double grown = scaling.along(stagger.axis());
        stagger.stretch(grown / std::max(1e-9, scaling.kept(grown)));
        const RowPlan plan = planRows(neighbours);
        for (int j = 0; j < plan.rows; ++j)
            layRow(static_cast<std::size_t>(j), rowAt(plan.first + plan.step * j));
        out.fix(out.points.back());
    }

private:
    /// Which rows are laid, counted as `sums` counts them.
    struct RowPlan {
        int rows = 1;
        double first = 0, step = 1;
    };

    /// The rows end on the side where they ended; so they can only be some number more or two more.
    /// Rather fewer: rows drawn apart by a hair weigh no more than before. Where few rows would be
    /// drawn apart too far, the first and last move in a little, or the number is rounded up.
    RowPlan planRows(BandEnds neighbours) const {
        const double last = static_cast<double>(stretch.rows.size() - 1);
        // Towards a neighbouring band the rows go on to the middle of the gap between both.
        const double begin = neighbours.first ? sumAt(-0.5) + 0.5 : sumAt(0);
        const double end = neighbours.last ? sumAt(last + 0.5) - 0.5 : sumAt(last);
        const int odd = static_cast<int>(stretch.rows.size() % 2);
        const int fewer = std::max(
            2 - odd, 2 * static_cast<int>(std::floor((end - begin + 1 - odd) / 2 + 1e-9)) + odd);
        RowPlan plan = planOf(fewer, begin, end, neighbours);
        if (std::abs(plan.step - 1) > 1.2 * mostStretch) {
            const RowPlan more = planOf(fewer + 2, begin, end, neighbours);
            if (std::abs(more.step - 1) < std::abs(plan.step - 1)) plan = more;
        }
        return plan;
    }

    /// So many rows between two ends, which give way only as far as the rows need it.
    RowPlan planOf(int rows, double begin, double end, BandEnds neighbours) const {
        if (rows == 1) return {1, (begin + end) / 2, 1};
        const double gaps = rows - 1;
        const double left = end - begin - gaps;
        // Rows pushed together weigh more: there the ends give way before the rows do.
        const double wanted = left < 0 ? left : std::max(0.0, left - mostStretch * gaps);
        const double atFirst = slackOf(neighbours.first, wanted);
        const double atLast = slackOf(neighbours.last, wanted);
        return {rows, begin + atFirst, (end - atLast - begin - atFirst) / gaps};
    }

    /// How far an end row moves in (out if negative) to take up half of what is left over, in rows.
    double slackOf(bool neighbour, double left) const {
        const double room =
            neighbour ? neighbourSlack
                      : std::min(0.5, (left < 0 ? outwardMm : inwardMm) /
                                          std::max(0.01, stretch.spacingMm / spacingRatio));
        return std::clamp(left / 2, -room, room);
    }

    void collectEnds() {
        std::size_t shared = 0;
        for (std::size_t i = 0; i < stretch.rows.size(); ++i) {
            const SewnRow& row = stretch.rows[i];
            const bool forth = i % 2 == 0;
            const bool joined = i > 0 && stretch.rows[i - 1].to == row.from;
            shared += joined;
            const auto t = static_cast<double>(i);
            if (!joined) (forth ? near : far).add(t, scaling(chain.rowFrom(row)));
            (forth ? far : near).add(t, scaling(chain.rowTo(row)));
        }
        stepsBetween = shared * 2 < stretch.rows.size();
    }

    /// How many rows are needed from the first row to each.
    void countRows() {
        sums.reserve(stretch.rows.size());
        sums.push_back(0);
        const bool even = scaling.x == scaling.y;
        const double everywhere = scaling.kept(std::abs(scaling.x)) * spacingRatio;
        for (std::size_t i = 0; i + 1 < stretch.rows.size(); ++i) {
            double ratio = everywhere;
            if (!even) {
                const Vec2 way = chain.rowTo(stretch.rows[i]) - chain.rowFrom(stretch.rows[i]);
                const double size = length(way);
                const Vec2 unit = size > 0 ? way * (1 / size) : stagger.axis();
                ratio = scaling.kept(scaling.across(unit)) * spacingRatio;
            }
            sums.push_back(sums.back() + std::max(1e-6, ratio));
        }
    }

    double sumAt(double row) const {
        const double slopeFirst = sums[1] - sums[0];
        const double slopeLast = sums.back() - sums[sums.size() - 2];
        if (row <= 0) return row * slopeFirst;
        const double last = static_cast<double>(sums.size() - 1);
        return sums.back() + (row - last) * slopeLast;
    }

    double rowAt(double sum) {
        while (now + 2 < sums.size() && sums[now + 1] < sum) ++now;
        return static_cast<double>(now) + (sum - sums[now]) / (sums[now + 1] - sums[now]);
    }

    void layRow(std::size_t number, double t) {
        const bool forth = number % 2 == 0;
        const Vec2 from = forth ? near.at(t) : far.at(t);
        const Vec2 to = forth ? far.at(t) : near.at(t);
        if (number > 0) {
            if (stepsBetween)
                out.addNear(from);
            else
                out.add(from);
        } else {
            out.moveTo(from);
        }
        stagger.pointsOf(from, to, number, inner);
        const double size = distance(from, to);
        for (const double d : inner) out.add(lerp(from, to, d / size));
        // Rows of a tip are shorter than a stitch should be, but they are its outline.
        out.addNear(to);
    }

    const SewnChain& chain;
    const SewnStretch& stretch;
    const Scaling& scaling;
    double spacingRatio;
    Stagger stagger;
    NeedlePath& out;
    RowEnds near, far; ///< where even rows start, and where they end
    bool stepsBetween = false;
    std::vector<double> sums;
    std::size_t now = 0;
    std::vector<double> inner;
};

} // namespace

void layFill(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
             double spacingRatio, const ThreadHabits& habits, BandEnds neighbours,
             NeedlePath& out) {
    FillLayer(chain, stretch, scaling, spacingRatio, habits, out).run(neighbours);
}

} // namespace rapt
