#include "formats/copies_json.h"

#include "formats/shape_json.h"
#include "formats/zip_archive.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr const char* repeatKinds[] = {"grid", "line", "circle", "mirror"};
constexpr const char* outlineForms[] = {"rectangle", "oval", "contour"};
constexpr double farMm = 10'000;

template<std::size_t n>
int indexOf(const Fields& f, const char* key, const char* const (&names)[n]) {
    const std::string name = f.text(key);
    std::string known;
    for (std::size_t k = 0; k < n; ++k) {
        if (name == names[k]) return static_cast<int>(k);
        known += fmt::format("{}{}", k == 0 ? "" : k + 1 == n ? " or " : ", ", names[k]);
    }
    throw FieldError{f.path(key), "must be " + known};
}

CopyException exceptionFrom(const Fields& f) {
    CopyException e;
    e.copy = f.integer("copy", 0, 1, mostCopies);
    e.leftOut = f.flag("left_out", false);
    e.shift = {f.number("dx", 0, -farMm, farMm), f.number("dy", 0, -farMm, farMm)};
    e.turnDeg = f.number("turn_deg", 0, -1e6, 1e6);
    return e;
}

json exceptionJson(const CopyException& e) {
    json j{{"copy", e.copy}};
    if (e.leftOut) j["left_out"] = true;
    if (!(e.shift == Vec2{})) {
        j["dx"] = e.shift.x;
        j["dy"] = e.shift.y;
    }
    if (e.turnDeg != 0) j["turn_deg"] = e.turnDeg;
    return j;
}

void readLayout(const Fields& f, Repeat& r) {
    r.columns = f.integer("columns", r.columns, 1, mostCopies);
    r.rows = f.integer("rows", r.rows, 1, mostCopies);
    r.count = f.integer("count", r.count, 1, mostCopies);
    if (r.kind == Repeat::Kind::grid && static_cast<long>(r.columns) * r.rows > mostCopies)
        throw FieldError{f.path("columns"), fmt::format("at most {} copies", mostCopies)};
    const std::string step = f.text("step", "gap");
    if (step != "gap" && step != "pitch") throw FieldError{f.path("step"), "must be gap or pitch"};
    r.byGap = step == "gap";
    r.acrossMm = f.number("across_mm", r.acrossMm, -farMm, farMm);
    r.downMm = f.number("down_mm", r.downMm, -farMm, farMm);
    r.directionDeg = f.number("direction_deg", 0, -1e6, 1e6);
    r.centre = {f.number("x", 0, -farMm, farMm), f.number("y", 0, -farMm, farMm)};
    r.sweepDeg = f.number("sweep_deg", 360, -360, 360);
    r.turned = f.flag("turned", true);
    r.leftRight = f.flag("left_right", true);
    r.nearFar = f.flag("near_far", false);
}

} // namespace

Repeat repeatFromJson(const Fields& f) {
    Repeat r;
    r.id = f.text("id");
    r.kind = static_cast<Repeat::Kind>(indexOf(f, "kind", repeatKinds));
    for (const json& id : f.array("pieces")) {
        if (!id.is_string()) throw FieldError{f.path("pieces"), "must be a list of piece ids"};
        r.pieces.push_back(id.get<std::string>());
    }
    readLayout(f, r);
    const json& exceptions = f.array("exceptions");
    for (std::size_t i = 0; i < exceptions.size(); ++i)
        r.exceptions.push_back(
            exceptionFrom(Fields(exceptions[i], fmt::format("{}[{}]", f.path("exceptions"), i))));
    r.extra = f.unknown({"id", "kind", "pieces", "columns", "rows", "count", "step", "across_mm",
                         "down_mm", "direction_deg", "x", "y", "sweep_deg", "turned", "left_right",
                         "near_far", "exceptions"},
                        {{"exceptions", {"copy", "left_out", "dx", "dy", "turn_deg"}}});
    return r;
}

