#include "library/library.h"

#include "base/file_io.h"
#include "base/json_fields.h"

#include <filesystem>
#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxLibraryBytes = 16'000'000;
constexpr double roundingMm = 0.001;

FrameTag readTag(const json& value, const std::string& path) {
    const Fields f(value, path);
    FrameTag t;
    t.id = f.integer("id", -1, 0, 586);
    t.at = {f.number("x", -5000, 5000), f.number("y", -5000, 5000)};
    t.sizeMm = f.positive("size_mm", 12);
    return t;
}

Hoop readHoop(const Fields& f) {
    Hoop h;
    h.id = f.text("id");
    h.name = f.text("name", h.id);
    h.kind = f.text("kind", "single");
    const Fields field = f.child("field");
    const std::string shape = field.text("shape", "rect");
    if (shape != "rect" && shape != "oval")
        throw FieldError{field.path("shape"), "must be rect or oval"};
    h.shape = shape == "oval" ? Hoop::Shape::oval : Hoop::Shape::rect;
    h.widthMm = field.number("width_mm", 1, 5000);
    h.heightMm = field.number("height_mm", 1, 5000);
    h.outerWidthMm = h.widthMm + 40;
    h.outerHeightMm = h.heightMm + 40;
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
    if (f.has("band")) {
        const Fields band = f.child("band");
        h.band = Band{band.number("from_mm", -5000, 5000), band.number("to_mm", -5000, 5000)};
    }
    return h;
}

Fabric readFabric(const Fields& f) {
    Fabric x;
    x.id = f.text("id");
    x.name = f.text("name", x.id);
    x.maxLayers = f.positive("max_layers", x.maxLayers);
    x.maxHits = f.positive("max_hits_per_mm2", x.maxHits);
    x.thicknessMm = f.positive("thickness_mm", x.thicknessMm);
    x.pullMm = f.number("pull_mm", x.pullMm, 0, 2);
    x.leastLetterMm = f.positive("least_letter_mm", x.leastLetterMm);
    x.leastColumnMm = f.positive("least_column_mm", x.leastColumnMm);
    x.mostColumnMm = f.positive("most_column_mm", x.mostColumnMm);
    x.tuckMm = f.number("tuck_mm", x.tuckMm, 0, 10);
    if (f.has("max_line_hits_per_mm")) x.maxLineHits = f.number("max_line_hits_per_mm", 0.1, 100);
    x.stabilizer = f.text("stabilizer", "");
    x.topper = f.text("topper", "");
    x.stitchOuts = f.integer("stitch_outs", 0, 0, 1'000'000);
    x.needle = f.text("needle", "");
    x.topSpeed = f.integer("top_speed_spm", x.topSpeed, 50, 5000);
    x.source = f.text("source", "house value");
    return x;
}

Machine readMachine(const Fields& f) {
    Machine m;
    m.id = f.text("id");
    m.name = f.text("name", m.id);
    m.needles = f.integer("needles", m.needles, 1, 64);
    m.topSpeed = f.integer("top_speed_spm", m.topSpeed, 50, 5000);
    m.fullSpeedUpToMm = f.positive("full_speed_up_to_mm", m.fullSpeedUpToMm);
    m.threadChangeSeconds = f.number("thread_change_s", m.threadChangeSeconds, 0, 3600);
    m.trimSeconds = f.number("trim_s", m.trimSeconds, 0, 3600);
    m.hoopingSeconds = f.number("hooping_s", m.hoopingSeconds, 0, 86400);
    return m;
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
    if (shape == Shape::oval && std::hypot(p.x / w, p.y / h) > 1) return false;
    if (std::abs(p.x) > w || std::abs(p.y) > h) return false;
    return !band || p.y <= band->fromMm + roundingMm || p.y >= band->toMm - roundingMm;
}

Result<Hoop> Library::hoop(const std::string& id) const { return find(hoops, id, "hoop"); }
Result<Fabric> Library::fabric(const std::string& id) const { return find(fabrics, id, "fabric"); }
Result<Machine> Library::machine(const std::string& id) const {
    return find(machines, id, "machine");
}

Result<Library> loadLibrary(const std::string& dataFolder, const std::string& userFolder) {
    Library library;
    const Status own = readFolder(dataFolder, true, library);
    if (!own) return own.error();
    const Status users = readFolder(userFolder, false, library);
    if (!users) return users.error();
    return library;
}

} // namespace rapt
