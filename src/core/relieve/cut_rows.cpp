#include "relieve/cut_rows.h"

#include "respace/row_sections.h"

#include <numeric>
#include <utility>

namespace rapt {
namespace {

// Ends of cut rows that are so near count as one.
constexpr double nearEndMm = 0.5;
// Thread may cross so much of what was removed, from one cut row to the next.
constexpr double mostAcrossMm = 1.0;
// So much of a remain may be seen and it still goes.
constexpr double mostSeenMm2 = 0.5;

/// A part of one row outside the area, in the way the row runs.
struct RowPiece {
    std::size_t row = 0;
    Polyline points;
    bool cutAtStart = false, cutAtEnd = false;
    double low = 0, high = 0; ///< along the rows
    int section = -1;
};

class RowCut {
public:
    RowCut(const SewnChain& c, const SewnStretch& b, const Region& r, const Region& h,
           const CutOptions& o)
        : chain(c), band(b), removed(r), hidden(h), options(o) {}

    std::vector<Fragment> run() {
        findAxis();
        for (std::size_t i = 0; i < band.rows.size(); ++i) cutRow(i);
        makeSections();
        dropRemains(options.leastRemainMm2);
        std::vector<Fragment> parts;
        for (int s = 0; s < sections.count; ++s) sew(s, parts);
        return parts;
    }

private:
    void findAxis() {
        for (std::size_t i = 0; i < band.rows.size(); ++i) {
            const Vec2 d = chain.rowTo(band.rows[i]) - chain.rowFrom(band.rows[i]);
            axis = axis + (i % 2 == 0 ? d : d * -1.0);
        }
        axis = axis * (1 / std::max(1e-9, length(axis)));
    }

    void cutRow(std::size_t i) {
        const SewnRow& row = band.rows[i];
        RowPiece now;
        const auto begin = [&](Vec2 p, bool cut) {
            now = {};
            now.row = i;
            now.cutAtStart = cut;
            now.points.push_back(p);
        };
        const auto finish = [&](bool cut) {
            if (now.points.empty()) return;
            now.cutAtEnd = cut;
            const double size = lengthOf(now.points);
            if (size >= options.leastPieceMm || (!now.cutAtStart && !now.cutAtEnd)) keep(now);
            now = {};
        };
        if (!removed.contains(chain.points[row.from])) begin(chain.points[row.from], false);
        for (std::uint32_t k = row.from; k < row.to; ++k) {
            removed.eachPart(chain.points[k], chain.points[k + 1],
                             [&](Vec2 from, Vec2 to, bool gone) {
                                 if (gone) return finish(true);
                                 if (now.points.empty()) begin(from, true);
                                 addPoint(now, to);
                             });
        }
        finish(false);
    }

    /// The end of a cut row must not lie too near to the needle point before it.
    static void addPoint(RowPiece& piece, Vec2 p) {
        if (piece.points.size() > 1 && distance(piece.points.back(), p) < nearEndMm)
            piece.points.back() = p;
        else
            piece.points.push_back(p);
    }

    void keep(const RowPiece& piece) {
        RowPiece p = piece;
        const double a = dot(p.points.front(), axis), b = dot(p.points.back(), axis);
        p.low = std::min(a, b);
        p.high = std::max(a, b);
        pieces.push_back(std::move(p));
    }

    void makeSections() {
        std::vector<RowExtent> extents;
        for (const RowPiece& p : pieces) extents.push_back({p.row, p.low, p.high});
        sections = sectionsOf(extents);
        for (std::size_t i = 0; i < pieces.size(); ++i) pieces[i].section = sections.sectionOf[i];
    }

    /// Sections that hang together are one remain; small hidden ones go.
    void dropRemains(double leastMm2) {
        std::vector<int> group(static_cast<std::size_t>(sections.count));
        std::iota(group.begin(), group.end(), 0);
        for (std::size_t pass = 0; pass < sections.meet.size(); ++pass) {
            bool changed = false;
            for (const auto& [a, b] : sections.meet) {
                int& x = group[static_cast<std::size_t>(a)];
                int& y = group[static_cast<std::size_t>(b)];
                changed = changed || x != y;
                x = y = std::min(x, y);
            }
            if (!changed) break;
        }
        const double apart = band.rowDistanceMm();
        std::vector<double> area(group.size(), 0), seen(group.size(), 0);
        for (const RowPiece& p : pieces) {
            const auto g = static_cast<std::size_t>(group[static_cast<std::size_t>(p.section)]);
            area[g] += lengthOf(p.points) * apart;
            for (std::size_t i = 1; i < p.points.size(); ++i)
                seen[g] += (distance(p.points[i - 1], p.points[i]) -
                            hidden.insideMm(p.points[i - 1], p.points[i])) *
                           apart;
        }
        std::erase_if(pieces, [&](const RowPiece& p) {
            const auto g = static_cast<std::size_t>(group[static_cast<std::size_t>(p.section)]);
            return area[g] < leastMm2 && seen[g] < mostSeenMm2;
        });
    }

    /// The rows of one section, with the steps between whole ends as they were. Where the thread
    /// would go over what was removed a new fragment begins.
    void sew(int section, std::vector<Fragment>& parts) const {
        Fragment f;
        const RowPiece* last = nullptr;
        for (const RowPiece& p : pieces) {
            if (p.section != section) continue;
            const bool whole = last && !last->cutAtEnd && !p.cutAtStart;
            if (last && !whole && removed.insideMm(f.points.back(), p.points[0]) > mostAcrossMm)
                parts.push_back(std::exchange(f, {}));
            else if (whole)
                for (std::uint32_t k = band.rows[last->row].to + 1; k < band.rows[p.row].from; ++k)
                    f.points.push_back(chain.points[k]);
            addPiece(p, last && !whole, f);
            last = &p;
        }
        if (f.points.size() > 1) parts.push_back(std::move(f));
    }

    /// At a cut edge a row begins where the last one ended, if that is near.
    static void addPiece(const RowPiece& p, bool atCut, Fragment& f) {
        for (std::size_t i = 0; i < p.points.size(); ++i) {
            if (!f.points.empty()) {
                const Vec2 end = f.points.back();
                if (end == p.points[i]) continue;
                if (i == 0 && atCut && distance(end, p.points[0]) < nearEndMm) continue;
            }
            f.points.push_back(p.points[i]);
        }
    }

    const SewnChain& chain;
    const SewnStretch& band;
    const Region& removed;
    const Region& hidden;
    const CutOptions& options;
    Vec2 axis;
    std::vector<RowPiece> pieces;
    RowSections sections;
};

} // namespace

std::vector<Fragment> cutRows(const SewnChain& chain, const SewnStretch& band,
                              const Region& removed, const Region& hidden,
                              const CutOptions& options) {
    return RowCut(chain, band, removed, hidden, options).run();
}

} // namespace rapt
