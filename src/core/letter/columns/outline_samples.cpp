#include "letter/columns/axis.h"

#include <cmath>

namespace rapt {
namespace {

/// A vertex nearer than this share of the step to the last sample is passed over, if the outline
/// goes on straight there: flattened curves bring many of them.
constexpr double crowded = 0.4;
constexpr double straightCosine = 0.94;

bool goesStraight(Vec2 before, Vec2 at, Vec2 after) {
    const Vec2 in = at - before, out = after - at;
    return dot(in, out) > straightCosine * length(in) * length(out);
}

} // namespace

int OutlineSamples::next(int i) const {
    const int c = contour[static_cast<std::size_t>(i)];
    return i + 1 == first[static_cast<std::size_t>(c) + 1] ? first[static_cast<std::size_t>(c)]
                                                           : i + 1;
}

int OutlineSamples::previous(int i) const {
    const int c = contour[static_cast<std::size_t>(i)];
    return i == first[static_cast<std::size_t>(c)] ? first[static_cast<std::size_t>(c) + 1] - 1
                                                   : i - 1;
}

double OutlineSamples::turnAt(int i, double reachMm) const {
    const auto at = [this](int k) { return points[static_cast<std::size_t>(k)]; };
    const auto walk = [&](bool ahead, double mm) {
        int k = i;
        double gone = 0;
        while (gone < mm) {
            const int n = ahead ? next(k) : previous(k);
            if (n == i) break;
            gone += distance(at(k), at(n));
            k = n;
        }
        return k;
    };
    // Directions just before and after the stretch that is judged.
    const int a = walk(false, reachMm), b = walk(true, reachMm);
    const Vec2 in = at(a) - at(previous(a)), out = at(next(b)) - at(b);
    return std::abs(std::atan2(cross(in, out), dot(in, out)));
}

OutlineSamples sampleOutline(const Contours& part, double stepMm) {
    OutlineSamples samples;
    for (const Polyline& line : part) {
        samples.first.push_back(static_cast<int>(samples.points.size()));
        const std::size_t start = samples.points.size();
        for (std::size_t i = 0; i < line.size(); ++i) {
            const Vec2 a = line[i], b = line[(i + 1) % line.size()];
            const Vec2 before = line[(i + line.size() - 1) % line.size()];
            const bool near = samples.points.size() > start &&
                              distance(samples.points.back(), a) < crowded * stepMm;
            if (!near || !goesStraight(before, a, b)) samples.points.push_back(a);
            const int steps = static_cast<int>(std::ceil(distance(a, b) / stepMm));
            for (int k = 1; k < steps; ++k)
                samples.points.push_back(lerp(a, b, static_cast<double>(k) / steps));
        }
        samples.contour.resize(samples.points.size(), static_cast<int>(samples.first.size()) - 1);
    }
    samples.first.push_back(static_cast<int>(samples.points.size()));
    return samples;
}

} // namespace rapt
