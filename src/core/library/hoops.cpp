// Frames that a person added or changed.

#include "library/library.h"
#include "library/records.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

json hoopJson(const Hoop& h) {
    const char* shape = h.shape == Hoop::Shape::oval      ? "oval"
                        : h.shape == Hoop::Shape::rounded ? "rounded"
                                                          : "rect";
    json j{{"id", h.id},
           {"name", h.name},
           {"kind", h.kind},
           {"field", {{"shape", shape}, {"width_mm", h.widthMm}, {"height_mm", h.heightMm}}},
           {"outer_mm", {h.outerWidthMm, h.outerHeightMm}},
           {"turns", h.turns},
           {"frame_sigma_mm", h.frameSigmaMm},
           {"arm", h.arm}};
    if (h.cornerMm > 0) j["field"]["corner_mm"] = h.cornerMm;
    for (const FrameTag& t : h.tags)
        j["tags"].push_back({{"id", t.id}, {"x", t.at.x}, {"y", t.at.y}, {"size_mm", t.sizeMm}});
    if (h.slide)
        j["slide"] = {{"from", h.slide->fromMm}, {"to", h.slide->toMm}};
    else
        for (const FramePosition& p : h.positions)
            j["positions"].push_back({{"x", p.at.x}, {"y", p.at.y}, {"turn_deg", p.turnDeg}});
    return j;
}

} // namespace

std::vector<std::string> problemsOf(const Hoop& h) {
    std::vector<std::string> problems;
    if (h.id.empty() || h.name.empty()) problems.push_back("the frame has no name");
    const auto within = [&](const char* what, double value, double low, double high) {
        if (!(value >= low && value <= high))
            problems.push_back(fmt::format("{} is {:g} mm; it must be between {:g} and {:g}", what,
                                           value, low, high));
    };
    within("the field's width", h.widthMm, 1, 5000);
    within("the field's height", h.heightMm, 1, 5000);
    if (!problems.empty()) return problems;
    within("the corner's radius", h.cornerMm, 0, std::min(h.widthMm, h.heightMm) / 2);
    const Box reach = h.reach();
    const double across = std::max(-reach.minX, reach.maxX),
                 down = std::max(-reach.minY, reach.maxY);
    within("the outer width", h.outerWidthMm, 2 * across, 6000);
    within("the outer height", h.outerHeightMm, 2 * down, 6000);
    if (h.slide && h.slide->fromMm > h.slide->toMm) problems.push_back("the slide runs backwards");
    return problems;
}

Status saveUserHoop(const Hoop& hoop, const std::string& userFolder) {
    return saveRecord(userFolder, "hoops", hoopJson(hoop),
                      {"band", hoop.slide ? "positions" : "slide"});
}

} // namespace rapt
