#include "letter/faces.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "base/paths.h"
#include "letter/profile.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <map>
#include <mutex>
#include <optional>

namespace rapt {
namespace fs = std::filesystem;
namespace {

/// Opened faces by path and time of change, so that a replaced file is opened again.
class OpenedFaces {
public:
    Result<std::shared_ptr<const Face>> open(const std::string& path) {
        const std::lock_guard guard(lock);
        return entry(path).face;
    }
    bool connects(const std::string& path) {
        const std::lock_guard guard(lock);
        Entry& e = entry(path);
        if (!e.connects) e.connects = e.face && lettersConnect(**e.face);
        return *e.connects;
    }

private:
    struct Entry {
        fs::file_time_type changed;
        Result<std::shared_ptr<const Face>> face;
        std::optional<bool> connects;
    };
    Entry& entry(const std::string& path) {
        std::error_code ec;
        const auto changed = fs::last_write_time(path, ec);
        const auto it = entries.find(path);
        if (it != entries.end() && it->second.changed == changed) return it->second;
        return entries.insert_or_assign(path, Entry{changed, Face::open(path), {}}).first->second;
    }
    std::mutex lock;
    std::map<std::string, Entry> entries;
};

OpenedFaces& opened() {
    static OpenedFaces faces; // files only; nothing of a job is in it
    return faces;
}

std::string idOf(const fs::path& file) {
    std::string id;
    for (const char c : file.stem().string()) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalnum(u))
            id.push_back(static_cast<char>(std::tolower(u)));
        else if (!id.empty() && id.back() != '-')
            id.push_back('-');
    }
    while (!id.empty() && id.back() == '-') id.pop_back();
    return id.empty() ? "face" : id;
}

bool isFontFile(const fs::path& file) {
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return std::tolower(c); });
    return ending == ".ttf" || ending == ".otf";
}

void addFonts(FaceShelf& shelf, const std::string& folder, bool personal) {
    std::error_code ec;
    std::vector<fs::path> files;
    for (fs::directory_iterator it(folder, ec), last; !ec && it != last; it.increment(ec))
        if (isFontFile(it->path()) && !shelf.holds(it->path().string()))
            files.push_back(it->path());
    std::sort(files.begin(), files.end());
    std::vector<FaceRecord> own;
    for (const fs::path& file : files) {
        const auto face = opened().open(file.string());
        if (!face) {
            shelf.refused.push_back({file.string(), face.error().reason});
            continue;
        }
        FaceRecord record{idOf(file), (*face)->name(), file.string(),
                          opened().connects(file.string()), personal};
        const std::string base = record.id;
        for (int k = 2;
             shelf.find(record.id) ||
             std::any_of(own.begin(), own.end(), [&](auto& r) { return r.id == record.id; });
             ++k)
            record.id = fmt::format("{}-{}", base, k);
        own.push_back(std::move(record));
    }
    std::sort(own.begin(), own.end(),
              [](const FaceRecord& a, const FaceRecord& b) { return a.name < b.name; });
    shelf.faces.insert(shelf.faces.end(), own.begin(), own.end());
}

} // namespace

const FaceRecord* FaceShelf::find(const std::string& id) const {
    const auto it =
        std::find_if(faces.begin(), faces.end(), [&](const FaceRecord& f) { return f.id == id; });
    return it == faces.end() ? nullptr : &*it;
}

bool FaceShelf::holds(const std::string& file) const {
    return std::any_of(faces.begin(), faces.end(),
                       [&](const FaceRecord& f) { return f.file == file; });
}

std::string FaceShelf::knownIds() const {
    std::vector<std::string> ids;
    for (const FaceRecord& f : faces) ids.push_back(f.id);
    return fmt::format("{}", fmt::join(ids, ", "));
}

FaceShelf faceShelf(const std::string& dataFolder_, const std::string& userFolder) {
    FaceShelf shelf;
    const std::string folder = dataFolder_ + "/faces/";
    if (const auto text = readWholeFile(folder + "faces.json", 1 << 20)) {
        const auto json = parseJson(*text, folder + "faces.json");
        if (json) try {
                const Fields root(*json, "faces.json");
                for (const auto& item : root.array("faces")) {
                    const Fields f(item, "faces");
                    shelf.faces.push_back({f.text("id"), f.text("name"), folder + f.text("file"),
                                           f.flag("joined", false), false});
                }
            } catch (const FieldError& e) {
                shelf.refused.push_back({folder + "faces.json", e.place + " " + e.reason});
            }
        else
            shelf.refused.push_back({folder + "faces.json", json.error().reason});
    }
    addFonts(shelf, folder, false);
    addFonts(shelf, userFolder + "/faces", true);
    return shelf;
}

FaceShelf faceShelf() { return faceShelf(dataFolder(), userDataFolder()); }

namespace {

/// The shelf as it was read last, while its folders and their list are as they were then.
std::shared_ptr<const FaceShelf> readShelf() {
    static std::mutex lock;
    static std::shared_ptr<const FaceShelf> shelf;
    static std::vector<std::pair<std::string, fs::file_time_type>> readOf;
    std::vector<std::pair<std::string, fs::file_time_type>> now;
    const std::string ours = dataFolder() + "/faces";
    for (const std::string& place : {ours, ours + "/faces.json", userDataFolder() + "/faces"}) {
        std::error_code ec;
        now.emplace_back(place, fs::last_write_time(place, ec));
    }
    const std::lock_guard guard(lock);
    if (!shelf || now != readOf) {
        shelf = std::make_shared<const FaceShelf>(faceShelf());
        readOf = std::move(now);
    }
    return shelf;
}

} // namespace

Result<std::shared_ptr<const Face>> openFace(const std::string& id) {
    if (id.find('/') != std::string::npos) return opened().open(id);
    const auto shelf = readShelf();
    if (const FaceRecord* record = shelf->find(id)) return opened().open(record->file);
    return cannotDo(fmt::format("there is no face '{}'; known are {}", id, shelf->knownIds()));
}

bool isJoined(const std::string& id) {
    const auto shelf = readShelf();
    if (const FaceRecord* record = shelf->find(id)) return record->joined;
    return id.find('/') != std::string::npos && opened().connects(id);
}

bool lettersConnect(const Face& face) {
    int pairs = 0, touching = 0;
    for (const char* pair : {"nn", "ea", "am", "mi", "iu", "un", "en", "na"}) {
        const ShapedLine line = face.shape(pair);
        if (line.glyphs.size() < 2 || !line.missing.empty()) continue;
        constexpr double cap = 20;
        Contours left = face.outline(line.glyphs[0].glyph, cap),
                 right = face.outline(line.glyphs[1].glyph, cap);
        for (Polyline& l : right)
            for (Vec2& p : l) p.x += (line.glyphs[1].x - line.glyphs[0].x) * cap;
        ++pairs;
        touching += gapAlong(left, right) < 0.02 * cap;
    }
    return pairs > 0 && touching * 4 >= pairs * 3;
}

} // namespace rapt
