#include "formats/stick_folder.h"

#include "base/file_io.h"
#include "formats/stitch_csv.h"

#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace rapt {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t mostBytes = 256'000'000;
constexpr int mostHeadLines = 600;

/// The comment lines that a stitch list begins with.
StitchList headOf(const fs::path& path) {
    StitchList head;
    std::ifstream file(path);
    std::string line;
    for (int i = 0; i < mostHeadLines && file.peek() == '#' && std::getline(file, line); ++i) {
        if (!line.empty() && line.back() == '\r') line.pop_back();
        head.remarks.push_back(line);
    }
    return head;
}

/// What the files to be written would replace.
struct Earlier {
    std::string name;
    std::optional<std::string> bytes; ///< nothing: there was no such file
};

Result<std::vector<Earlier>> earlierOf(const std::string& folder, const Handover& plan) {
    std::vector<Earlier> all;
    std::error_code ec;
    for (const HandoverFile& f : plan.files) {
        const std::string path = (fs::path(folder) / f.file).string();
        if (!fs::exists(path, ec)) {
            all.push_back({f.file, std::nullopt});
            continue;
        }
        auto bytes = readWholeFile(path, mostBytes);
        if (!bytes) return bytes.error();
        all.push_back({f.file, std::move(*bytes)});
    }
    return all;
}

/// Puts back what was there. Gives the names of files where that failed.
std::string putBack(const std::string& folder, const std::vector<Earlier>& earlier) {
    std::string left;
    std::error_code ec;
    for (const Earlier& e : earlier) {
        const std::string path = (fs::path(folder) / e.name).string();
        const bool good = e.bytes ? bool(writeWholeFile(path, *e.bytes))
                                  : (fs::remove(path, ec), !fs::exists(path, ec));
        if (!good) left += (left.empty() ? "" : ", ") + e.name;
    }
    return left;
}

Status proved(const std::string& folder, const HandoverFile& file) {
    const std::string path = (fs::path(folder) / file.file).string();
    const auto back = readStitchFile(path);
    if (!back) return back.error();
    const auto meant = parseStitchCsv(file.text, path);
    if (!meant) return meant.error();
    const std::string difference = differenceFrom(*meant, *back);
    if (difference.empty()) return done();
    return badInput(difference + "; the stick may be failing, use another one", {}, path);
}

} // namespace

Result<Receiver> readStick(const std::string& folder, const Machine& machine) {
    Receiver receiver;
    receiver.places = machine.stick.files;
    std::error_code ec;
    fs::path looked = folder;
    if (!fs::exists(looked, ec)) looked = fs::absolute(folder, ec).lexically_normal().parent_path();
    const fs::space_info space = fs::space(looked, ec);
    if (ec) return badInput("there is no such folder; is the stick in?", {}, folder);
    receiver.freeBytes = static_cast<std::int64_t>(
        std::min<std::uintmax_t>(space.available, std::uintmax_t{1} << 62));
    if (!fs::exists(folder, ec)) return receiver;
    if (!fs::is_directory(folder, ec)) return badInput("is not a folder", {}, folder);
    for (fs::directory_iterator it(folder, ec), end; !ec && it != end; it.increment(ec)) {
        const std::string name = it->path().filename().string();
        if (name.starts_with('.') || !it->is_regular_file(ec)) continue;
        StoredDesign design = originOf(headOf(it->path()));
        design.file = name;
        design.bytes = static_cast<std::int64_t>(it->file_size(ec));
        receiver.there.push_back(std::move(design));
    }
    if (ec) return badInput("the folder cannot be read: " + ec.message(), {}, folder);
    std::sort(receiver.there.begin(), receiver.there.end(),
              [](const StoredDesign& a, const StoredDesign& b) { return a.file < b.file; });
    return receiver;
}

Status writeStick(const std::string& folder, const Handover& plan,
                  const std::vector<std::string>& remove) {
    const auto earlier = earlierOf(folder, plan);
    if (!earlier) return earlier.error();
    std::vector<FileToWrite> files;
    for (const HandoverFile& f : plan.files) files.push_back({f.file, f.text});
    Status state = writeFilesTogether(folder, files);
    for (const HandoverFile& f : plan.files)
        if (state) state = proved(folder, f);
    if (!state) {
        Error error = state.error();
        const std::string left = putBack(folder, *earlier);
        error.reason +=
            left.empty() ? "; the stick is as it was" : "; these could not be put back: " + left;
        return error;
    }
    std::error_code ec;
    for (const std::string& name : remove) {
        fs::remove(fs::path(folder) / name, ec);
        if (ec)
            return badInput("the new files are there, but this older one cannot be removed: " +
                                ec.message(),
                            {}, (fs::path(folder) / name).string());
    }
    return done();
}

} // namespace rapt
