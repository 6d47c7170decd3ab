#include "respace/bands.h"

namespace rapt {
namespace {

// Fewer rows than these are no satin and no fill, only a run that turns.
constexpr std::size_t leastCrossings = 4, leastRows = 3;
// Neighbouring rows keep their distance within these factors, or something else begins.
constexpr double leastChange = 0.4, mostChange = 2.6;
// At most so many legs lead from the end of one row to the next.
constexpr std::size_t mostSteps = 2;
// The outline leaps where row ends move by so much, and so many times as far as before and after.
constexpr double leastLeapMm = 3, leapFactor = 3;

/// Follows rows from leg to leg.
class BandWalker {
public:
    BandWalker(const std::vector<Leg>& l, std::size_t start) : legs(l), rows{start} {}

    void run() {
        while (step()) {
        }
    }

    const std::vector<Leg>& legs;
    std::vector<std::size_t> rows; ///< legs
    double spacingSum = 0;         ///< of all pairs
    std::size_t joined = 0;        ///< pairs that share a point

private:
    bool step() {
        const std::size_t now = rows.back();
        const Leg& row = legs[now];
        if (now + 1 < legs.size())
            if (const auto offset = besideEachOther(row, legs[now + 1]))
                if (accept(now + 1, *offset)) return true;
        double stepMm = 0;
        for (std::size_t k = 1; k <= mostSteps && now + k + 1 < legs.size(); ++k) {
            stepMm += legs[now + k].size;
            const Leg& next = legs[now + k + 1];
            const auto offset = besideEachOther(row, next);
            // The steps go straight to the next row and are shorter than the rows.
            if (!offset || stepMm > 1.3 * distance(row.b, next.a) + 0.2) continue;
            if (stepMm > std::max(row.size, next.size)) continue;
            if (accept(now + k + 1, *offset)) return true;
        }
        if (now + 1 < legs.size())
            if (const auto offset = zigzag(row, legs[now + 1])) return accept(now + 1, *offset);
        return false;
    }

    bool accept(std::size_t next, double offset) {
        // Seen along the first row, every band goes on to one side.
        const double side = rows.size() % 2 == 1 ? offset : -offset;
        if (rows.size() > 1) {
            if (side * sideways < 0) return false;
            const double mean = spacingSum / static_cast<double>(rows.size() - 1);
            if (std::abs(side) < leastChange * mean || std::abs(side) > mostChange * mean)
                return false;
        }
        sideways = side;
        spacingSum += std::abs(side);
        if (legs[rows.back()].to == legs[next].from) ++joined;
        rows.push_back(next);
        return true;
    }

