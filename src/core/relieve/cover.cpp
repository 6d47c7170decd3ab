#include "relieve/cover.h"

#include "respace/stretches.h"

namespace rapt {
namespace {

// Bands this near to each other leave no gap that shows.
constexpr double seamMm = 0.3;
// Points of an outline that lie this near to a straight line are left out.
constexpr double straightMm = 0.04;
// Thinner bands than this hide nothing, not even together.
constexpr double thinLayers = 0.2;

/// Leaves out what lies on straight lines (Ramer 1972, Douglas and Peucker 1973).
void simplify(const Polyline& line, std::size_t from, std::size_t to, Polyline& out) {
    double worst = straightMm;
    std::size_t most = 0;
    for (std::size_t i = from + 1; i < to; ++i) {
        const double off = distanceToSegment(line[i], line[from], line[to]);
        if (off > worst) {
            worst = off;
            most = i;
        }
    }
    if (most == 0) {
        out.push_back(line[to]);
        return;
    }
    simplify(line, from, most, out);
    simplify(line, most, to, out);
}

Polyline simplified(const Polyline& line) {
    Polyline out{line.front()};
    if (line.size() > 1) simplify(line, 0, line.size() - 1, out);
    return out;
}

double signedArea(const Polyline& line) {
    double sum = 0;
    for (std::size_t i = 0, j = line.size() - 1; i < line.size(); j = i++)
        sum += cross(line[j], line[i]);
    return sum / 2;
}

/// A side of a band carried on by half a row at both ends.
void carryOn(Polyline& side) {
    if (side.size() < 2) return;
    const Vec2 first = side[0] - side[1];
    const Vec2 last = side.back() - side[side.size() - 2];
    side.front() = side.front() + first * 0.5;
    side.back() = side.back() + last * 0.5;
}

struct CoverBand {
    Contours outline;
    double layers = 0;
};

CoverBand bandOf(const SewnChain& chain, const SewnStretch& stretch, double threadMm) {
    Polyline near, far;
    double threadLength = 0;
    for (std::size_t i = 0; i < stretch.rows.size(); ++i) {
        const Vec2 from = chain.rowFrom(stretch.rows[i]), to = chain.rowTo(stretch.rows[i]);
        threadLength += distance(from, to);
        const bool joined = i > 0 && stretch.rows[i - 1].to == stretch.rows[i].from;
        if (!joined) (i % 2 == 0 ? near : far).push_back(from);
        (i % 2 == 0 ? far : near).push_back(to);
    }
    carryOn(near);
    carryOn(far);
    near = simplified(near);
    far = simplified(far);
    near.insert(near.end(), far.rbegin(), far.rend());
    const double area = std::abs(signedArea(near));
    // Outlines of one sense can be united by winding.
    if (signedArea(near) < 0) std::reverse(near.begin(), near.end());
    return {{std::move(near)}, area > 0 ? threadLength * threadMm / area : 0};
}

} // namespace

Contours denseCover(const StitchList& list, double leastLayers) {
    const auto widths = widthTable(list);
    Contours cover;
    std::vector<CoverBand> thin;
    for (const SewnChain& chain : recogniseStretches(list))
        for (const SewnStretch& stretch : chain.stretches) {
            if (!stretch.isBand()) continue;
            CoverBand band = bandOf(chain, stretch, static_cast<double>(widths[chain.thread]));
            if (band.layers >= leastLayers)
                cover.push_back(std::move(band.outline[0]));
            else if (band.layers > thinLayers)
                thin.push_back(std::move(band));
        }
    for (std::size_t i = 0; i < thin.size(); ++i)
        for (std::size_t j = 0; j < i; ++j) {
            if (thin[i].layers + thin[j].layers < leastLayers) continue;
            if (!boundsOf(thin[i].outline).overlaps(boundsOf(thin[j].outline))) continue;
            for (Polyline& both :
                 intersectionOf(unitedNonZero(thin[i].outline), unitedNonZero(thin[j].outline))) {
                if (signedArea(both) < 0) std::reverse(both.begin(), both.end());
                cover.push_back(std::move(both));
            }
        }
    if (cover.empty()) return {};
    return offsetContours(offsetContours(unitedNonZero(cover), seamMm), -seamMm);
}

} // namespace rapt
