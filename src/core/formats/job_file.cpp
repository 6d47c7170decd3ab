#include "formats/job_file.h"

#include "base/file_io.h"
#include "base/json_fields.h"
#include "formats/job_json.h"
#include "formats/stitch_csv.h"
#include "thread/measures.h"

namespace rapt {
using nlohmann::json;
namespace {

constexpr std::size_t maxFileBytes = 256'000'000;
constexpr std::size_t maxJsonBytes = 8'000'000;

} // namespace

bool looksLikeJob(const std::string& bytes) { return bytes.starts_with("PK"); }

Result<Job> unpackJob(const std::string& bytes, const std::string& file) {
    const Result<ArchiveMembers> members = unpackArchive(bytes, file);
    if (!members) return members.error();
    const auto it = members->find("job.json");
    if (it == members->end())
        return badInput("holds no job.json: this is not a job", "job.json", file);
    if (it->second->size() > maxJsonBytes) return badInput("is larger than 8 MB", "job.json", file);
    const Result<json> root = parseJson(*it->second, "job.json");
    if (!root) return root.error().inside(file);
    try {
        return jobFromJson(*root, *members);
    } catch (const FieldError& e) {
        const bool inMember = e.place.find(".csv") != std::string::npos;
        const std::string inJson = e.place.empty() ? "job.json" : "job.json: " + e.place;
        return badInput(e.reason, inMember ? e.place : inJson, file);
    }
}

Result<Job> readJobFile(const std::string& path) {
    const Result<std::string> bytes = readWholeFile(path, maxFileBytes);
    if (!bytes) return bytes.error();
    return unpackJob(*bytes, path);
}

Result<std::string> packJob(const Job& job) {
    ArchiveMembers members = job.members;
    for (const Piece& p : job.pieces)
        if (const auto* design = std::get_if<DesignContent>(&p.content))
            if (!members.contains(design->member))
                members[design->member] =
                    std::make_shared<const std::string>(formatStitchCsv(*design->list));
    try {
        members["job.json"] = std::make_shared<const std::string>(jobToJson(job).dump(1) + "\n");
    } catch (const json::exception&) {
        return badInput("a name in the job is not valid UTF-8", "job.json");
    }
    return packArchive(members);
}

Status writeJobFile(const std::string& path, const Job& job) {
    const Result<std::string> bytes = packJob(job);
    if (!bytes) return bytes.error().inside(path);
    return writeWholeFile(path, *bytes);
}

Result<DesignOrJob> readDesignOrJob(const std::string& path) {
    const Result<std::string> bytes = readWholeFile(path, maxFileBytes);
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
