#include "thread/resize.h"

#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

/// Largest multiple of both factors at which no stitch passes the sewable length and no place the
/// frame's edge.
double largestMultiple(const StitchList& list, ScaleFactors f) {
    double longest = 0;
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        if (!from) return;
        const Vec2 d = list.stitches[i].at() - from->at();
        longest = std::max(longest, std::hypot(d.x * f.x, d.y * f.y));
    });
    double farthest = 0;
    for (const Stitch& s : list.stitches)
        farthest = std::max({farthest, std::abs(s.at().x * f.x), std::abs(s.at().y * f.y)});
    double multiple = std::numeric_limits<double>::infinity();
    if (longest > 0) multiple = maxStitchMm / longest;
    if (farthest > 0) multiple = std::min(multiple, maxCoordinateMm / farthest);
    return multiple;
}

} // namespace

Result<ScaleFactors> scaleFactors(const ResizeRequest& r, const Box& extents) {
    const int given = r.scale.has_value() + r.widthMm.has_value() + r.heightMm.has_value();
    const bool both = r.widthMm && r.heightMm;
    if (given == 0) return cannotDo("give a scale, a width or a height");
    if (r.scale && given > 1) return cannotDo("give either a scale or a size, not both");
    if (both && !r.free)
        return cannotDo("width and height together need --free, which lets the proportion change");
    for (const auto& v : {r.scale, r.widthMm, r.heightMm})
        if (v && !(std::isfinite(*v) && *v > 0)) return cannotDo("sizes and scales must be over 0");
    if (r.scale) return ScaleFactors{*r.scale, *r.scale};
    if (r.widthMm && !(extents.width() > 0))
        return cannotDo("the design has no width that could be scaled");
    if (r.heightMm && !(extents.height() > 0))
        return cannotDo("the design has no height that could be scaled");
    const double x = r.widthMm ? *r.widthMm / extents.width() : 1;
    const double y = r.heightMm ? *r.heightMm / extents.height() : 1;
    if (r.free) return ScaleFactors{x, y};
    const double k = r.widthMm ? x : y;
    return ScaleFactors{k, k};
}

Result<StitchList> resizeKeepingStitches(const StitchList& list, ScaleFactors f) {
    const double multiple = largestMultiple(list, f);
    if (multiple < 1 - 1e-9) {
        // Rounded down, so that the scale named really works.
        const auto down = [](double v) { return std::floor(v * 1000) / 1000; };
        const std::string works = f.x == f.y
                                      ? fmt::format("a scale of {:.3f}", down(multiple * f.x))
                                      : fmt::format("{:.3f} across and {:.3f} down",
                                                    down(multiple * f.x), down(multiple * f.y));
        return cannotDo(
            fmt::format("with its stitches kept a stitch would be longer than {} mm (or "
                        "reach past ±10,000 mm); the largest that works is {}",
                        maxStitchMm, works));
    }
    StitchList result = list;
    for (Stitch& s : result.stitches) {
        const Vec2 p = s.at();
        s.x = toUnits(p.x * f.x);
        s.y = toUnits(p.y * f.y);
    }
    return result;
}

} // namespace rapt
