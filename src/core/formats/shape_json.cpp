#include "formats/shape_json.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr const char* kindNames[] = {"run", "fill", "satin"};
constexpr const char* underlayNames[] = {"none", "light", "full"};
constexpr double farMm = 10'000;

Underlay underlayFrom(const Fields& f) {
    const std::string name = f.text("underlay", "none");
    for (int k = 0; k < 3; ++k)
        if (name == underlayNames[k]) return static_cast<Underlay>(k);
    throw FieldError{f.path("underlay"), "must be none, light or full"};
}

StitchKind kindFrom(const Fields& f) {
    const std::string name = f.text("kind");
    for (int k = 0; k < 3; ++k)
        if (name == kindNames[k]) return static_cast<StitchKind>(k);
    throw FieldError{f.path("kind"), "must be run, fill or satin"};
}

void checkLines(const ShapePart& part, const std::string& path) {
    const std::size_t least = part.kind == StitchKind::fill ? 3 : 2;
    for (const Polyline& line : part.lines)
        if (line.size() < least)
            throw FieldError{path, fmt::format("a line has {} points, at least {} are needed",
                                               line.size(), least)};
    const std::size_t lines = part.lines.size();
    if (part.kind == StitchKind::satin ? lines != 2 : lines == 0)
        throw FieldError{path, part.kind == StitchKind::satin ? "a satin has exactly two rails"
                                                              : "needs at least one line"};
    if (part.paired && (lines != 2 || part.lines[0].size() != part.lines[1].size()))
        throw FieldError{path, "paired rails need as many points as each other"};
}

ShapePart partFrom(const Fields& f) {
    ShapePart part;
    part.kind = kindFrom(f);
    part.thread = threadFromJson(f.child("thread"));
    const json& lines = f.array("lines");
    for (std::size_t i = 0; i < lines.size(); ++i)
        part.lines.push_back(polylineFromJson(lines[i], fmt::format("{}[{}]", f.path("lines"), i)));
    part.smooth = f.flag("smooth", false);
    part.paired = f.flag("paired", false);
    part.exact = f.flag("exact", false);
    checkLines(part, f.path("lines"));
    part.underlay = underlayFrom(f);
    part.pullMm = f.number("pull_mm", 0, -2, 4);
    part.passes = f.integer("passes", 1, 1, 9);
    part.spacingMm = f.number("spacing_mm", part.spacingMm, 0.1, 20);
    part.stitchLengthMm = f.number("stitch_length_mm", part.stitchLengthMm, 0.3, maxStitchMm);
    part.angleDeg = f.number("angle_deg", 0, -1e6, 1e6);
    part.extra =
        f.unknown({"kind", "thread", "lines", "spacing_mm", "stitch_length_mm", "angle_deg",
                   "underlay", "pull_mm", "passes", "smooth", "paired", "exact"},
                  {{"thread", {"color", "weight", "name"}}});
    return part;
}

json partJson(const ShapePart& part) {
    json lines = json::array();
    for (const Polyline& line : part.lines) lines.push_back(polylineToJson(line));
    json j{{"kind", kindNames[static_cast<int>(part.kind)]},
           {"thread", threadToJson(part.thread)},
           {"lines", std::move(lines)},
           {"spacing_mm", part.spacingMm},
           {"stitch_length_mm", part.stitchLengthMm},
           {"angle_deg", part.angleDeg}};
    // What stands at its default is left out.
    if (part.underlay != Underlay::none)
        j["underlay"] = underlayNames[static_cast<int>(part.underlay)];
    if (part.pullMm != 0) j["pull_mm"] = part.pullMm;
    if (part.passes != 1) j["passes"] = part.passes;
    if (part.smooth) j["smooth"] = true;
    if (part.paired) j["paired"] = true;
    if (part.exact) j["exact"] = true;
    restoreUnknown(j, part.extra);
    return j;
}

} // namespace

json polylineToJson(const Polyline& line) {
    json points = json::array();
    for (const Vec2& p : line) points.push_back({p.x, p.y});
    return points;
}

Polyline polylineFromJson(const json& value, const std::string& path) {
    if (!value.is_array()) throw FieldError{path, "must be a list of [x, y]"};
    Polyline line;
    line.reserve(value.size());
    for (const json& p : value) {
        if (!p.is_array() || p.size() != 2) throw FieldError{path, "must be a list of [x, y]"};
        line.push_back({numberOf(p[0], path, -farMm, farMm), numberOf(p[1], path, -farMm, farMm)});
    }
    return line;
}

Thread threadFromJson(const Fields& f) {
    Thread t;
    if (!parseRgb(f.text("color"), t.color))
        throw FieldError{f.path("color"), "must be a colour of the form #rrggbb"};
    t.weight = f.number("weight", 40, 1, 1000);
    t.name = f.text("name", "");
    return t;
}

json threadToJson(const Thread& t) {
    return {{"color", formatRgb(t.color)}, {"weight", t.weight}, {"name", t.name}};
}

Shape shapeFromJson(const Fields& f) {
    Shape shape;
    const json& parts = f.array("parts");
    for (std::size_t i = 0; i < parts.size(); ++i)
        shape.parts.push_back(
            partFrom(Fields(parts[i], fmt::format("{}[{}]", f.path("parts"), i))));
    if (shape.parts.empty()) throw FieldError{f.path("parts"), "must name at least one part"};
    shape.mostLayers = f.number("most_layers", 0, 0, 100);
    shape.extra = f.unknown({"parts", "most_layers"});
    return shape;
}

json shapeToJson(const Shape& shape) {
    json parts = json::array();
    for (const ShapePart& part : shape.parts) parts.push_back(partJson(part));
    json j{{"parts", std::move(parts)}};
    if (shape.mostLayers != 0) j["most_layers"] = shape.mostLayers;
    restoreUnknown(j, shape.extra);
    return j;
}

} // namespace rapt
