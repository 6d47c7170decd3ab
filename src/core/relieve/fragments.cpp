#include "relieve/fragments.h"

#include "respace/row_sections.h"

#include <algorithm>
#include <numeric>
#include <utility>

namespace rapt {
namespace {

// A needle point this near before a cut end gives way to it …
constexpr double nearEndMm = 0.5;
constexpr double straightMm = 0.05; // where the thread runs straight on
// … and one this near behind a cut beginning takes its place: what both sides of a cut sew gets
// shorter by it.
constexpr double nearBeginningMm = 0.3;
// Thread may go on over the cloth for so far without a cut, and for twice as far over what stays.
constexpr double nearMm = 1.5;
// Thread that pokes into the area no farther than this, as an end that was cut there before does.
constexpr double crumbMm = 0.02;
// So much of a remain may be seen and it still goes.
constexpr double mostSeenMm2 = 0.5;

/// Ends a fragment at a cut.
void endAt(Fragment& f, Vec2 p, const CutOptions& options) {
    const std::size_t n = f.points.size();
    if (n > 1 && !options.stays(f.records.back()) && distance(f.points.back(), p) < nearEndMm &&
        distanceToSegment(f.points.back(), f.points[n - 2], p) < straightMm) {
        f.points.pop_back();
        f.records.pop_back();
    }
    f.push(p, -1);
}

/// Goes on to the next needle point.
void goOn(Fragment& f, Vec2 p, std::int64_t record) {
    if (f.points.size() == 1 && f.cutAtStart() && distance(f.points[0], p) < nearBeginningMm) {
        f.points.clear();
        f.records.clear();
    }
    f.push(p, record);
}

double hiddenLengthMm(const Fragment& f, const Region& hidden) {
    double sum = 0;
    for (std::size_t i = 1; i < f.points.size(); ++i)
        sum += hidden.insideMm(f.points[i - 1], f.points[i]);
    return sum;
}

/// Which way the rows of a band run, every other one turned round.
Vec2 axisOf(const SewnChain& chain, const SewnStretch& band) {
    Vec2 axis;
    for (std::size_t i = 0; i < band.rows.size(); ++i) {
        const Vec2 d = chain.rowTo(band.rows[i]) - chain.rowFrom(band.rows[i]);
        axis = axis + (i % 2 == 0 ? d : d * -1.0);
    }
    return axis * (1 / std::max(1e-9, length(axis)));
}

/// A fragment parted where rows begin: each piece is what is left of one row and of the step to the
/// next one.
void addRowPieces(const Fragment& f, const SewnChain& chain, const SewnStretch& band,
                  std::vector<Fragment>& pieces, std::vector<std::size_t>& rows) {
    const auto rowAt = [&](std::size_t point) {
        const auto next =
            std::upper_bound(band.rows.begin(), band.rows.end(), point,
                             [](std::size_t p, const SewnRow& row) { return p < row.from; });
        return static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, next - band.rows.begin() - 1));
    };
    const auto begin = [&](std::size_t point) {
        pieces.emplace_back().firstPoint = point;
        rows.push_back(rowAt(point));
    };
    begin(f.firstPoint);
    for (std::size_t i = 0; i < f.points.size(); ++i) {
        pieces.back().push(f.points[i], f.records[i]);
        if (f.records[i] < 0 || i + 1 == f.points.size()) continue;
        const std::size_t point = static_cast<std::size_t>(f.records[i] - chain.recordOf(1)) + 1;
        const std::size_t row = rowAt(point);
        if (row == rows.back()) continue;
        if (pieces.back().points.size() > 1) {
            begin(point);
            pieces.back().push(f.points[i], f.records[i]);
        }
        rows.back() = row; // a fragment that begins with a step belongs to the row it leads to
    }
}

/// The number of the group that each section hangs together with.
std::vector<int> groupsOf(const RowSections& sections) {
    std::vector<int> up(static_cast<std::size_t>(sections.count));
    std::iota(up.begin(), up.end(), 0);
    const auto root = [&](int i) {
        while (up[static_cast<std::size_t>(i)] != i) i = up[static_cast<std::size_t>(i)];
        return i;
    };
    for (const auto& [a, b] : sections.meet) up[static_cast<std::size_t>(root(b))] = root(a);
    for (int i = 0; i < sections.count; ++i) up[static_cast<std::size_t>(i)] = root(i);
    return up;
}

} // namespace

