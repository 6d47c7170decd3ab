#pragma once
// Jobs on disk: *.rapt (docs/formats.md).

#include "base/result.h"
#include "job/job.h"

#include <string>

namespace rapt {

/// Reads a job whole into a fresh value. An error names the file, the member and the place in it.
Result<Job> readJobFile(const std::string& path);

/// Replaces the file by the job, whole or not at all.
Status writeJobFile(const std::string& path, const Job& job);

/// The bytes that writeJobFile writes, and a job from such bytes.
Result<std::string> packJob(const Job& job);
/// Fails (badInput) with member and reason.
Result<Job> unpackJob(const std::string& bytes, const std::string& file);

/// True if the bytes begin like a ZIP archive: how commands tell a job from a stitch list.
bool looksLikeJob(const std::string& bytes);

/// What a file named on the command line or dropped on the window holds.
struct DesignOrJob {
    std::optional<StitchList> design;
    std::optional<Job> job;
};
/// By the file's name and first bytes.
Result<DesignOrJob> readDesignOrJob(const std::string& path);

/// A job that holds one design at the origin, on a cloth 20 mm larger on every side.
Job jobOfDesign(const StitchList& list, const std::string& member);

} // namespace rapt
