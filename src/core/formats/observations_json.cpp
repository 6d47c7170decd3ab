#include "formats/observations_json.h"

#include "formats/observations_file.h"

#include "base/file_io.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr double farMm = 1e6;
constexpr std::size_t maxFileBytes = 16'000'000, maxObservations = 10'000;
constexpr double coincidentMm = 1e-6;

json placeJson(Vec2 p) { return {p.x, p.y}; }

Observation::Kind kindFrom(const Fields& f) {
    const std::string kind = f.text("kind");
    if (kind == "point") return Observation::Kind::point;
    if (kind == "card") return Observation::Kind::card;
    if (kind == "line") return Observation::Kind::line;
    throw FieldError{f.path("kind"), "must be point, card or line"};
}

Polyline placesFrom(const Fields& f, const char* key) {
    Polyline line;
    if (!f.has(key)) throw FieldError{f.path(key), "is missing"};
    const json& list = f.array(key);
    for (std::size_t i = 0; i < list.size(); ++i)
        line.push_back(placeFrom(list[i], fmt::format("{}[{}]", f.path(key), i)));
    return line;
}

void readLine(const Fields& f, Observation& o) {
    const Polyline planned = placesFrom(f, "plan");
    if (planned.size() != 2 || distance(planned[0], planned[1]) < coincidentMm)
        throw FieldError{f.path("plan"), "must be two places that lie apart"};
    o.plannedLine = {planned[0], planned[1]};
    o.seenLine = placesFrom(f, "seen");
    if (o.seenLine.empty()) throw FieldError{f.path("seen"), "must hold at least one place"};
}

} // namespace

Vec2 placeFrom(const json& value, const std::string& path) {
    if (!value.is_array() || value.size() != 2)
        throw FieldError{path, "must be two numbers, [x, y]"};
    return {numberOf(value[0], path, -farMm, farMm), numberOf(value[1], path, -farMm, farMm)};
}

Observation observationFrom(const Fields& f) {
    Observation o;
    o.kind = kindFrom(f);
    o.name = f.text("name", "");
    o.sigmaMm = f.number("sigma_mm", o.sigmaMm, 1e-6, 1e4);
    o.by = f.text("by", o.by);
    o.leftOut = f.flag("left_out", false);
    if (o.kind == Observation::Kind::line) {
        readLine(f, o);
    } else {
        o.planned = placeFrom(f.raw("plan"), f.path("plan"));
        o.seen = placeFrom(f.raw("seen"), f.path("seen"));
    }
    if (o.kind == Observation::Kind::card) {
        o.plannedTurnDeg = f.number("plan_rotation_deg", 0, -1e4, 1e4);
        o.seenTurnDeg = f.number("seen_rotation_deg", -1e4, 1e4);
        o.sigmaDeg = f.number("sigma_deg", o.sigmaDeg, 1e-6, 360);
    }
    o.extra = f.unknown({"kind", "name", "sigma_mm", "by", "left_out", "plan", "seen",
                         "plan_rotation_deg", "seen_rotation_deg", "sigma_deg"});
    return o;
}

json observationJson(const Observation& o) {
    constexpr const char* kinds[] = {"point", "card", "line"};
    json j{{"kind", kinds[static_cast<int>(o.kind)]},
           {"name", o.name},
           {"sigma_mm", o.sigmaMm},
           {"by", o.by}};
    if (o.leftOut) j["left_out"] = true;
    if (o.kind == Observation::Kind::line) {
        j["plan"] = {placeJson(o.plannedLine[0]), placeJson(o.plannedLine[1])};
        j["seen"] = json::array();
        for (const Vec2& p : o.seenLine) j["seen"].push_back(placeJson(p));
    } else {
        j["plan"] = placeJson(o.planned);
        j["seen"] = placeJson(o.seen);
    }
    if (o.kind == Observation::Kind::card) {
        j["plan_rotation_deg"] = o.plannedTurnDeg;
        j["seen_rotation_deg"] = o.seenTurnDeg;
        j["sigma_deg"] = o.sigmaDeg;
    }
    restoreUnknown(j, o.extra);
    return j;
}

Result<std::vector<Observation>> readObservationsFile(const std::string& path) {
    const Result<std::string> text = readWholeFile(path, maxFileBytes);
    if (!text) return text.error();
    const Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    std::vector<Observation> observations;
    try {
        const Fields f(*root, "");
        f.raw("observations");
        const json& list = f.array("observations");
        if (list.size() > maxObservations)
            throw FieldError{"observations", "holds more than 10,000"};
        for (std::size_t i = 0; i < list.size(); ++i)
            observations.push_back(
                observationFrom(Fields(list[i], fmt::format("observations[{}]", i))));
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return observations;
}

} // namespace rapt