void Fragment::push(Vec2 p, std::int64_t record) {
    if (!points.empty() && points.back() == p && (record < 0 || records.back() < 0)) {
        records.back() = std::max(records.back(), record);
        return;
    }
    points.push_back(p);
    records.push_back(record);
}

bool mayGo(const Fragment& f, const CutOptions& options) {
    return std::none_of(f.records.begin(), f.records.end(),
                        [&](std::int64_t r) { return options.stays(r); });
}

bool touches(const SewnChain& chain, const SewnStretch& stretch, const Region& removed) {
    bool touched = stretch.first == stretch.last && removed.contains(chain.points[stretch.first]);
    for (std::size_t i = stretch.first; i < stretch.last && !touched; ++i)
        removed.eachPart(chain.points[i], chain.points[i + 1], [&](Vec2 a, Vec2 b, bool gone) {
            touched = touched || (gone && distance(a, b) > crumbMm);
        });
    return touched;
}

bool isSewnOn(Vec2 from, Vec2 to, const Region& removed) {
    const double away = distance(from, to);
    return away < nearMm || (away < 2 * nearMm && removed.insideMm(from, to) == 0);
}

std::vector<Fragment> fragmentsOf(const SewnChain& chain, const SewnStretch& stretch,
                                  const Region& removed, const CutOptions& options) {
    std::vector<Fragment> parts;
    Fragment now;
    const auto finish = [&](Vec2 at) {
        if (now.points.empty()) return;
        endAt(now, at, options);
        parts.push_back(std::exchange(now, {}));
    };
    for (std::size_t i = stretch.first; i < stretch.last; ++i) {
        const Vec2 to = chain.points[i + 1];
        removed.eachPart(chain.points[i], to, [&](Vec2 a, Vec2 b, bool gone) {
            if (gone && distance(a, b) > crumbMm) return finish(a);
            if (now.points.empty()) {
                now.push(a, a == chain.points[i] ? chain.recordOf(i) : -1);
                now.firstPoint = i;
            }
            if (b == to) goOn(now, to, chain.recordOf(i + 1));
        });
    }
    if (stretch.first == stretch.last && !removed.contains(chain.points[stretch.first]))
        now.push(chain.points[stretch.first], chain.recordOf(stretch.first));
    if (!now.points.empty()) parts.push_back(std::move(now));
    return parts;
}

std::vector<Fragment> leftOfBand(const SewnChain& chain, const SewnStretch& band,
                                 const Region& removed, const Region& hidden,
                                 const CutOptions& options) {
    std::vector<Fragment> pieces;
    std::vector<std::size_t> rows;
    for (const Fragment& f : fragmentsOf(chain, band, removed, options)) {
        const bool cut = f.cutAtStart() || f.cutAtEnd();
        if (cut && lengthOf(f.points) < options.leastPieceMm && mayGo(f, options)) continue;
        addRowPieces(f, chain, band, pieces, rows);
    }
    const Vec2 axis = axisOf(chain, band);
    std::vector<RowExtent> extents;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        RowExtent extent{rows[i], 1e18, -1e18};
        for (const Vec2& p : pieces[i].points) {
            extent.low = std::min(extent.low, dot(p, axis));
            extent.high = std::max(extent.high, dot(p, axis));
        }
        extents.push_back(extent);
    }
    const RowSections sections = sectionsOf(extents);
    const std::vector<int> groupOf = groupsOf(sections);
    std::vector<double> area(groupOf.size(), 0), seen(groupOf.size(), 0);
    const auto group = [&](std::size_t piece) {
        const auto section = static_cast<std::size_t>(sections.sectionOf[piece]);
        return static_cast<std::size_t>(groupOf[section]);
    };
    for (std::size_t i = 0; i < pieces.size() && options.leastRemainMm2 > 0; ++i) {
        const double size = lengthOf(pieces[i].points);
        area[group(i)] += size * band.rowDistanceMm();
        seen[group(i)] += (size - hiddenLengthMm(pieces[i], hidden)) * band.rowDistanceMm();
    }
    std::vector<std::vector<std::size_t>> bySection(groupOf.size());
    for (std::size_t i = 0; i < pieces.size(); ++i)
        if (!(options.leastRemainMm2 > 0 && area[group(i)] < options.leastRemainMm2 &&
              seen[group(i)] < mostSeenMm2))
            bySection[static_cast<std::size_t>(sections.sectionOf[i])].push_back(i);
    std::vector<Fragment> ordered;
    for (const auto& section : bySection)
        for (const std::size_t i : section) ordered.push_back(std::move(pieces[i]));
    return ordered;
}

} // namespace rapt
