#include "formats/job_file.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "formats/job_json.h"
#include "formats/limits.h"
#include "formats/stitch_csv.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
using nlohmann::json;
namespace {

/// Of what has none yet: by its content, so that the same job gives the same bytes.
std::string contentIdentity(const ArchiveMembers& members) {
    std::uint64_t h = 1469598103934665603ull, g = 0x9e3779b97f4a7c15ull; // FNV-1a, twice
    const auto add = [&](const std::string& text) {
        for (const char c : text) {
            h = (h ^ static_cast<std::uint8_t>(c)) * 1099511628211ull;
            g = (g ^ static_cast<std::uint8_t>(c)) * 1099511628211ull;
        }
        h = (h ^ 0x100) * 1099511628211ull;
    };
    for (const auto& [name, bytes] : members) {
        add(name);
        add(*bytes);
    }
    return fmt::format("{:016x}{:016x}", h, g);
}

Error tooLargeJson() {
    return badInput(fmt::format("is larger than {} MB: shapes and lines have too many points",
                                limits::jobJsonBytes / 1'000'000),
                    "job.json");
}

/// A name for a stitch list under which the archive has nothing else.
std::string freeMember(const std::string& wanted, const ArchiveMembers& members) {
    constexpr std::string_view ending = ".stitch.csv";
    std::string stem = wanted.ends_with(ending) ? wanted.substr(0, wanted.size() - ending.size())
                                                : std::string("designs/design");
    if (!isInsideName(wanted) || !isPlainUtf8(wanted)) stem = "designs/design";
    std::string name = stem + std::string(ending);
    for (int n = 2; members.contains(name) || name == "job.json"; ++n)
        name = fmt::format("{}-{}{}", stem, n, ending);
    return name;
}

/// Writes each distinct list once. Pieces whose name stands for another list already get one of
/// their own.
void addDesigns(Job& job, ArchiveMembers& members) {
    std::map<std::string, std::shared_ptr<const StitchList>> written;
    for (Piece& p : job.pieces) {
        auto* design = std::get_if<DesignContent>(&p.content);
        if (!design) continue;
        const auto same = std::find_if(written.begin(), written.end(), [&](const auto& w) {
            return w.second == design->list ||
                   (w.first == design->member && *w.second == *design->list);
        });
        if (same != written.end()) {
            design->member = same->first;
            continue;
        }
        design->member = freeMember(design->member, members);
        written[design->member] = design->list;
        members[design->member] =
            std::make_shared<const std::string>(formatStitchCsv(*design->list));
    }
}

} // namespace

bool looksLikeJob(const std::string& bytes) { return bytes.starts_with("PK"); }

Result<Job> unpackJob(const std::string& bytes, const std::string& file) {
    const Result<ArchiveMembers> members = unpackArchive(bytes, file);
    if (!members) return members.error();
    const auto it = members->find("job.json");
    if (it == members->end())
        return badInput("holds no job.json: this is not a job", "job.json", file);
    if (it->second->size() > limits::jobJsonBytes) return tooLargeJson().inside(file);
    const Result<json> root = parseJson(*it->second, "job.json");
    if (!root) return root.error().inside(file);
    try {
        Job job = jobFromJson(*root, *members);
        if (job.identity.text.empty()) job.identity.text = contentIdentity(*members);
        return job;
    } catch (const FieldError& e) {
        const bool inMember = e.place.find(".csv") != std::string::npos;
        const std::string inJson = e.place.empty() ? "job.json" : "job.json: " + e.place;
        return badInput(e.reason, inMember ? e.place : inJson, file);
    }
}

Result<Job> readJobFile(const std::string& path) {
    const Result<std::string> bytes = readWholeFile(path, limits::jobFileBytes);
    if (!bytes) return bytes.error();
    return unpackJob(*bytes, path);
}

Result<std::string> packJob(const Job& given) {
    Job job = given;
    ArchiveMembers members = job.members;
    addDesigns(job, members);
    try {
        const auto text = [&] {
            return std::make_shared<const std::string>(writtenJson(jobToJson(job)) + "\n");
        };
        members["job.json"] = text();
        if (job.identity.text.empty()) {
            job.identity.text = contentIdentity(members);
            members["job.json"] = text();
        }
    } catch (const json::exception&) {
        return badInput("a name in the job is not valid UTF-8", "job.json");
    }
    if (members["job.json"]->size() > limits::jobJsonBytes) return tooLargeJson();
    auto bytes = packArchive(members);
    if (!bytes) return bytes;
    if (bytes->size() > limits::jobFileBytes)
        return cannotDo(fmt::format("the job would be larger than {} MB, the most that is read",
                                    limits::jobFileBytes / 1'000'000));
    // What cannot be opened again is not written.
    if (const auto again = unpackJob(*bytes, ""); !again)
        return cannotDo("the job could not be opened again: " + again.error().reason,
                        again.error().place);
    return bytes;
}

Status writeJobFile(const std::string& path, const Job& job) {
    const Result<std::string> bytes = packJob(job);
    if (!bytes) return bytes.error().inside(path);
    return writeWholeFile(path, *bytes);
}

Result<DesignOrJob> readDesignOrJob(const std::string& path) {
    const Result<std::string> bytes = readWholeFile(path, limits::jobFileBytes);
    if (!bytes) return bytes.error();
    DesignOrJob result;
    if (looksLikeJob(*bytes)) {
        Result<Job> job = unpackJob(*bytes, path);
        if (!job) return job.error();
        result.job = std::move(*job);
    } else {
        Result<StitchList> list = parseStitchCsv(*bytes, path);
        if (!list) return list.error();
        result.design = std::move(*list);
    }
    return result;
}

Job jobOfDesign(const StitchList& list, const std::string& member) {
    Job job;
    job.name = list.name.empty() ? "Untitled" : list.name;
    const Box box = extentsOf(list);
    if (!box.empty()) {
        job.cloth.widthMm = 2 * std::max(std::abs(box.minX), std::abs(box.maxX)) + 40;
        job.cloth.heightMm = 2 * std::max(std::abs(box.minY), std::abs(box.maxY)) + 40;
    }
    Piece piece;
    piece.id = "p1";
    piece.name = job.name;
    piece.content = DesignContent{member, std::make_shared<const StitchList>(list)};
    job.pieces.push_back(std::move(piece));
    return job;
}

} // namespace rapt
