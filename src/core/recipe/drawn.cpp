#include "recipe/drawn.h"

namespace rapt {

std::size_t leastPoints(const ShapePart& part) { return part.kind == StitchKind::fill ? 3 : 2; }

std::optional<ShapePart> drawnPart(StitchKind kind, const std::vector<Vec2>& points,
                                   const Thread& thread, bool smooth) {
    ShapePart part;
    part.kind = kind;
    part.thread = thread;
    part.smooth = smooth;
    part.stitchLengthMm = kind == StitchKind::fill ? 3 : 2.5;
    if (kind != StitchKind::satin) {
        if (points.size() < leastPoints(part)) return std::nullopt;
        part.lines = {points};
        return part;
    }
    if (points.size() < 4) return std::nullopt;
    part.paired = true;
    part.lines.resize(2);
    for (std::size_t i = 0; i + 1 < points.size(); i += 2) {
        part.lines[0].push_back(points[i]);
        part.lines[1].push_back(points[i + 1]);
    }
    return part;
}

} // namespace rapt
