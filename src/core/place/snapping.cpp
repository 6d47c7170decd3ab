#include "place/snapping.h"

namespace rapt {
namespace {

void addBox(std::vector<SnapLine>& lines, const Box& b, const std::string& name) {
    lines.push_back({true, b.minX, "left edge of " + name});
    lines.push_back({true, b.centre().x, "middle of " + name});
    lines.push_back({true, b.maxX, "right edge of " + name});
    lines.push_back({false, b.minY, "far edge of " + name});
    lines.push_back({false, b.centre().y, "middle of " + name});
    lines.push_back({false, b.maxY, "near edge of " + name});
}

} // namespace

std::vector<SnapLine> snapLines(const Box& cloth, const std::optional<Box>& field,
                                const std::vector<std::pair<std::string, Box>>& others) {
    std::vector<SnapLine> lines{
        {true, 0, "the upright datum line"}, {false, 0, "the level datum line"},
        {true, cloth.minX, "the left hem"},  {true, cloth.maxX, "the right hem"},
        {false, cloth.minY, "the far hem"},  {false, cloth.maxY, "the near hem"}};
    if (field) addBox(lines, *field, "the field");
    for (const auto& [name, box] : others)
        if (!box.empty()) addBox(lines, box, name);
    return lines;
}

Snap snapTo(const std::vector<SnapLine>& lines, const Box& box, double reachMm) {
    Snap snap;
    double leastX = reachMm, leastY = reachMm;
    for (const SnapLine& line : lines) {
        const Vec2 c = box.centre();
        const double places[] = {line.upright ? box.minX : box.minY, line.upright ? c.x : c.y,
                                 line.upright ? box.maxX : box.maxY};
        for (const double place : places) {
            const double off = line.at - place;
            double& least = line.upright ? leastX : leastY;
            // What comes first in the list is caught where two are equally near.
            if (std::abs(off) > reachMm || std::abs(off) >= least - 1e-9) continue;
            least = std::abs(off);
            (line.upright ? snap.by.x : snap.by.y) = off;
            (line.upright ? snap.upright : snap.level) = &line;
        }
    }
    return snap;
}

} // namespace rapt
