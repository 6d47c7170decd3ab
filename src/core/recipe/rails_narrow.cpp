// Two rails out of the outline of a narrow shape: its ends are found where the crossings between
// its two sides are shortest in the mean.

#include "recipe/rails.h"

#include <algorithm>

namespace rapt {
namespace {

constexpr int samples = 96;
constexpr int crossings = 48;
constexpr double leastSlenderness = 3;
// Of the outline's area: what its columns may leave bare or add.
constexpr double areaTolerance = 0.06;
constexpr double endCornerCosine = 0.64; // 50 degrees

/// A closed outline addressed by its length.
class Ring {
public:
    explicit Ring(const Polyline& o) : outline(o), along{0} {
        for (std::size_t i = 0; i < outline.size(); ++i)
            along.push_back(along.back() + distance(outline[i], outline[(i + 1) % outline.size()]));
    }
    /// Places at even distances, for a first look.
    void mark() {
        for (int k = 0; k < marks; ++k) marked.push_back(at(length() * k / marks));
    }
    Vec2 near(double s) const {
        const auto k = static_cast<long>(std::floor(s / length() * marks + 0.5));
        return marked[static_cast<std::size_t>(((k % marks) + marks) % marks)];
    }
    double length() const { return along.back(); }
    Vec2 at(double s) const {
        s = std::fmod(s, length());
        if (s < 0) s += length();
        const auto it = std::upper_bound(along.begin() + 1, along.end() - 1, s);
        const auto k = static_cast<std::size_t>(it - along.begin());
        const double size = along[k] - along[k - 1];
        return lerp(outline[k - 1], outline[k % outline.size()],
                    size == 0 ? 0 : (s - along[k - 1]) / size);
    }
    /// The stretch from one place to another, onwards; its corners are kept.
    Polyline stretch(double from, double to) const {
        while (to < from) to += length();
        Polyline line{at(from)};
        for (int round = 0; round < 2; ++round)
            for (std::size_t k = 0; k < outline.size(); ++k) {
                const double s = along[k] + round * length();
                if (s > from + 1e-9 && s < to - 1e-9) line.push_back(outline[k]);
            }
        line.push_back(at(to));
        return line;
    }

private:
    static constexpr long marks = 1024;
    const Polyline& outline;
    std::vector<double> along;
    Polyline marked;
};

struct Ends {
    double a = 0, b = 0; ///< places on the ring
};

/// Mean length of the crossings if the outline is parted at two places; `at` finds their ends. Not
/// worked out to the end where it is over `most`.
template<class At>
double meanCrossing(const Ring& ring, double a, double b, double most, At at) {
    const double there = b - a, back = ring.length() - there;
    double sum = 0;
    for (int k = 1; k < crossings && sum <= most * (crossings - 1); ++k) {
        const double t = static_cast<double>(k) / crossings;
        const Vec2 d = at(a + there * t) - at(a - back * t);
        sum += std::sqrt(dot(d, d));
    }
    return sum / (crossings - 1);
}

Ends bestEnds(const Ring& ring) {
    const double step = ring.length() / samples;
    Ends best;
    double least = std::numeric_limits<double>::infinity();
    const auto consider = [&](double a, double b, auto at) {
        const double mean = meanCrossing(ring, a, b, least, at);
        if (mean < least) {
            least = mean;
            best = {a, b};
        }
    };
    // Both sides of a narrow shape are about as long as each other.
    for (int i = 0; i < samples; ++i)
        for (int j = i + samples / 3; j <= i + samples / 2; ++j)
            consider(i * step, j * step, [&](double s) { return ring.near(s); });
    least = std::numeric_limits<double>::infinity();
    consider(best.a, best.b, [&](double s) { return ring.at(s); });
    for (double d = step / 2; d > step / 40; d /= 2)
        for (int round = 0; round < 2; ++round) {
            const Ends now = best;
            for (const double x : {-d, 0.0, d})
                for (const double y : {-d, 0.0, d})
                    consider(now.a + x, now.b + y, [&](double s) { return ring.at(s); });
        }
    return best;
}

/// An end with two corners is cut off square: the rail begins at its corner.
Polyline withoutCap(const Polyline& rail, double width) {
    double gone = 0;
    for (std::size_t i = 1; i + 1 < rail.size() && gone < 1.2 * width; ++i) {
        gone += distance(rail[i - 1], rail[i]);
        if (gone > 1.2 * width) break;
        const Vec2 in = rail[i] - rail[i - 1], out = rail[i + 1] - rail[i];
        const double sizes = length(in) * length(out);
        if (sizes > 0 && dot(in, out) / sizes < endCornerCosine)
            return Polyline(rail.begin() + static_cast<std::ptrdiff_t>(i), rail.end());
    }
    return rail;
}

Polyline reversed(Polyline line) {
    std::reverse(line.begin(), line.end());
    return line;
}

} // namespace

std::optional<Rails> railsOfNarrow(const Polyline& outline, double mostWidthMm) {
    if (outline.size() < 3) return std::nullopt;
    Ring ring(outline);
    const double area = areaOf({outline});
    if (area <= 0 || ring.length() <= 0) return std::nullopt;
    // For a strip, area = length × width and half the ring = length + width.
    if (area / (ring.length() / 2) > mostWidthMm) return std::nullopt;
    ring.mark();
    const Ends ends = bestEnds(ring);
    Rails rails{ring.stretch(ends.a, ends.b),
                reversed(ring.stretch(ends.b, ends.a + ring.length()))};
    const double mean = area / (ring.length() / 2);
    const auto cut = [&](Polyline rail) {
        return reversed(withoutCap(reversed(withoutCap(rail, mean)), mean));
    };
    rails = {cut(rails.left), cut(rails.right)};
    double widest = 0, sum = 0;
    const Ring left(rails.left), right(rails.right);
    const double leftSize = lengthOf(rails.left), rightSize = lengthOf(rails.right);
    for (int k = 0; k <= crossings; ++k) {
        const double t = static_cast<double>(k) / crossings * 0.999999;
        const double width = distance(left.at(leftSize * t), right.at(rightSize * t));
        widest = std::max(widest, width);
        sum += width;
    }
    const double size = (leftSize + rightSize) / 2;
    if (widest > mostWidthMm || size < leastSlenderness * sum / (crossings + 1))
        return std::nullopt;
    // The band between the rails must be the shape: else it branches, or a side doubles back.
    Polyline band = rails.left;
    const Polyline back = reversed(rails.right);
    band.insert(band.end(), back.begin(), back.end());
    double swept = 0; // what the crossings run over, counted as often as they do
    for (int k = 0; k < crossings; ++k) {
        const double t0 = static_cast<double>(k) / crossings * 0.999999;
        const double t1 = static_cast<double>(k + 1) / crossings * 0.999999;
        const Vec2 a = left.at(leftSize * t0), b = left.at(leftSize * t1);
        const Vec2 c = right.at(rightSize * t1), d = right.at(rightSize * t0);
        swept += std::abs(cross(c - a, d - b)) / 2;
        // Between the two, as the first and the last crossing may run along the outline itself.
        const Vec2 from = lerp(a, b, 0.5), to = lerp(d, c, 0.5);
        for (const double across : {0.25, 0.5, 0.75})
            if (distance(from, to) > 0.4 && !contains({outline}, lerp(from, to, across)))
                return std::nullopt;
    }
    if (std::abs(swept - area) > areaTolerance * area) return std::nullopt;
    return rails;
}

} // namespace rapt
