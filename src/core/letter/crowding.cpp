#include "letter/crowding.h"

#include "letter/thread_cover.h"
#include "load/cell_walk.h"
#include "thread/measures.h"

#include <algorithm>

namespace rapt {
namespace {

/// A row end is a point where the thread turns back by more than this.
constexpr double turnBackCosine = 0.5;
constexpr double stepMm = 0.25;
/// Rows are not made shorter than this, and new stitches not shorter or longer than those.
constexpr double leastRowMm = 0.9, leastStitchMm = 0.51, mostStitchMm = 6.5;
/// So much covered ground may be lost by one change: what the raster cannot tell from nothing.
constexpr double lostMm2 = 0.012;
/// Cloth that takes little more than a satin alone has its slits a little wider.
constexpr double lightCloth = 2.5;
constexpr int passes = 3;
/// So many stitches still lie over ground that whole rows are taken from: no slit opens in a satin.
constexpr int leastOver = 2;
constexpr std::size_t mostLeftOut = 12, tiePoints = 3;

// A lettering larger than this (3 m²) is thinned by nobody's eye; its map would not fit.
constexpr double mostCells = 20e6;

/// The averaged load, kept up with every stitch that is added or taken away.
class CrowdMap {
public:
    explicit CrowdMap(const Box& area) {
        const Cell low = cellAt({area.minX, area.minY}), high = cellAt({area.maxX, area.maxY});
        firstI = low.i - half;
        firstJ = low.j - half;
        across = high.i + half + 1 - firstI;
        down = high.j + half + 1 - firstJ;
        values.assign(static_cast<std::size_t>(across) * static_cast<std::size_t>(down), 0);
    }
    void add(const Stitch& a, const Stitch& b, double width) {
        const double layers = spanMm(a, b) * width / (windowMm * windowMm);
        if (layers == 0) return;
        eachCellCrossed(a, b, [&](int i, int j, double share) {
            const auto value = static_cast<float>(layers * share);
            for (int y = j - half; y <= j + half; ++y)
                for (int x = i - half; x <= i + half; ++x)
                    if (isInside(x, y)) values[place(x, y)] += value;
        });
    }
    double at(Vec2 p) const {
        const Cell c = cellAt(p);
        return isInside(c.i, c.j) ? values[place(c.i, c.j)] : 0;
    }
    double peak() const { return *std::max_element(values.begin(), values.end()); }

private:
    static constexpr int half = windowCells / 2;
    bool isInside(int i, int j) const {
        return i >= firstI && j >= firstJ && i < firstI + across && j < firstJ + down;
    }
    std::size_t place(int i, int j) const {
        return static_cast<std::size_t>(j - firstJ) * static_cast<std::size_t>(across) +
               static_cast<std::size_t>(i - firstI);
    }

    int firstI = 0, firstJ = 0, across = 0, down = 0;
    std::vector<float> values;
};

/// The needle points of one list with what they cover and how heavy they lie.
class Thinner {
public:
    Thinner(StitchList& l, double most, const Box& area)
        : list(l), limit(most), widths(widthTable(l)), cover(area, most < lightCloth ? 0.38 : 0.34),
          map(area) {}

    void run() {
        for (std::size_t i = 1; i < list.stitches.size(); ++i)
            if (laysThread(i)) weigh(i - 1, i + 1, 1);
        for (std::size_t i = 1; i < list.stitches.size(); ++i)
            if (laysThread(i)) cover.add(at(i - 1), at(i));
        for (int pass = 0; pass < passes; ++pass)
            if (!mergeShort()) break;
        if (map.peak() <= limit) return;
        for (int pass = 0; pass < passes; ++pass) {
            stuck.resize(list.stitches.size());
            needed.resize(list.stitches.size());
            bool any = false;
            for (std::size_t i = 1; i + 2 < list.stitches.size(); ++i) any = leaveOut(i) || any;
            dropGone();
            // Every other row of a side first, so that those that stay are evenly spread.
            for (const std::size_t parity : {std::size_t{0}, std::size_t{1}})
                for (std::size_t i = 1; i + 1 < list.stitches.size(); ++i)
                    if ((i / 2) % 2 == parity) any = drawBack(i) || any;
            if (!any || map.peak() <= limit) return;
        }
    }

private:
    Vec2 at(std::size_t i) const { return list.stitches[i].at(); }
    bool isStitch(std::size_t i) const { return list.stitches[i].op == Op::stitch; }
    bool laysThread(std::size_t i) const {
        return i > 0 && isStitch(i) && (isStitch(i - 1) || list.stitches[i - 1].op == Op::jump);
    }
    bool isGone(std::size_t i) const { return i < gone.size() && gone[i]; }

    /// A place that the needle turns back at.
    bool turnsBack(std::size_t i) const {
        if (!isStitch(i - 1) || !isStitch(i) || !isStitch(i + 1)) return false;
        if (isGone(i - 1) || isGone(i) || isGone(i + 1)) return false;
        const Vec2 a = at(i - 1) - at(i), b = at(i + 1) - at(i);
        const double size = length(a) * length(b);
        return size > 0 && dot(a, b) > turnBackCosine * size;
    }
    /// The load that a row end adds to: there, and half a window further in, where the window of
    /// a place near the edge lies wholly on the column.
    double heat(Vec2 end, Vec2 inwards) const {
        const double size = distance(end, inwards);
        const double deep = std::min(size, windowMm / 2);
        return std::max(map.at(end), map.at(end + (inwards - end) * (deep / std::max(size, 1e-9))));
    }

