#include "library/library.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "library/learnt.h"
#include "library/records.h"

#include <filesystem>
#include <fmt/format.h>
#include <numbers>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxLibraryBytes = 16'000'000;
constexpr double roundingMm = 0.001;
constexpr const char* kinds[] = {"single", "two-sided", "sliding", "quarter-turn", "stepped"};
constexpr const char* sides[] = {"left", "right", "back", "front"};

FrameTag readTag(const json& value, const std::string& path) {
    const Fields f(value, path);
    FrameTag t;
    t.id = f.integer("id", -1, 0, 586);
    t.at = {f.number("x", -5000, 5000), f.number("y", -5000, 5000)};
    t.sizeMm = f.positive("size_mm", 12);
    return t;
}

Hoop::Shape readShape(const Fields& field) {
    const std::string shape = field.text("shape", "rect");
    if (shape == "oval") return Hoop::Shape::oval;
    if (shape == "rounded") return Hoop::Shape::rounded;
    if (shape != "rect") throw FieldError{field.path("shape"), "must be rect, rounded or oval"};
    return Hoop::Shape::rect;
}

/// Older two-sided records: a strip that neither side reaches, across one field. They are read as
/// their two halves, the lower one turned half round.
void readBand(const Fields& band, Hoop& h) {
    const double from = band.number("from_mm", -5000, 5000);
    const double to = band.number("to_mm", -5000, 5000);
    const double half = h.heightMm / 2;
    if (!(from < to && from > -half && to < half))
        throw FieldError{band.path("to_mm"), "must lie above from_mm, both inside the field"};
    h.heightMm = std::min(from + half, half - to);
    h.positions = {{{0, -half + h.heightMm / 2}, 0}, {{0, half - h.heightMm / 2}, 180}};
}

void readPositions(const Fields& f, Hoop& h) {
    if (f.has("slide")) {
        const Fields slide = f.child("slide");
        h.slide = Slide{slide.number("from", -5000, 5000), slide.number("to", -5000, 5000)};
        if (h.slide->fromMm > h.slide->toMm)
            throw FieldError{slide.path("to"), "the slide runs backwards"};
    }
    if (!f.has("positions")) return;
    if (h.slide)
        throw FieldError{f.path("positions"), "a frame has positions or a slide, not both"};
    h.positions.clear();
    const json& list = f.array("positions");
    for (std::size_t i = 0; i < list.size(); ++i) {
        const Fields p(list[i], fmt::format("{}[{}]", f.path("positions"), i));
        h.positions.push_back({{p.number("x", 0, -5000, 5000), p.number("y", 0, -5000, 5000)},
                               p.number("turn_deg", 0, -360, 360)});
    }
    if (h.positions.empty()) throw FieldError{f.path("positions"), "must name at least one"};
}

Hoop readHoop(const Fields& f) {
    Hoop h;
    h.id = f.text("id");
    h.name = f.text("name", h.id);
    h.kind = f.text("kind", "single");
    if (std::find(std::begin(kinds), std::end(kinds), h.kind) == std::end(kinds))
        throw FieldError{f.path("kind"),
                         "must be single, two-sided, sliding, quarter-turn or stepped"};
    const Fields field = f.child("field");
    h.shape = readShape(field);
    h.widthMm = field.number("width_mm", 1, 5000);
    h.heightMm = field.number("height_mm", 1, 5000);
    h.cornerMm = field.number("corner_mm", 0, 0, std::min(h.widthMm, h.heightMm) / 2);
    const double wholeHeight = h.heightMm;
    if (f.has("band")) readBand(f.child("band"), h);
    readPositions(f, h);
    const Box reach = h.reach();
    h.outerWidthMm = reach.width() + 40;
    h.outerHeightMm = std::max(reach.height(), wholeHeight) + 40;
    if (f.array("outer_mm").size() == 2) {
        h.outerWidthMm = numberOf(f.array("outer_mm")[0], f.path("outer_mm"), 1, 6000);
        h.outerHeightMm = numberOf(f.array("outer_mm")[1], f.path("outer_mm"), 1, 6000);
    }
    if (f.has("turns")) h.turns.clear();
    for (const json& turn : f.array("turns"))
        h.turns.push_back(numberOf(turn, f.path("turns"), -360, 360));
    if (h.turns.empty()) throw FieldError{f.path("turns"), "must name at least one rotation"};
    for (std::size_t i = 0; i < f.array("tags").size(); ++i)
        h.tags.push_back(readTag(f.array("tags")[i], fmt::format("{}[{}]", f.path("tags"), i)));
    h.frameSigmaMm = f.number("frame_sigma_mm", h.frameSigmaMm, 0, 10);
    h.arm = f.text("arm", h.arm);
    if (std::find(std::begin(sides), std::end(sides), h.arm) == std::end(sides))
        throw FieldError{f.path("arm"), "must be left, right, back or front"};
    return h;
}

