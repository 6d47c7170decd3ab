// Contours at a distance from thread: marching squares (Lorensen and Cline 1987, in two dimensions)
// over the exact distance, each vertex then moved onto it.

#include "geometry/segment_grid.h"
#include "job/outline.h"
#include "thread/measures.h"

#include <unordered_map>

namespace rapt {
namespace {

constexpr double finestMm = 0.4;
constexpr double coarsestMm = 0.8;
constexpr double mostNodes = 2e6;

std::vector<Segment> segmentsOf(const StitchList& list) {
    std::vector<Segment> segments;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Vec2 at = list.stitches[i].at();
        segments.push_back({from && from->op == Op::stitch ? from->at() : at, at});
    });
    return segments;
}

/// Traces the line where the distance is the wanted one.
class Tracer {
public:
    Tracer(const SegmentGrid& g, double o) : grid(g), offset(o) {
        area = grid.bounds().grown(offset);
        step = std::clamp(offset / 3, finestMm, coarsestMm);
        step = std::max(step, std::sqrt(area.width() * area.height() / mostNodes));
        area = area.grown(2 * step);
        columns = static_cast<int>(area.width() / step) + 2;
        rows = static_cast<int>(area.height() / step) + 2;
        values.resize(static_cast<std::size_t>(columns * rows));
        const double far = offset + 3 * step;
        for (int j = 0; j < rows; ++j)
            for (int i = 0; i < columns; ++i) {
                // Only near the line it matters how far it is.
                const auto bounds = grid.distanceBounds(node(i, j));
                if (bounds.most < offset - 3 * step) {
                    values[index(i, j)] = -3 * step;
                    continue;
                }
                const auto n = bounds.least > far ? std::nullopt : grid.nearest(node(i, j), far);
                values[index(i, j)] = (n ? n->distance : far) - offset;
            }
    }

    Contours run() {
        for (int j = 0; j + 1 < rows; ++j)
            for (int i = 0; i + 1 < columns; ++i) cross(i, j);
        Contours loops;
        while (!next.empty()) loops.push_back(loopFrom(next.begin()->first));
        return loops;
    }

private:
    Vec2 node(int i, int j) const { return {area.minX + i * step, area.minY + j * step}; }
    std::size_t index(int i, int j) const { return static_cast<std::size_t>(j * columns + i); }

    /// Edges of the grid are numbered: level ones even, upright ones odd.
    std::size_t levelEdge(int i, int j) const { return 2 * index(i, j); }
    std::size_t uprightEdge(int i, int j) const { return 2 * index(i, j) + 1; }

    /// The directed pieces of line in one square, the inside on their right.
    void cross(int i, int j) {
        const bool a = values[index(i, j)] < 0, b = values[index(i + 1, j)] < 0;
        const bool c = values[index(i + 1, j + 1)] < 0, d = values[index(i, j + 1)] < 0;
        const int which = a + 2 * b + 4 * c + 8 * d;
        const std::size_t top = levelEdge(i, j), bottom = levelEdge(i, j + 1);
        const std::size_t left = uprightEdge(i, j), right = uprightEdge(i + 1, j);
        const auto add = [&](std::size_t from, std::size_t to) { next[from] = to; };
        switch (which) {
        case 1:
            add(left, top);
            break;
        case 2:
            add(top, right);
            break;
        case 3:
            add(left, right);
            break;
        case 4:
            add(right, bottom);
            break;
        case 5:
            add(left, top), add(right, bottom);
            break;
        case 6:
            add(top, bottom);
            break;
        case 7:
            add(left, bottom);
            break;
        case 8:
            add(bottom, left);
            break;
        case 9:
            add(bottom, top);
            break;
        case 10:
            add(top, right), add(bottom, left);
            break;
        case 11:
            add(bottom, right);
            break;
        case 12:
            add(right, left);
            break;
        case 13:
            add(right, top);
            break;
        case 14:
            add(top, left);
            break;
        default:
            break;
        }
    }

    Vec2 pointOn(std::size_t edge) const {
        const int i = static_cast<int>(edge / 2) % columns,
                  j = static_cast<int>(edge / 2) / columns;
        const bool upright = edge % 2 == 1;
        const double va = values[index(i, j)];
        const double vb = upright ? values[index(i, j + 1)] : values[index(i + 1, j)];
        Vec2 p = lerp(node(i, j), upright ? node(i, j + 1) : node(i + 1, j), va / (va - vb));
        for (int round = 0; round < 2; ++round)
            if (const auto n = grid.nearest(p, offset + 3 * step); n && n->distance > 1e-6)
                p = n->at + (p - n->at) * (offset / n->distance);
        return p;
    }

    Polyline loopFrom(std::size_t start) {
        Polyline loop;
        std::size_t at = start;
        for (auto it = next.find(at); it != next.end(); it = next.find(at)) {
            loop.push_back(pointOn(at));
            at = it->second;
            next.erase(it);
        }
        return loop;
    }

    const SegmentGrid& grid;
    double offset;
    Box area;
    double step = 1;
    int columns = 0, rows = 0;
    std::vector<double> values;
    std::unordered_map<std::size_t, std::size_t> next;
};

double signedArea(const Polyline& loop) {
    double sum = 0;
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++)
        sum += cross(loop[j], loop[i]);
    return sum / 2;
}

} // namespace

Contours contoursAround(const StitchList& list, double offsetMm) {
    const SegmentGrid grid(segmentsOf(list));
    if (grid.empty()) return {};
    Contours loops = Tracer(grid, std::max(0.2, offsetMm)).run();
    // With the inside on their right, outer loops run anticlockwise as seen; holes the other way.
    std::erase_if(loops, [](const Polyline& l) { return l.size() < 3 || signedArea(l) >= 0; });
    return loops;
}

} // namespace rapt