    /// The two stitches at a point with the point at another place; false (and nothing done) if
    /// that bares ground.
    bool moveTo(std::size_t i, Vec2 to) {
        const Vec2 from = at(i), before = at(i - 1), after = at(i + 1);
        cover.add(before, to);
        cover.add(to, after);
        const double lost = cover.remove(before, from) + cover.remove(from, after);
        if (lost > lostMm2) {
            cover.add(before, from);
            cover.add(from, after);
            (void)cover.remove(before, to);
            (void)cover.remove(to, after);
            return false;
        }
        weigh(i - 1, i + 2, -1);
        list.stitches[i] = stitchAt(Op::stitch, to, list.stitches[i].thread);
        weigh(i - 1, i + 2, 1);
        return true;
    }
    void weigh(std::size_t before, std::size_t last, double sign) {
        for (std::size_t i = before + 1; i < last; ++i)
            map.add(list.stitches[i - 1], list.stitches[i], sign * widths[list.stitches[i].thread]);
    }

    bool drawBack(std::size_t i) {
        bool moved = false;
        while (!stuck[i] && turnsBack(i)) {
            const Vec2 p = at(i), middle = lerp(at(i - 1), at(i + 1), 0.5);
            const double size = distance(p, middle);
            if (size < leastRowMm + stepMm || heat(p, middle) <= limit) break;
            const Vec2 to = p + (middle - p) * (stepMm / size);
            if (distance(to, at(i - 1)) < leastStitchMm || distance(to, at(i + 1)) < leastStitchMm)
                break;
            if (!moveTo(i, to)) {
                // Others may be drawn back meanwhile, but none comes nearer.
                stuck[i] = true;
                break;
            }
            moved = true;
        }
        return moved;
    }

    /// Points that only chew the cloth: the needle has just been there.
    bool mergeShort() {
        bool any = false;
        stuck.assign(list.stitches.size(), false);
        for (std::size_t i = 1; i < list.stitches.size(); ++i) {
            if (!laysThread(i) || isGone(i) || isGone(i - 1)) continue;
            const double size = spanMm(list.stitches[i - 1], list.stitches[i]);
            if (size == 0 || size >= shortStitchMm) continue;
            any = (isWithin(i) && leaveOut(i, i + 1, 1)) ||
                  (isWithin(i - 1) && leaveOut(i - 1, i, 1)) || any;
        }
        dropGone();
        return any;
    }

    /// As many neighbouring points as possible go: the thread runs straight on over them. Rows go
    /// in pairs of ends, so that the others keep their sides.
    bool leaveOut(std::size_t i) {
        // Cover only ever falls: what was needed once is needed from then on.
        if (needed[i] || !isHot(i)) return false;
        std::size_t hot = 1;
        while (hot < mostLeftOut && isHot(i + hot)) ++hot;
        for (std::size_t count = hot & ~std::size_t{1}; count > 0;
             count = (count / 2) & ~std::size_t{1})
            if (leaveOut(i, i + count)) return true;
        const bool went = !turnsBack(i) && leaveOut(i, i + 1);
        needed[i] = !went;
        return went;
    }
    /// A point within a run of thread; its ends and their ties stay.
    bool isWithin(std::size_t i) const {
        if (i < tiePoints || i + tiePoints >= list.stitches.size() || isGone(i)) return false;
        for (std::size_t k = i - tiePoints; k <= i + tiePoints; ++k)
            if (!isStitch(k)) return false;
        return true;
    }
    bool isHot(std::size_t i) const {
        return isWithin(i) && heat(at(i), lerp(at(i - 1), at(i + 1), 0.5)) > limit;
    }
    bool leaveOut(std::size_t first, std::size_t last, int over = leastOver) {
        const std::size_t from = first - 1;
        if (isGone(from) || isGone(last)) return false;
        const double size = distance(at(from), at(last));
        if (size < leastStitchMm || size > mostStitchMm) return false;
        cover.add(at(from), at(last));
        double lost = 0;
        for (std::size_t k = first; k <= last; ++k) lost += cover.remove(at(k - 1), at(k), over);
        if (lost > lostMm2) {
            for (std::size_t k = first; k <= last; ++k) cover.add(at(k - 1), at(k));
            (void)cover.remove(at(from), at(last));
            return false;
        }
        weigh(from, last + 1, -1);
        gone.resize(list.stitches.size());
        for (std::size_t k = first; k < last; ++k) gone[k] = true;
        map.add(list.stitches[from], list.stitches[last], widths[list.stitches[last].thread]);
        return true;
    }
    void dropGone() {
        if (gone.empty()) return;
        std::size_t to = 0;
        for (std::size_t i = 0; i < list.stitches.size(); ++i) {
            if (isGone(i)) continue;
            stuck[to] = stuck[i];
            if (!needed.empty()) needed[to] = needed[i];
            list.stitches[to++] = list.stitches[i];
        }
        list.stitches.resize(to);
        stuck.resize(to);
        needed.resize(needed.empty() ? 0 : to);
        gone.clear();
    }

    StitchList& list;
    double limit;
    std::array<float, 256> widths;
    ThreadCover cover;
    CrowdMap map;
    std::vector<bool> gone, stuck; ///< of each record; stuck ends would bare ground
    std::vector<bool> needed;      ///< from there on none can be left out
};

} // namespace

double thinningTarget(double mostLayers) {
    const double most = mostLayers > 0 ? std::min(mostLayers, usualMostLayers) : usualMostLayers;
    return std::max(2.05, most - 0.15);
}

void thinCrowdedRows(StitchList& list, double mostLayers) {
    Box area;
    for (const Stitch& s : list.stitches)
        if (s.op == Op::stitch) area.add(s.at());
    const double cells = area.width() * area.height() / (cellMm * cellMm);
    if (!area.empty() && cells < mostCells) Thinner(list, mostLayers, area).run();
}

} // namespace rapt
