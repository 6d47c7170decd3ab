#include "recipe/shape.h"

#include <algorithm>

namespace rapt {
namespace {

// Wider columns get penetrations inside, so that no loose loop can snag.
constexpr double splitOverMm = snagStitchMm;

/// Points at equal fractions of a rail's own length.
class Rail {
public:
    explicit Rail(const Polyline& l) : line(l), along{0} {
        for (std::size_t i = 1; i < line.size(); ++i)
            along.push_back(along.back() + distance(line[i - 1], line[i]));
    }
    Vec2 at(double fraction) const {
        const double want = fraction * along.back();
        const auto it = std::upper_bound(along.begin() + 1, along.end() - 1, want);
        const auto k = static_cast<std::size_t>(it - along.begin());
        const double size = along[k] - along[k - 1];
        return lerp(line[k - 1], line[k], size == 0 ? 0 : (want - along[k - 1]) / size);
    }

private:
    const Polyline& line;
    std::vector<double> along;
};

double centreLength(const Rail& a, const Rail& b) {
    constexpr int steps = 200;
    double sum = 0;
    Vec2 last = lerp(a.at(0), b.at(0), 0.5);
    for (int i = 1; i <= steps; ++i) {
        const double t = static_cast<double>(i) / steps;
        const Vec2 p = lerp(a.at(t), b.at(t), 0.5);
        sum += distance(last, p);
        last = p;
    }
    return sum;
}

/// Crosses from the last point to `to`; wide crossings are split at places that move from one
/// crossing to the next, so that no furrow shows.
void appendCrossing(Polyline& out, Vec2 to, int index) {
    const Vec2 from = out.back();
    const double size = distance(from, to);
    if (size > splitOverMm) {
        const int parts = static_cast<int>(std::ceil(size / (0.7 * splitOverMm)));
        const double shift = ((index % 3) - 1) * 0.2;
        for (int k = 1; k < parts; ++k) out.push_back(lerp(from, to, (k + shift) / parts));
    }
    out.push_back(to);
}

} // namespace

std::vector<Polyline> stitchSatin(const ShapePart& part) {
    if (part.lines.size() < 2 || part.lines[0].size() < 2 || part.lines[1].size() < 2) return {};
    const Rail left(part.lines[0]);
    const Rail right(part.lines[1]);
    const double pitch = std::max(0.1, part.spacingMm);
    const int pairs = std::max(1, static_cast<int>(std::lround(centreLength(left, right) / pitch)));
    Polyline out{left.at(0)};
    for (int i = 1; i <= 2 * pairs; ++i) {
        const double t = i / (2.0 * pairs);
        appendCrossing(out, i % 2 == 0 ? left.at(t) : right.at(t), i);
    }
    appendCrossing(out, right.at(1), 0);
    return {out};
}

} // namespace rapt
