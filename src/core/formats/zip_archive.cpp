#include "formats/zip_archive.h"

#include "base/file_io.h"
#include "formats/limits.h"

#include <fmt/format.h>
#include <zip.h>

namespace rapt {
namespace {

struct DiscardZip {
    void operator()(zip_t* z) const { zip_discard(z); }
};
using ZipHandle = std::unique_ptr<zip_t, DiscardZip>;

struct ZipError {
    zip_error_t error;
    ZipError() { zip_error_init(&error); }
    ZipError(const ZipError&) = delete;
    ZipError& operator=(const ZipError&) = delete;
    ~ZipError() { zip_error_fini(&error); }
    std::string text() { return zip_error_strerror(&error); }
};

/// Checks names and declared sizes of all members before any is unpacked.
Status checkMembers(zip_t* zip, const std::string& file) {
    const std::int64_t count = zip_get_num_entries(zip, 0);
    if (count > limits::members)
        return badInput(fmt::format("holds {} members, the most is {}", count, limits::members), {},
                        file);
    std::uint64_t total = 0;
    std::map<std::string, int> seen;
    for (std::int64_t i = 0; i < count; ++i) {
        zip_stat_t info;
        if (zip_stat_index(zip, static_cast<std::uint64_t>(i), ZIP_FL_ENC_RAW, &info) != 0)
            return badInput("a member cannot be read", fmt::format("member {}", i + 1), file);
        const std::string name = info.name ? info.name : "";
        if (!isPlainUtf8(name) || name.empty())
            return badInput("its name is not valid UTF-8", fmt::format("member {}", i + 1), file);
        const bool folder = name.ends_with('/');
        if (!isInsideName(folder ? name.substr(0, name.size() - 1) : name))
            return badInput("its name leads out of the archive", name, file);
        if (++seen[name] > 1) return badInput("is in the archive twice", name, file);
        const bool sized = (info.valid & ZIP_STAT_SIZE) != 0;
        if (!sized || info.size > limits::memberBytes ||
            (total += info.size) > limits::allMembersBytes)
            return badInput(fmt::format("unpacks to more than {} MB, the most for one member, or "
                                        "{} MB, the most for all",
                                        limits::memberBytes / 1'000'000,
                                        limits::allMembersBytes / 1'000'000),
                            name, file);
        if ((info.valid & ZIP_STAT_ENCRYPTION_METHOD) && info.encryption_method != ZIP_EM_NONE)
            return badInput("is encrypted", name, file);
    }
    return done();
}

Result<std::string> unpackMember(zip_t* zip, std::uint64_t index, const std::string& file) {
    zip_stat_t info;
    zip_stat_index(zip, index, ZIP_FL_ENC_RAW, &info);
    const std::string name = info.name;
    zip_file_t* member = zip_fopen_index(zip, index, 0);
    if (!member)
        return badInput(fmt::format("cannot be unpacked: {}", zip_strerror(zip)), name, file);
    // The declared size is only a claim: memory grows with what really comes.
    std::string bytes;
    char buffer[65536];
    zip_int64_t n = 0;
    while (bytes.size() <= info.size && (n = zip_fread(member, buffer, sizeof buffer)) > 0)
        bytes.append(buffer, static_cast<std::size_t>(n));
    const bool good = n == 0 && bytes.size() == info.size;
    const bool closed = zip_fclose(member) == 0;
    if (!good || !closed) return badInput("is damaged: its size or checksum is wrong", name, file);
    return bytes;
}

} // namespace

bool isInsideName(const std::string& name) {
    if (name.empty() || name.front() == '/' || name.find('\\') != std::string::npos) return false;
    if (name.size() > 1 && name[1] == ':') return false;
    std::size_t start = 0;
    while (start <= name.size()) {
        const std::size_t end = std::min(name.find('/', start), name.size());
        const std::string part = name.substr(start, end - start);
        if (part.empty() || part == "." || part == "..") return false;
        start = end + 1;
    }
    return true;
}

Result<ArchiveMembers> unpackArchive(const std::string& bytes, const std::string& file) {
    ZipError error;
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error.error);
    if (!source) return badInput("cannot be read: " + error.text(), {}, file);
    ZipHandle zip(zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error.error));
    if (!zip) {
        zip_source_free(source);
        return badInput("is not a whole ZIP archive: " + error.text(), {}, file);
    }
    const Status checked = checkMembers(zip.get(), file);
    if (!checked) return checked.error();
    ArchiveMembers members;
    const std::int64_t count = zip_get_num_entries(zip.get(), 0);
    for (std::int64_t i = 0; i < count; ++i) {
        const std::string name = zip_get_name(zip.get(), static_cast<std::uint64_t>(i), 0);
        if (name.ends_with('/')) continue;
        auto content = unpackMember(zip.get(), static_cast<std::uint64_t>(i), file);
        if (!content) return content.error();
        members[name] = std::make_shared<const std::string>(std::move(*content));
    }
    return members;
}