Fabric readFabric(const Fields& f) {
    Fabric x;
    x.id = f.text("id");
    x.name = f.text("name", x.id);
    x.maxLayers = f.positive("max_layers", x.maxLayers);
    x.maxHits = f.positive("max_hits_per_mm2", x.maxHits);
    x.thicknessMm = f.positive("thickness_mm", x.thicknessMm);
    x.usualStretchPercent = f.number("usual_stretch_percent", x.usualStretchPercent, 0, 100);
    x.pullMm = f.number("pull_mm", x.pullMm, 0, 2);
    x.leastLetterMm = f.positive("least_letter_mm", x.leastLetterMm);
    x.leastColumnMm = f.positive("least_column_mm", x.leastColumnMm);
    x.mostColumnMm = f.positive("most_column_mm", x.mostColumnMm);
    x.tuckMm = f.number("tuck_mm", x.tuckMm, 0, 10);
    if (f.has("max_line_hits_per_mm")) x.maxLineHits = f.number("max_line_hits_per_mm", 0.1, 100);
    x.stabilizer = f.text("stabilizer", "");
    x.stabilizerLayers = f.integer("stabilizer_layers", 1, 0, 20);
    x.topper = f.text("topper", "");
    x.stitchOuts = f.integer("stitch_outs", 0, 0, 1'000'000);
    x.needle = f.text("needle", "");
    x.topSpeed = f.integer("top_speed_spm", x.topSpeed, 50, 5000);
    x.source = f.text("source", "house value");
    return x;
}

template<class Record, class Read>
void mergeRecords(const json& root, const char* key, std::vector<Record>& into, Read read) {
    const Fields fields(root, "");
    const json& list = fields.array(key);
    for (std::size_t i = 0; i < list.size(); ++i) {
        Record record = read(Fields(list[i], fmt::format("{}[{}]", key, i)));
        auto same = std::find_if(into.begin(), into.end(),
                                 [&](const Record& r) { return r.id == record.id; });
        if (same == into.end())
            into.push_back(std::move(record));
        else
            *same = std::move(record);
    }
}

template<class Record, class Read>
Status readLibraryFile(const std::string& path, const char* key, std::vector<Record>& into,
                       Read read) {
    const Result<std::string> text = readWholeFile(path, maxLibraryBytes);
    if (!text) return text.error();
    const Result<json> root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        mergeRecords(*root, key, into, read);
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
    return done();
}

Status readFolder(const std::string& folder, bool required, Library& library) {
    const auto wanted = [&](const char* name) {
        std::error_code ec;
        return required || std::filesystem::exists(folder + "/" + name, ec);
    };
    Status state = done();
    if (wanted("hoops.json"))
        state = readLibraryFile(folder + "/hoops.json", "hoops", library.hoops, readHoop);
    if (state && wanted("fabrics.json"))
        state = readLibraryFile(folder + "/fabrics.json", "fabrics", library.fabrics, readFabric);
    if (state && wanted("machines.json"))
        state =
            readLibraryFile(folder + "/machines.json", "machines", library.machines, readMachine);
    return state;
}

template<class Record>
Result<Record> find(const std::vector<Record>& records, const std::string& id, const char* what) {
    std::string known;
    for (const Record& r : records) {
        if (r.id == id) return r;
        known += (known.empty() ? "" : ", ") + r.id;
    }
    return cannotDo(
        fmt::format("the {} '{}' is not in the library; known are {}", what, id, known));
}

} // namespace

bool Hoop::reaches(Vec2 p) const {
    const double w = widthMm / 2 + roundingMm;
    const double h = heightMm / 2 + roundingMm;
    if (shape == Shape::oval) return std::hypot(p.x / w, p.y / h) <= 1;
    if (std::abs(p.x) > w || std::abs(p.y) > h) return false;
    const double dx = std::abs(p.x) - (w - cornerMm), dy = std::abs(p.y) - (h - cornerMm);
    return shape == Shape::rect || dx <= 0 || dy <= 0 || std::hypot(dx, dy) <= cornerMm;
}

Box Hoop::reach() const {
    Box box;
    for (const FramePosition& position : positions) {
        const double turn = position.turnDeg * std::numbers::pi / 180;
        const double c = std::abs(std::cos(turn)), s = std::abs(std::sin(turn));
        const double w = widthMm * c + heightMm * s, h = widthMm * s + heightMm * c;
        const double from = slide ? slide->fromMm : 0, to = slide ? slide->toMm : 0;
        box.add(Box::centredAt(position.at + Vec2{from, 0}, w, h));
        box.add(Box::centredAt(position.at + Vec2{to, 0}, w, h));
    }
    return box;
}

Result<Hoop> Library::hoop(const std::string& id) const { return find(hoops, id, "hoop"); }
Result<Fabric> Library::fabric(const std::string& id) const { return find(fabrics, id, "fabric"); }
Result<Machine> Library::machine(const std::string& id) const {
    return find(machines, id, "machine");
}

Result<Library> loadHouseLibrary(const std::string& dataFolder, const std::string& userFolder) {
    Library library;
    const Status own = readFolder(dataFolder, true, library);
    if (!own) return own.error();
    const Status users = readFolder(userFolder, false, library);
    if (!users) return users.error();
    auto cameras = readUserCameras(userFolder);
    if (!cameras) return cameras.error();
    library.cameras = std::move(*cameras);
    auto practice = readPractice(userFolder);
    if (!practice) return practice.error();
    library.practice = std::move(*practice);
    return library;
}

Result<Library> loadLibrary(const std::string& dataFolder, const std::string& userFolder) {
    auto library = loadHouseLibrary(dataFolder, userFolder);
    if (!library) return library;
    const auto learnt = readLearnt(userFolder);
    if (!learnt) return learnt.error();
    applyLearnt(*learnt, *library);
    return library;
}

} // namespace rapt
