#include "load/safe_range.h"

#include "load/load_map.h"
#include "thread/measures.h"
#include "thread/resize.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double leastScale = 0.1, mostScale = 10;
constexpr double gapeShare = 1.25; // of the thread's width
constexpr double shortShare = 0.02;
constexpr int halvings = 6;

/// The design scaled as it is, whatever its stitches become.
StitchList scaledAsIs(const StitchList& list, double k) {
    StitchList result = list;
    for (Stitch& s : result.stitches) {
        s.x = toUnits(s.at().x * k);
        s.y = toUnits(s.at().y * k);
    }
    return result;
}

/// Worst load of the scaled design as a share of the limit, and whether it is of layers or hits.
struct LoadShare {
    double share = 0;
    bool hits = false;
};
LoadShare loadShare(const StitchList& list, const Fabric& fabric, double k,
                    const std::stop_token& stop) {
    const auto map = LoadMap::measure(scaledAsIs(list, k), stop);
    if (!map) return {};
    const double layers = map->summary().peakLayers / fabric.maxLayers;
    const double hits = map->summary().peakHits / fabric.maxHits;
    return hits > layers ? LoadShare{hits, true} : LoadShare{layers, false};
}

RangeEnd leastByLoad(const StitchList& list, const Fabric& fabric, const std::stop_token& stop) {
    LoadShare at = loadShare(list, fabric, 1, stop);
    if (at.share == 0) return {leastScale, {}};
    // Thread load goes as 1/k, so the end lies near the share itself.
    double low = leastScale, high = mostScale;
    double guess = std::clamp(at.share, low, high);
    for (int i = 0; i < halvings; ++i) {
        const LoadShare here = loadShare(list, fabric, guess, stop);
        (here.share > 1 ? low : high) = guess;
        if (here.share > 0) at = here;
        const double next = std::clamp(guess * here.share, low, high);
        guess = i < 3 && next > low && next < high ? next : std::sqrt(low * high);
        if (high / low < 1.005) break;
    }
    return {high, at.hits ? fmt::format("smaller, it passes {:.1f} hits per mm²", fabric.maxHits)
                          : fmt::format("smaller, it passes {:.1f} layers", fabric.maxLayers)};
}

/// Where a fiftieth of the stitches that are not short yet become so.
double leastByShortness(std::vector<double> lengths) {
    std::erase_if(lengths, [](double l) { return l < shortStitchMm; });
    if (lengths.empty()) return leastScale;
    const auto k = static_cast<std::size_t>(shortShare * static_cast<double>(lengths.size()));
    std::nth_element(lengths.begin(), lengths.begin() + static_cast<std::ptrdiff_t>(k),
                     lengths.end());
    return shortStitchMm / lengths[k];
}

RangeEnd mostByLength(double longest) {
    const double limit = longest > snagStitchMm ? maxStitchMm : snagStitchMm;
    if (longest <= 0) return {mostScale, {}};
    return {limit / longest,
            limit == snagStitchMm
                ? fmt::format("larger, stitches pass {:.1f} mm and snag", limit)
                : fmt::format("larger, a stitch passes the {:.1f} mm that can be sewn", limit)};
}

} // namespace

SafeRange safeRange(const StitchList& design, const Fabric& fabric, std::stop_token stop) {
    std::vector<double> lengths;
    double longest = 0;
    walkStitches(design.stitches, [&](std::size_t i, const Stitch* from) {
        if (!from) return;
        const double size = spanMm(*from, design.stitches[i]);
        if (size > 0) lengths.push_back(size);
        longest = std::max(longest, size);
    });
    SafeRange range;
    range.least = leastByLoad(design, fabric, stop);
    if (const double k = leastByShortness(lengths); k > range.least.scale)
        range.least = {k, fmt::format("smaller, over 2 % of its stitches fall under {:.1f} mm",
                                      shortStitchMm)};
    range.most = mostByLength(longest);
    if (const auto spacing = medianRowSpacing(design)) {
        double width = 0; // of the thinnest thread that is used
        for (const ThreadUse& use : measure(design).threads)
            if (use.stitches > 0) {
                const double w = apparentWidthMm(use.thread.weight);
                width = width == 0 ? w : std::min(width, w);
            }
        const double k = gapeShare * width / *spacing;
        if (k < range.most.scale)
            range.most = {k,
                          fmt::format("larger, rows lie over {:.2f} mm apart and the cloth shows",
                                      gapeShare * width)};
    }
    range.least.scale = std::clamp(range.least.scale, leastScale, mostScale);
    range.most.scale = std::clamp(range.most.scale, leastScale, mostScale);
    return range;
}

} // namespace rapt