json repeatToJson(const Repeat& r) {
    json j{{"id", r.id}, {"kind", repeatKinds[static_cast<int>(r.kind)]}, {"pieces", r.pieces}};
    switch (r.kind) {
    case Repeat::Kind::grid:
        j.update({{"columns", r.columns}, {"rows", r.rows}, {"down_mm", r.downMm}});
        break;
    case Repeat::Kind::line:
        j.update({{"count", r.count}, {"direction_deg", r.directionDeg}});
        break;
    case Repeat::Kind::circle:
        j.update({{"count", r.count},
                  {"x", r.centre.x},
                  {"y", r.centre.y},
                  {"sweep_deg", r.sweepDeg},
                  {"turned", r.turned}});
        break;
    case Repeat::Kind::mirror:
        j.update({{"left_right", r.leftRight}, {"near_far", r.nearFar}});
        break;
    }
    if (r.kind == Repeat::Kind::grid || r.kind == Repeat::Kind::line)
        j.update({{"step", r.byGap ? "gap" : "pitch"}, {"across_mm", r.acrossMm}});
    if (!r.exceptions.empty()) {
        j["exceptions"] = json::array();
        for (const CopyException& e : r.exceptions) j["exceptions"].push_back(exceptionJson(e));
    }
    restoreUnknown(j, r.extra);
    return j;
}

Outline outlineFromJson(const Fields& f) {
    Outline o;
    o.form = static_cast<Outline::Form>(indexOf(f, "form", outlineForms));
    const std::string purpose = f.text("purpose", "cut");
    if (purpose != "cut" && purpose != "baste")
        throw FieldError{f.path("purpose"), "must be cut or baste"};
    o.cut = purpose == "cut";
    o.widthMm = f.number("width_mm", o.widthMm, 0.5, farMm);
    o.heightMm = f.number("height_mm", o.heightMm, 0.5, farMm);
    o.cornerMm = f.number("corner_mm", 0, 0, farMm);
    o.offsetMm = f.number("offset_mm", o.offsetMm, 0.2, 500);
    o.stitchLengthMm = f.number("stitch_length_mm", o.stitchLengthMm, 0.5, maxStitchMm);
    o.thread = threadFromJson(f.child("thread"));
    o.extra = f.unknown({"form", "purpose", "width_mm", "height_mm", "corner_mm", "offset_mm",
                         "stitch_length_mm", "thread"},
                        {{"thread", {"color", "weight", "name"}}});
    return o;
}

json outlineToJson(const Outline& o) {
    json j{{"form", outlineForms[static_cast<int>(o.form)]},
           {"purpose", o.cut ? "cut" : "baste"},
           {"stitch_length_mm", o.stitchLengthMm},
           {"thread", threadToJson(o.thread)}};
    if (o.form == Outline::Form::contour)
        j["offset_mm"] = o.offsetMm;
    else
        j.update({{"width_mm", o.widthMm}, {"height_mm", o.heightMm}});
    if (o.cornerMm != 0) j["corner_mm"] = o.cornerMm;
    restoreUnknown(j, o.extra);
    return j;
}

Artwork artworkFromJson(const Fields& f) {
    Artwork a;
    a.member = f.text("member");
    if (!isInsideName(a.member)) throw FieldError{f.path("member"), "leads out of the archive"};
    a.at = {f.number("x", 0, -farMm, farMm), f.number("y", 0, -farMm, farMm)};
    a.widthMm = f.number("width_mm", a.widthMm, 1, farMm);
    a.opacity = f.number("opacity", a.opacity, 0, 1);
    a.extra = f.unknown({"member", "x", "y", "width_mm", "opacity"});
    return a;
}

json artworkToJson(const Artwork& a) {
    json j{{"member", a.member},
           {"x", a.at.x},
           {"y", a.at.y},
           {"width_mm", a.widthMm},
           {"opacity", a.opacity}};
    restoreUnknown(j, a.extra);
    return j;
}

} // namespace rapt
