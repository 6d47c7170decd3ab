#include "formats/lettering_json.h"

#include "formats/shape_json.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr const char* kinds[] = {"straight", "arc", "circle", "path"};
constexpr const char* sides[] = {"outside", "inside"};
constexpr const char* alignments[] = {"left", "centre", "right"};
constexpr double farMm = 10'000;

template<class Value, std::size_t n>
Value oneOf(const Fields& f, const char* key, const char* const (&names)[n], Value fallback) {
    const std::string name = f.text(key, names[static_cast<int>(fallback)]);
    std::string known;
    for (std::size_t k = 0; k < n; ++k) {
        if (name == names[k]) return static_cast<Value>(k);
        known += (k == 0 ? "" : k + 1 == n ? " or " : ", ") + std::string(names[k]);
    }
    throw FieldError{f.path(key), "must be " + known};
}

LetterLine lineFrom(const Fields& f) {
    LetterLine line;
    line.kind = oneOf(f, "kind", kinds, LineKind::straight);
    line.radiusMm = f.positive("radius_mm", line.radiusMm);
    line.side = oneOf(f, "side", sides, ArcSide::outside);
    line.middleDeg = f.number("middle_deg", 0, -3600, 3600);
    line.upright = f.flag("upright", false);
    line.even = f.flag("even", false);
    if (f.has("path")) line.path = polylineFromJson(f.raw("path"), f.path("path"));
    line.extra = f.unknown({"kind", "radius_mm", "side", "middle_deg", "upright", "even", "path"});
    return line;
}

json lineJson(const LetterLine& line) {
    json j{{"kind", kinds[static_cast<int>(line.kind)]}};
    if (line.kind == LineKind::arc || line.kind == LineKind::circle) {
        j["radius_mm"] = line.radiusMm;
        j["side"] = sides[static_cast<int>(line.side)];
        if (line.middleDeg != 0) j["middle_deg"] = line.middleDeg;
    }
    if (line.upright) j["upright"] = true;
    if (line.even) j["even"] = true;
    if (!line.path.empty()) j["path"] = polylineToJson(line.path);
    restoreUnknown(j, line.extra);
    return j;
}

LetterChange changeFrom(const Fields& f) {
    LetterChange c;
    c.letter = f.integer("letter", 0, 0, 100'000);
    c.dxMm = f.number("dx_mm", 0, -farMm, farMm);
    c.dyMm = f.number("dy_mm", 0, -farMm, farMm);
    c.turnDeg = f.number("turn_deg", 0, -3600, 3600);
    c.scale = f.number("scale", 1, 0.1, 10);
    if (f.has("thread")) c.thread = threadFromJson(f.child("thread"));
    const json& columns = f.array("columns");
    for (std::size_t i = 0; i < columns.size(); ++i) {
        const Fields column(columns[i], fmt::format("{}[{}]", f.path("columns"), i));
        c.columns.push_back({column.integer("column", 0, 0, 10'000),
                             column.number("turn_deg", 0, -60, 60), column.flag("fill", false)});
    }
    return c;
}

json changeJson(const LetterChange& c) {
    json j{{"letter", c.letter}};
    if (c.dxMm != 0) j["dx_mm"] = c.dxMm;
    if (c.dyMm != 0) j["dy_mm"] = c.dyMm;
    if (c.turnDeg != 0) j["turn_deg"] = c.turnDeg;
    if (c.scale != 1) j["scale"] = c.scale;
    if (c.thread) j["thread"] = threadToJson(*c.thread);
    for (const ColumnChange& column : c.columns) {
        json own{{"column", column.column}};
        if (column.turnDeg != 0) own["turn_deg"] = column.turnDeg;
        if (column.fill) own["fill"] = true;
        j["columns"].push_back(own);
    }
    return j;
}

} // namespace

Lettering letteringFromJson(const Fields& f) {
    Lettering l;
    l.text = f.text("text", "");
    l.face = f.text("face", "lato");
    l.capHeightMm = f.number("cap_height_mm", l.capHeightMm, 0.001, farMm);
    l.trackingMm = f.number("tracking_mm", 0, -farMm, farMm);
    l.wordGapMm = f.number("word_gap_mm", 0, -farMm, farMm);
    l.lineGapMm = f.number("line_gap_mm", 0, 0, farMm);
    l.alignment = oneOf(f, "align", alignments, Alignment::centre);
    if (f.has("line")) l.line = lineFrom(f.child("line"));
    if (f.has("thread")) l.thread = threadFromJson(f.child("thread"));
    l.pitchMm = f.number("pitch_mm", l.pitchMm, 0.1, 5);
    l.pullMm = f.number("pull_mm", 0, -2, 4);
    l.underlay = f.flag("underlay", true);
    l.mostLayers = f.number("most_layers", 0, 0, 100);
    const json& letters = f.array("letters");
    for (std::size_t i = 0; i < letters.size(); ++i)
        l.letters.push_back(
            changeFrom(Fields(letters[i], fmt::format("{}[{}]", f.path("letters"), i))));
    l.extra = f.unknown(
        {"text", "face", "cap_height_mm", "tracking_mm", "word_gap_mm", "line_gap_mm", "align",
         "line", "thread", "pitch_mm", "pull_mm", "underlay", "most_layers", "letters"},
        {{"thread", {"color", "weight", "name"}},
         {"letters",
          {"letter", "dx_mm", "dy_mm", "turn_deg", "scale", "thread", "columns"},
          {{"thread", {"color", "weight", "name"}}, {"columns", {"column", "turn_deg", "fill"}}}}});
    return l;
}

json letteringToJson(const Lettering& l) {
    json j{{"text", l.text},
           {"face", l.face},
           {"cap_height_mm", l.capHeightMm},
           {"tracking_mm", l.trackingMm},
           {"line", lineJson(l.line)},
           {"thread", threadToJson(l.thread)}};
    if (l.wordGapMm != 0) j["word_gap_mm"] = l.wordGapMm;
    if (l.lineGapMm != 0) j["line_gap_mm"] = l.lineGapMm;
    if (l.alignment != Alignment::centre) j["align"] = alignments[static_cast<int>(l.alignment)];
    if (l.pitchMm != 0.40) j["pitch_mm"] = l.pitchMm;
    if (l.pullMm != 0) j["pull_mm"] = l.pullMm;
    if (!l.underlay) j["underlay"] = false;
    if (l.mostLayers != 0) j["most_layers"] = l.mostLayers;
    for (const LetterChange& c : l.letters) j["letters"].push_back(changeJson(c));
    restoreUnknown(j, l.extra);
    return j;
}

} // namespace rapt
