#include "respace/repeated.h"

namespace rapt {
namespace {

// Two needle points this near are meant as one.
constexpr double sameMm = 0.08;
// A tie is made of stitches shorter than this, and stays this near to where it begins.
constexpr double longestTieStitchMm = 1.05, tieReachMm = 1.1;
constexpr std::size_t mostTieStitches = 8;

bool same(Vec2 a, Vec2 b) { return std::abs(a.x - b.x) < sameMm && std::abs(a.y - b.y) < sameMm; }

/// How often the stitch at `i` is sewn to and fro before the line goes on.
int passesAt(std::span<const Vec2> points, std::size_t i, std::size_t last) {
    if (i + 1 > last || same(points[i], points[i + 1])) return 1;
    int passes = 1;
    for (std::size_t k = i + 2; k + 1 <= last; k += 2) {
        if (!same(points[k], points[i]) || !same(points[k + 1], points[i + 1])) break;
        passes += 2;
    }
    return passes;
}

} // namespace

std::vector<SewnStretch> findRepeatedRuns(std::span<const Vec2> points, std::size_t first,
                                          std::size_t last) {
    std::vector<SewnStretch> runs;
    for (std::size_t i = first; i < last;) {
        const int passes = passesAt(points, i, last);
        if (passes < 3) {
            ++i;
            continue;
        }
        SewnStretch run;
        run.kind = StretchKind::repeatedRun;
        run.first = i;
        run.passes = passes;
        while (passesAt(points, i, last) == passes) i += static_cast<std::size_t>(passes);
        run.last = i;
        runs.push_back(run);
    }
    return runs;
}

std::size_t tieLength(std::span<const Vec2> points, std::size_t first, std::size_t last,
                      bool backwards) {
    const auto at = [&](std::size_t k) { return points[backwards ? first - k : first + k]; };
    const std::size_t room = backwards ? first - last : last - first;
    std::size_t length = 0;
    bool turned = false;
    for (std::size_t k = 1; k <= std::min(room, mostTieStitches); ++k) {
        const Vec2 step = at(k) - at(k - 1);
        if (rapt::length(step) > longestTieStitchMm || distance(at(0), at(k)) > tieReachMm) break;
        if (same(at(k), at(k - 1))) turned = true;
        if (k >= 2 && dot(step, at(k - 1) - at(k - 2)) < 0 &&
            std::abs(cross(step, at(k - 1) - at(k - 2))) <
                0.35 * rapt::length(step) * rapt::length(at(k - 1) - at(k - 2)))
            turned = true;
        // It ends with the last stitch that goes back, or on the spot.
        if (turned) length = k;
        if (k >= 2 && dot(step, at(k - 1) - at(k - 2)) > 0 && turned) break;
    }
    return turned ? length : 0;
}

} // namespace rapt