namespace {

/// What unpackArchive would refuse.
Status checkToPack(const ArchiveMembers& members) {
    if (members.size() > static_cast<std::size_t>(limits::members))
        return cannotDo(
            fmt::format("would hold {} members, the most is {}", members.size(), limits::members));
    std::uint64_t total = 0;
    for (const auto& [name, bytes] : members) {
        if (!isPlainUtf8(name) || !isInsideName(name))
            return cannotDo("its name is no plain name inside the job", name);
        total += bytes->size();
        if (bytes->size() > limits::memberBytes)
            return cannotDo(fmt::format("is {:.1f} MB large, the most for one member is {} MB",
                                        static_cast<double>(bytes->size()) / 1e6,
                                        limits::memberBytes / 1'000'000),
                            name);
    }
    if (total > limits::allMembersBytes)
        return cannotDo(fmt::format("all members together are {:.1f} MB large, the most is {} MB",
                                    static_cast<double>(total) / 1e6,
                                    limits::allMembersBytes / 1'000'000));
    return done();
}

} // namespace

Result<std::string> packArchive(const ArchiveMembers& members) {
    if (const Status fine = checkToPack(members); !fine) return fine.error();
    ZipError error;
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error.error);
    if (!target) return badInput("cannot be packed: " + error.text());
    zip_t* zip = zip_open_from_source(target, ZIP_CREATE | ZIP_TRUNCATE, &error.error);
    if (!zip) {
        zip_source_free(target);
        return badInput("cannot be packed: " + error.text());
    }
    zip_source_keep(target);
    bool good = true;
    for (const auto& [name, bytes] : members) {
        zip_source_t* content = zip_source_buffer(zip, bytes->data(), bytes->size(), 0);
        const auto index = zip_file_add(zip, name.c_str(), content, ZIP_FL_ENC_UTF_8);
        if (index < 0) zip_source_free(content);
        good = good && index >= 0;
        // Speed over size: saving happens on every autosave. Pictures are packed already.
        if (good) {
            const bool packed = name.ends_with(".png") || name.ends_with(".jpg");
            zip_set_file_compression(zip, static_cast<std::uint64_t>(index),
                                     packed ? ZIP_CM_STORE : ZIP_CM_DEFLATE, 1);
            zip_file_set_mtime(zip, static_cast<std::uint64_t>(index), 315532800, 0);
        }
    }
    if (!good || zip_close(zip) != 0) {
        const std::string reason = zip_strerror(zip);
        zip_discard(zip);
        zip_source_free(target);
        return badInput("cannot be packed: " + reason);
    }
    zip_source_open(target);
    zip_source_seek(target, 0, SEEK_END);
    std::string bytes(static_cast<std::size_t>(zip_source_tell(target)), '\0');
    zip_source_seek(target, 0, SEEK_SET);
    zip_source_read(target, bytes.data(), bytes.size());
    zip_source_close(target);
    zip_source_free(target);
    return bytes;
}

} // namespace rapt
