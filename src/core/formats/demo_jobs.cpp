#include "formats/demo_jobs.h"

#include "base/file_io.h"
#include "formats/job_file.h"
#include "formats/zip_archive.h"

#include <algorithm>
#include <filesystem>

namespace rapt {
namespace fs = std::filesystem;
namespace {

constexpr std::size_t maxMemberBytes = 128'000'000;

Result<std::string> packFolder(const fs::path& folder) {
    ArchiveMembers members;
    std::error_code ec;
    for (const auto& entry : fs::recursive_directory_iterator(folder, ec)) {
        if (!entry.is_regular_file()) continue;
        auto bytes = readWholeFile(entry.path().string(), maxMemberBytes);
        if (!bytes) return bytes.error();
        members[entry.path().lexically_relative(folder).generic_string()] =
            std::make_shared<const std::string>(std::move(*bytes));
    }
    auto packed = packArchive(members);
    if (!packed) return packed.error();
    // A demo job that cannot be opened must not be handed out.
    const auto job = unpackJob(*packed, folder.string());
    if (!job) return job.error();
    return packed;
}

} // namespace

Result<std::vector<std::string>> writeDemoJobs(const std::string& source,
                                               const std::string& target) {
    std::vector<fs::path> folders;
    std::error_code ec;
    for (const auto& entry : fs::directory_iterator(source, ec))
        if (fs::exists(entry.path() / "job.json", ec)) folders.push_back(entry.path());
    if (folders.empty()) return badInput("holds no demo jobs", {}, source);
    std::sort(folders.begin(), folders.end());
    std::vector<FileToWrite> files;
    std::vector<std::string> names;
    for (const fs::path& folder : folders) {
        auto packed = packFolder(folder);
        if (!packed) return packed.error();
        names.push_back(folder.filename().string() + ".rapt");
        files.push_back({names.back(), std::move(*packed)});
    }
    const Status written = writeFilesTogether(target, files);
    if (!written) return written.error();
    return names;
}

} // namespace rapt
