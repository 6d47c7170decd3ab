#include "formats/palette_files.h"

#include "base/file_io.h"
#include "base/text.h"
#include "formats/shape_json.h"

#include <charconv>
#include <filesystem>
#include <fmt/format.h>
#include <sstream>

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxBytes = 16'000'000;
constexpr std::size_t maxThreads = 20'000;
constexpr std::string_view ownRemark = "#:";

/// `weight 40, cone 1203`: what it says goes to the next colour.
void readRemark(std::string_view text, OwnedThread& next) {
    while (!text.empty()) {
        const std::size_t end = std::min(text.find(','), text.size());
        const std::string_view part = trimmed(text.substr(0, end));
        text.remove_prefix(std::min(text.size(), end + 1));
        if (part.starts_with("weight ")) {
            double weight = 0;
            const auto [stop, error] =
                std::from_chars(part.data() + 7, part.data() + part.size(), weight);
            if (error == std::errc() && weight >= 1 && weight <= 1000) next.thread.weight = weight;
        }
        if (part.starts_with("cone ")) next.cone = trimmed(part.substr(5));
    }
}

/// Why a colour line cannot be read; empty if it can.
std::string readColour(std::string_view line, OwnedThread& thread) {
    int parts[3];
    for (int& part : parts) {
        line = trimmed(line);
        const auto [end, error] = std::from_chars(line.data(), line.data() + line.size(), part);
        if (error != std::errc()) return "does not begin with three numbers";
        if (part < 0 || part > 255) return fmt::format("{} is not between 0 and 255", part);
        line.remove_prefix(static_cast<std::size_t>(end - line.data()));
    }
    thread.thread.color = {static_cast<std::uint8_t>(parts[0]), static_cast<std::uint8_t>(parts[1]),
                           static_cast<std::uint8_t>(parts[2])};
    thread.thread.name = trimmed(line);
    if (thread.thread.name.empty()) thread.thread.name = formatRgb(thread.thread.color);
    if (!isPlainUtf8(thread.thread.name)) return "its name is not valid UTF-8";
    return {};
}

OwnedThread ownedFrom(const Fields& f) {
    OwnedThread t;
    t.thread = threadFromJson(f);
    t.cone = f.text("cone", "");
    return t;
}

} // namespace

Result<ParsedPalette> parseGpl(const std::string& text, const std::string& file) {
    std::istringstream lines(text);
    std::string line;
    if (!std::getline(lines, line) || trimmed(line) != "GIMP Palette")
        return badInput("is not a GPL palette: its first line must be 'GIMP Palette'", "line 1",
                        file);
    ParsedPalette parsed;
    OwnedThread next;
    for (int number = 2; std::getline(lines, line); ++number) {
        const std::string_view words = trimmed(line);
        if (words.starts_with(ownRemark)) readRemark(words.substr(ownRemark.size()), next);
        if (words.empty() || words.starts_with('#') || words.starts_with("Columns:")) continue;
        if (words.starts_with("Name:")) {
            if (const std::string name(trimmed(words.substr(5))); isPlainUtf8(name))
                parsed.palette.name = name;
            continue;
        }
        const std::string wrong = parsed.palette.threads.size() >= maxThreads
                                      ? fmt::format("more than {} colours", maxThreads)
                                      : readColour(words, next);
        if (wrong.empty())
            parsed.palette.threads.push_back(next);
        else
            parsed.odd.push_back(fmt::format("line {}: {}", number, wrong));
        next = {};
    }
    return parsed;
}

std::string formatGpl(const Palette& palette) {
    const auto oneLine = [](std::string s) {
        for (char& c : s)
            if (c == '\n' || c == '\r') c = ' ';
        return s;
    };
    std::string text =
        fmt::format("GIMP Palette\nName: {}\nColumns: 8\n#\n", oneLine(palette.name));
    for (const OwnedThread& t : palette.threads) {
        text += fmt::format("#: weight {}", t.thread.weight);
        if (!t.cone.empty()) text += fmt::format(", cone {}", oneLine(t.cone));
        text += fmt::format("\n{:3} {:3} {:3}\t{}\n", t.thread.color.r, t.thread.color.g,
                            t.thread.color.b, oneLine(t.thread.name));
    }
    return text;
}

Result<Palette> loadThreads(const std::string& dataFolder, const std::string& userFolder) {
    std::error_code ec;
    const std::string own = userFolder + "/threads.json";
    const std::string path = std::filesystem::exists(own, ec) ? own : dataFolder + "/threads.json";
    const auto text = readWholeFile(path, maxBytes);
    if (!text) return text.error();
    const auto root = parseJson(*text, path);
    if (!root) return root.error();
    try {
        const Fields f(*root, "");
        Palette palette;
        palette.name = f.text("name", palette.name);
        const json& list = f.array("threads");
        for (std::size_t i = 0; i < list.size() && i < maxThreads; ++i)
            palette.threads.push_back(ownedFrom(Fields(list[i], fmt::format("threads[{}]", i))));
        return palette;
    } catch (const FieldError& e) {
        return badInput(e.reason, e.place, path);
    }
}

Status saveThreads(const std::string& userFolder, const Palette& palette) {
    json list = json::array();
    for (const OwnedThread& t : palette.threads) {
        json j = threadToJson(t.thread);
        if (!t.cone.empty()) j["cone"] = t.cone;
        list.push_back(std::move(j));
    }
    std::error_code ec;
    std::filesystem::create_directories(userFolder, ec);
    return writeWholeFile(userFolder + "/threads.json",
                          json{{"name", palette.name}, {"threads", list}}.dump(1) + "\n");
}

} // namespace rapt
