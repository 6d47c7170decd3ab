#include "divide/cutting.h"

#include "divide/cuts.h"
#include "divide/frames.h"

#include <numbers>

namespace rapt {
namespace {

// A side reaches so far beyond its path: half of the overlap, and where rows end staggered.
constexpr double beyondMm = cutOverlapMm / 2 + 0.45;
constexpr double widestBandMm = 30;

/// A field as a box whose sides are the ways that cuts may run.
struct Window {
    double turnDeg = 0, width = 0, height = 0;
};

std::vector<Window> windowsOf(const std::vector<Hoop>& hoops, double marginMm) {
    std::vector<Window> windows;
    for (const Hoop& h : hoops)
        for (const double turn : h.turns)
            for (const FramePosition& p : h.positions) {
                // The largest box of its proportions in an oval, or between rounded corners.
                const double share = h.shape == Hoop::Shape::oval ? std::numbers::sqrt2 / 2 : 1;
                const double less =
                    2 * marginMm + (h.shape == Hoop::Shape::rounded
                                        ? 2 * h.cornerMm * (1 - std::numbers::sqrt2 / 2)
                                        : 0);
                windows.push_back(
                    {turn + p.turnDeg, h.widthMm * share - less, h.heightMm * share - less});
            }
    return windows;
}

/// How many windows lie over a length.
int countOver(double size, double window) {
    if (size <= window + fieldRoundingMm) return 1;
    const double each = window - 2 * beyondMm;
    if (each <= 1) return 1'000'000;
    return static_cast<int>(std::ceil((size - 2 * beyondMm) / each - 1e-9));
}

} // namespace

std::vector<Cut> cutsFor(const Part& part, int element, const std::vector<Hoop>& hoops,
                         double marginMm, bool straight) {
    const Window* best = nullptr;
    int across = 0, down = 0;
    Box bestBox;
    const std::vector<Window> windows = windowsOf(hoops, marginMm);
    for (const Window& w : windows) {
        Box box;
        for (const Vec2& v : part.hull) box.add(turned(v, -w.turnDeg));
        const int nx = countOver(box.width(), w.width), ny = countOver(box.height(), w.height);
        if (nx >= 1'000'000 || ny >= 1'000'000 || (best && nx * ny >= across * down)) continue;
        best = &w;
        bestBox = box;
        across = nx;
        down = ny;
    }
    if (!best) return {};
    StitchList placed = *part.list;
    for (Stitch& s : placed.stitches) s = stitchAt(s.op, part.map(s.at()), s.thread);
    std::vector<Cut> cuts;
    const auto add = [&](Vec2 along, double low, double size, double window, int n) {
        // Every side may be so much longer than its even share.
        const double even = size / n;
        const double half = std::clamp((window - 2 * beyondMm - even) / 2, 0.0,
                                       std::min(widestBandMm, even / 3) / 2);
        for (int k = 1; k < n; ++k)
            cuts.push_back(
                {part.piece, element,
                 cutPath(placed, along, low + even * k - half, low + even * k + half, straight)});
    };
    add(turned({1, 0}, best->turnDeg), bestBox.minX, bestBox.width(), best->width, across);
    add(turned({0, 1}, best->turnDeg), bestBox.minY, bestBox.height(), best->height, down);
    return cuts;
}

std::size_t threadsAcross(const StitchedJob& stitched, const Cut& cut) {
    const Box box = boundsOf(cut.path);
    std::size_t count = 0;
    for (const PieceSpan& span : stitched.spans) {
        if (span.id != cut.piece) continue;
        for (std::size_t i = span.first + 1; i < span.last; ++i) {
            const Stitch& s = stitched.list.stitches[i];
            const Stitch& last = stitched.list.stitches[i - 1];
            if (s.op != Op::stitch || last.op != Op::stitch) continue;
            Box thread;
            thread.add(last.at());
            thread.add(s.at());
            if (!thread.overlaps(box)) continue;
            for (std::size_t k = 1; k < cut.path.size(); ++k) {
                const Vec2 a = cut.path[k - 1], b = cut.path[k];
                const auto side = [](Vec2 p, Vec2 from, Vec2 to) {
                    return cross(to - from, p - from);
                };
                if (side(last.at(), a, b) * side(s.at(), a, b) < 0 &&
                    side(a, last.at(), s.at()) * side(b, last.at(), s.at()) < 0)
                    ++count;
            }
        }
    }
    return count;
}

} // namespace rapt
