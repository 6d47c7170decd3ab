#include "recipe/flatten.h"
#include "recipe/shape.h"

#include <algorithm>

namespace rapt {
namespace {

// A turn sharper than this gets a penetration of its own, so that corners stay corners.
constexpr double cornerCosine = 0.87; // 30 degrees
// How far a stitch may cut a curve.
constexpr double curveToleranceMm = 0.1;
constexpr double leastStepMm = 0.6;

bool isCorner(Vec2 before, Vec2 at, Vec2 after) {
    const Vec2 in = at - before;
    const Vec2 out = after - at;
    const double sizes = length(in) * length(out);
    return sizes == 0 || dot(in, out) / sizes < cornerCosine;
}

/// Divides one corner-free stretch into stitches that follow it.
class Stepper {
public:
    explicit Stepper(const Polyline& l) : line(l), along{0} {
        for (std::size_t i = 1; i < line.size(); ++i)
            along.push_back(along.back() + distance(line[i - 1], line[i]));
    }
    double total() const { return along.back(); }

    /// Steps of at most `longest`, shorter where a curve would be cut.
    Polyline steps(double longest) const {
        Polyline points{line.front()};
        double at = 0;
        while (at < total() - 1e-9) {
            double reach = std::min(longest, total() - at);
            while (reach > leastStepMm && cutError(at, at + reach) > curveToleranceMm)
                reach = std::max(leastStepMm, reach * 0.8);
            // No crumb is left for the last stitch.
            if (total() - at - reach < leastStepMm && at + reach < total() - 1e-9)
                reach = (total() - at) / (total() - at <= longest ? 1 : 2);
            at += reach;
            points.push_back(pointAt(at));
        }
        points.back() = line.back();
        return points;
    }

private:
    std::size_t segmentAt(double want) const {
        const auto it = std::upper_bound(along.begin() + 1, along.end() - 1, want);
        return static_cast<std::size_t>(it - along.begin());
    }
    Vec2 pointAt(double want) const {
        const std::size_t k = segmentAt(want);
        const double size = along[k] - along[k - 1];
        return lerp(line[k - 1], line[k],
                    size == 0 ? 0 : std::clamp((want - along[k - 1]) / size, 0.0, 1.0));
    }
    /// How far the line strays from the chord between two places on it.
    double cutError(double from, double to) const {
        const Vec2 a = pointAt(from), b = pointAt(to);
        double worst = 0;
        for (std::size_t k = segmentAt(from); k < line.size() && along[k] < to; ++k)
            if (along[k] > from) worst = std::max(worst, distanceToSegment(line[k], a, b));
        return worst;
    }

    const Polyline& line;
    std::vector<double> along;
};

/// The fewest stitches of at most the stitch length, as even as that allows.
void appendStretch(Polyline& out, const Polyline& stretch, double stitchLength) {
    const Stepper stepper(stretch);
    if (stepper.total() == 0) return;
    Polyline points = stepper.steps(stitchLength + 1e-9);
    double low = stepper.total() / static_cast<double>(points.size() - 1), high = stitchLength;
    for (int round = 0; round < 8 && high - low > 1e-3; ++round) {
        const double middle = round == 0 ? low + 1e-9 : (low + high) / 2;
        Polyline even = stepper.steps(middle);
        if (even.size() <= points.size()) {
            points = std::move(even);
            high = middle;
        } else {
            low = middle;
        }
    }
    out.insert(out.end(), points.begin() + (out.empty() ? 0 : 1), points.end());
}

std::vector<Polyline> cutAtCorners(const Polyline& given) {
    const Polyline line = withoutCrumbs(given);
    std::vector<Polyline> stretches;
    Polyline stretch;
    for (std::size_t i = 0; i < line.size(); ++i) {
        stretch.push_back(line[i]);
        const bool last = i + 1 == line.size();
        if (last || (i > 0 && isCorner(line[i - 1], line[i], line[i + 1]))) {
            stretches.push_back(std::move(stretch));
            stretch = {line[i]};
        }
    }
    return stretches;
}

} // namespace

Polyline runThrough(const std::vector<Polyline>& lines, double stitchLengthMm) {
    Polyline out;
    for (const Polyline& line : lines)
        if (line.size() > 1) appendStretch(out, line, stitchLengthMm);
    return out;
}

std::vector<Polyline> stitchRun(const ShapePart& given) {
    const ShapePart part = flattened(given);
    std::vector<Polyline> result;
    const double stitchLength = std::clamp(part.stitchLengthMm, 0.3, maxStitchMm);
    for (const Polyline& line : part.lines) {
        Polyline once = part.exact ? line : runThrough(cutAtCorners(line), stitchLength);
        if (once.size() < 2) continue;
        Polyline out = once;
        for (int pass = 1; pass < part.passes; ++pass) {
            std::reverse(once.begin(), once.end());
            out.insert(out.end(), once.begin() + 1, once.end());
        }
        result.push_back(std::move(out));
    }
    return result;
}

} // namespace rapt