    double sideways = 0;
};

SewnStretch stretchOf(const BandWalker& band) {
    SewnStretch s;
    std::size_t singles = 0;
    for (const std::size_t i : band.rows) {
        const Leg& leg = band.legs[i];
        s.rows.push_back({leg.from, leg.to});
        singles += leg.isSingle();
    }
    const std::size_t n = s.rows.size();
    const bool satin = singles == n && band.joined == n - 1;
    s.kind = satin ? StretchKind::satin : StretchKind::fill;
    // Neighbouring crossings of a satin are half a pitch apart.
    s.spacingMm = (satin ? 2 : 1) * band.spacingSum / static_cast<double>(n - 1);
    return s;
}

/// The longest stitch of a row without its first one (unless that is all), which may climb.
std::uint32_t mainStitch(const SewnRow& row, std::span<const Vec2> points) {
    std::uint32_t longest = row.to - 1;
    for (std::uint32_t k = row.from + 1; k < row.to; ++k)
        if (distance(points[k], points[k + 1]) > distance(points[longest], points[longest + 1]))
            longest = k;
    return longest;
}

/// Distance of a point from the line of a stitch, carried on both ways.
double beside(Vec2 p, std::uint32_t stitch, std::span<const Vec2> points) {
    const Vec2 way = points[stitch + 1] - points[stitch];
    return std::abs(cross(way, p - points[stitch])) / std::max(1e-9, length(way));
}

/// True if the last stitch of a row leads to the line of the next one.
bool climbsAtEnd(const SewnRow& row, const SewnRow& next, double spacing,
                 std::span<const Vec2> points) {
    if (row.to - row.from < 2) return false;
    const Vec2 end = points[row.to];
    const SewnRow rest{row.from, row.to - 1};
    return beside(end, mainStitch(rest, points), points) > 0.5 * spacing &&
           beside(end, mainStitch(next, points), points) < 0.3 * spacing;
}

/// True if the first stitch of a row leads to its line.
bool climbsAtStart(const SewnRow& row, double spacing, std::span<const Vec2> points) {
    return row.to - row.from > 1 &&
           beside(points[row.from], mainStitch(row, points), points) > 0.5 * spacing;
}

/// True if the second point of a row could be where the outline has gone to: then the end of the
/// next row, on the same side, lies still farther in. Otherwise it is a needle point inside.
bool followsOutline(const SewnStretch& fill, std::size_t i, std::span<const Vec2> points) {
    const SewnRow& row = fill.rows[i];
    if (i + 1 >= fill.rows.size()) return true;
    const Vec2 way = points[row.to] - points[row.from];
    const double second = dot(way, points[row.from + 1] - points[row.from]);
    return dot(way, points[fill.rows[i + 1].to] - points[row.from]) > 0.75 * second;
}

/// Along a shallow outline the step to the next row looks like a part of one of the two rows. Takes
/// it out of them: surely where a row would climb at its end, and at a start where the fill
/// plainly steps elsewhere. (Other fills have no steps: a row starts where the last one ended.)
void separateSteps(SewnStretch& fill, std::span<const Vec2> points) {
    std::vector<std::size_t> unsure;
    std::size_t steps = 0;
    for (std::size_t i = 0; i + 1 < fill.rows.size(); ++i) {
        SewnRow& row = fill.rows[i];
        const SewnRow& next = fill.rows[i + 1];
        if (row.to != next.from) {
            ++steps;
        } else if (climbsAtEnd(row, next, fill.spacingMm, points)) {
            --row.to;
            ++steps;
        } else if (climbsAtStart(next, fill.spacingMm, points)) {
            unsure.push_back(i + 1);
        }
    }
    if (steps * 4 < fill.rows.size()) return;
    for (const std::size_t i : unsure)
        if (followsOutline(fill, i, points)) ++fill.rows[i].from;
}

/// Thread that runs along the first row of a fill to its start, or back along its last one, is no
/// row: the point between both lies on the line of the later one, not beside it.
void dropTravel(SewnStretch& fill, std::span<const Vec2> points) {
    const auto sameLine = [&](const SewnRow& row, const SewnRow& next) {
        return row.to == next.from && next.to - next.from > 1 &&
               beside(points[row.to], mainStitch(next, points), points) < 0.3 * fill.spacingMm;
    };
    auto& rows = fill.rows;
    if (rows.size() > leastRows && sameLine(rows[0], rows[1])) rows.erase(rows.begin());
    if (rows.size() > leastRows && sameLine(rows[rows.size() - 2], rows.back())) rows.pop_back();
    fill.first = rows.front().from;
    fill.last = rows.back().to;
}

/// Cuts a fill where its outline leaps: the rows beside a hole, the arm of a letter. Between them
/// no row of half the length must come to lie.
void cutAtLeaps(SewnStretch fill, std::span<const Vec2> points, std::vector<SewnStretch>& out) {
    const std::size_t n = fill.rows.size();
    // How far the ends of two neighbouring rows on one side are apart along the rows.
    const auto leap = [&](std::size_t i, bool nearSide) {
        const SewnRow &a = fill.rows[i], &b = fill.rows[i + 1];
        const Vec2 way = points[a.to] - points[a.from];
        const bool startOfA = (i % 2 == 0) == nearSide;
        const Vec2 d = points[startOfA ? b.to : b.from] - points[startOfA ? a.from : a.to];
        return std::abs(dot(way, d)) / std::max(1e-9, length(way));
    };
    std::size_t from = 0;
    const auto cut = [&](std::size_t end) {
        SewnStretch part;
        part.kind = fill.kind;
        part.spacingMm = fill.spacingMm;
        part.rows.assign(fill.rows.begin() + static_cast<std::ptrdiff_t>(from),
                         fill.rows.begin() + static_cast<std::ptrdiff_t>(end));
        part.first = part.rows.front().from;
        part.last = part.rows.back().to;
        out.push_back(std::move(part));
        from = end;
    };
    for (std::size_t i = 1; i + 2 < n; ++i) {
        if (i + 1 < from + 2) continue;
        for (const bool side : {true, false}) {
            const double here = leap(i, side);
            if (here < leastLeapMm) continue;
            // Where rows share their ends, one row's leap shows at the next row too.
            const double before = leap(i - 1, side), after = leap(i + 1, side);
            if (here < leapFactor * std::max(before, after)) continue;
            cut(i + 1);
            break;
        }
    }
    cut(n);
}

} // namespace

std::vector<SewnStretch> findBands(const std::vector<Leg>& legs, std::span<const Vec2> points) {
    std::vector<SewnStretch> bands;
    for (std::size_t i = 0; i < legs.size();) {
        BandWalker walker(legs, i);
        walker.run();
        const std::size_t least =
            walker.joined + 1 == walker.rows.size() ? leastCrossings : leastRows;
        if (walker.rows.size() < least) {
            ++i;
            continue;
        }
        SewnStretch band = stretchOf(walker);
        if (band.kind == StretchKind::fill) separateSteps(band, points);
        const std::size_t before = bands.size();
        cutAtLeaps(std::move(band), points, bands);
        for (std::size_t k = before; k < bands.size(); ++k)
            if (bands[k].kind == StretchKind::fill) dropTravel(bands[k], points);
        i = walker.rows.back() + 1;
    }
    return bands;
}

} // namespace rapt
