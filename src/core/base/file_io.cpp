#include "base/file_io.h"

#include <atomic>
#include <cerrno>
#include <charconv>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <set>
#include <sys/stat.h>
#include <unistd.h>

namespace rapt {
namespace fs = std::filesystem;
namespace {

/// Closes its descriptor at the end of the scope.
struct Descriptor {
    int fd = -1;
    explicit Descriptor(int f) : fd(f) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (fd >= 0) ::close(fd);
    }
};

Error systemError(const std::string& path, const std::string& what) {
    return badInput(fmt::format("{}: {}", what, std::strerror(errno)), {}, path);
}

bool writeAll(int fd, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t n = ::write(fd, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
    return true;
}

/// Read without setting it, which other threads would notice.
mode_t currentUmask() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("Umask:"))
            return static_cast<mode_t>(std::strtoul(line.c_str() + 6, nullptr, 8));
    return 022;
}

mode_t modeFor(const std::string& path) {
    struct stat old {};
    if (::stat(path.c_str(), &old) == 0) return old.st_mode & 07777;
    return 0666 & ~currentUmask();
}

std::string asideName(const fs::path& target) {
    static std::atomic<int> counter = 0;
    return (target.parent_path() /
            fmt::format(".{}.{}-{}.part", target.filename().string(), ::getpid(), ++counter))
        .string();
}

/// The process that left `.NAME.PID-N.part`; nothing for other names.
std::optional<pid_t> maker(const std::string& name) {
    constexpr std::string_view tail = ".part";
    if (!name.starts_with(".") || !name.ends_with(tail)) return std::nullopt;
    const std::size_t dot = name.rfind('.', name.size() - tail.size() - 1);
    const std::size_t dash = name.rfind('-');
    if (dot == std::string::npos || dot == 0 || dash == std::string::npos || dash < dot)
        return std::nullopt;
    pid_t pid = 0;
    const auto [end, error] = std::from_chars(&name[dot + 1], &name[dash], pid);
    return error == std::errc() && end == &name[dash] ? std::optional(pid) : std::nullopt;
}

/// Removes what writers that are gone left in a folder.
void removeStrays(const fs::path& folder) {
    std::error_code ec;
    for (const auto& entry : fs::directory_iterator(folder, ec)) {
        const auto pid = maker(entry.path().filename().string());
        if (pid && *pid != ::getpid() && ::kill(*pid, 0) != 0 && errno == ESRCH)
            fs::remove_all(entry.path(), ec);
    }
}

/// The bytes, flushed, under a temporary name beside `target`. An unnamed file is used where the
/// file system has them: then a kill while writing leaves nothing behind at all.
Result<std::string> writeAside(const fs::path& target, std::string_view bytes) {
    const fs::path folder = target.parent_path().empty() ? fs::path(".") : target.parent_path();
    const std::string aside = asideName(target);
    const mode_t mode = modeFor(target.string());
    Descriptor file(::open(folder.c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, 0600));
    const bool unnamed = file.fd >= 0;
    if (!unnamed) file.fd = ::open(aside.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, 0600);
    if (file.fd < 0) return systemError(target.string(), "cannot be written");
    bool good = writeAll(file.fd, bytes) && ::fchmod(file.fd, mode) == 0 && ::fsync(file.fd) == 0;
    if (good && unnamed) {
        const std::string link = fmt::format("/proc/self/fd/{}", file.fd);
        good = ::linkat(AT_FDCWD, link.c_str(), AT_FDCWD, aside.c_str(), AT_SYMLINK_FOLLOW) == 0;
    }
    if (good) return aside;
    const Error error = systemError(target.string(), "cannot be written");
    ::unlink(aside.c_str());
    return error;
}

void flushFolder(const fs::path& folder) {
    Descriptor dir(
        ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (dir.fd >= 0) ::fsync(dir.fd);
}

/// Where a write to `path` must really go: links are followed.
fs::path realTarget(const std::string& path) {
    std::error_code ec;
    if (!fs::is_symlink(path, ec)) return path;
    const fs::path resolved = fs::weakly_canonical(path, ec);
    return ec ? fs::path(path) : resolved;
}

/// Everything in a folder that stays, linked into another. False where something cannot be linked.
bool linkWhatStays(const fs::path& from, const fs::path& into, const std::set<std::string>& goes) {
    std::error_code ec;
    for (const auto& entry : fs::directory_iterator(from, ec)) {
        const std::string name = entry.path().filename().string();
        if (goes.contains(name) || maker(name)) continue;
        if (entry.is_directory(ec) && !entry.is_symlink(ec)) return false;
        if (::linkat(AT_FDCWD, entry.path().c_str(), AT_FDCWD, (into / name).c_str(), 0) != 0)
            return false;
    }
    return !ec;
}

/// Puts a whole new folder in the place of the old one. False, and nothing changed, where that
/// cannot be done.
bool exchangeFolder(const fs::path& folder, const std::vector<FileToWrite>& files,
                    const std::vector<std::string>& obsolete) {
    std::error_code ec;
    const fs::path old = fs::canonical(folder, ec);
    if (ec || old == fs::canonical(".", ec) || !old.has_filename()) return false;
    const fs::path made = asideName(old);
    struct stat info {};
    if (::stat(old.c_str(), &info) != 0 || ::mkdir(made.c_str(), 0700) != 0) return false;
    std::set<std::string> goes(obsolete.begin(), obsolete.end());
    for (const FileToWrite& file : files)
        if (!fs::is_directory(old / file.name, ec)) goes.insert(file.name);
    bool good = linkWhatStays(old, made, goes);
    for (const FileToWrite& file : files) {
        if (!good) break;
        Descriptor out(
            ::open((made / file.name).c_str(), O_CREAT | O_EXCL | O_WRONLY | O_CLOEXEC, 0600));
        good = out.fd >= 0 && writeAll(out.fd, file.bytes) &&
               ::fchmod(out.fd, modeFor((old / file.name).string())) == 0 && ::fsync(out.fd) == 0;
    }
    good = good && ::chmod(made.c_str(), info.st_mode & 07777) == 0;
    flushFolder(made);
    good = good && ::renameat2(AT_FDCWD, made.c_str(), AT_FDCWD, old.c_str(), RENAME_EXCHANGE) == 0;
    if (good) flushFolder(old.parent_path());
    fs::remove_all(made, ec); // the old set, or what could not be finished
    return good;
}

Status writeToDevice(const std::string& path, std::string_view bytes) {
    Descriptor file(::open(path.c_str(), O_WRONLY | O_CLOEXEC));
    if (file.fd < 0 || !writeAll(file.fd, bytes)) return systemError(path, "cannot be written");
    return done();
}

} // namespace

Result<std::string> readWholeFile(const std::string& path, std::size_t maxBytes) {
    Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (file.fd < 0) return systemError(path, "cannot be read");
    struct stat info {};
    if (::fstat(file.fd, &info) != 0) return systemError(path, "cannot be read");
    if (S_ISDIR(info.st_mode)) return badInput("is a folder, not a file", {}, path);
    const auto tooLarge = [&] {
        return badInput(
            fmt::format("is larger than {} MB, the most that is read", maxBytes / 1'000'000), {},
            path);
    };
    if (info.st_size > 0 && static_cast<std::size_t>(info.st_size) > maxBytes) return tooLarge();
    std::string bytes;
    std::size_t used = 0;
    bytes.resize(S_ISREG(info.st_mode) ? static_cast<std::size_t>(info.st_size) + 1 : 65536);
    while (true) {
        if (used == bytes.size()) bytes.resize(bytes.size() * 2);
        const ssize_t n = ::read(file.fd, bytes.data() + used, bytes.size() - used);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return systemError(path, "cannot be read");
        if (n == 0) break;
        used += static_cast<std::size_t>(n);
        if (used > maxBytes) return tooLarge();
    }
    bytes.resize(used);
    return bytes;
}

Result<std::string> readRegularFile(const std::string& path, std::size_t maxBytes) {
    struct stat info {};
    if (::stat(path.c_str(), &info) != 0) return systemError(path, "cannot be read");
    if (!S_ISREG(info.st_mode) && !S_ISDIR(info.st_mode))
        return badInput("is no regular file", {}, path);
    return readWholeFile(path, maxBytes);
}

Status writeWholeFile(const std::string& path, std::string_view bytes) {
    if (path.empty()) return badInput("no file name given to write to");
    const fs::path target = realTarget(path);
    struct stat info {};
    if (::stat(target.c_str(), &info) == 0) {
        if (S_ISDIR(info.st_mode))
            return badInput("is a folder, a file cannot be written there", {}, path);
        if (!S_ISREG(info.st_mode)) return writeToDevice(path, bytes);
    }
    const Result<std::string> aside = writeAside(target, bytes);
    if (!aside) return aside.error();
    if (::rename(aside->c_str(), target.c_str()) != 0) {
        const Error error = systemError(path, "cannot be written");
        ::unlink(aside->c_str());
        return error;
    }
    flushFolder(target.parent_path());
    return done();
}

Status writeFilesTogether(const std::string& folder, const std::vector<FileToWrite>& files,
                          const std::vector<std::string>& obsolete) {
    std::error_code ec;
    if (fs::exists(folder, ec) && !fs::is_directory(folder, ec))
        return badInput("is not a folder", {}, folder);
    const bool made = fs::create_directories(folder, ec);
    if (ec) return badInput("the folder cannot be made: " + ec.message(), {}, folder);
    removeStrays(folder);
    removeStrays(fs::path(folder).parent_path().empty() ? fs::path(".")
                                                        : fs::path(folder).parent_path());
    if (exchangeFolder(folder, files, obsolete)) return done();
    std::vector<std::string> aside;
    const auto giveUp = [&](const Error& error) -> Status {
        for (const std::string& name : aside) ::unlink(name.c_str());
        if (made) fs::remove(folder, ec);
        return error;
    };
    for (const FileToWrite& file : files) {
        const fs::path target = fs::path(folder) / file.name;
        if (fs::is_directory(target, ec))
            return giveUp(badInput("is a folder, a file cannot be written there", {}, target));
        const Result<std::string> written = writeAside(target, file.bytes);
        if (!written) return giveUp(written.error());
        aside.push_back(*written);
    }
    for (std::size_t i = 0; i < files.size(); ++i) {
        const std::string target = (fs::path(folder) / files[i].name).string();
        if (::rename(aside[i].c_str(), target.c_str()) != 0)
            return giveUp(systemError(target, "cannot be written"));
    }
    for (const std::string& name : obsolete) fs::remove(fs::path(folder) / name, ec);
    flushFolder(folder);
    return done();
}

bool isPlainUtf8(std::string_view text) {
    std::size_t i = 0;
    while (i < text.size()) {
        const auto c = static_cast<unsigned char>(text[i]);
        if (c == 0) return false;
        if (c < 0x80) {
            ++i;
            continue;
        }
        const int extra = c >= 0xF0 ? 3 : c >= 0xE0 ? 2 : 1;
        if (c < 0xC2 || c > 0xF4 || i + static_cast<std::size_t>(extra) >= text.size())
            return false;
        char32_t code = c & (0x3F >> extra);
        for (int k = 1; k <= extra; ++k) {
            const auto next = static_cast<unsigned char>(text[i + static_cast<std::size_t>(k)]);
            if ((next & 0xC0) != 0x80) return false;
            code = (code << 6) | (next & 0x3F);
        }
        const bool overlong = (extra == 2 && code < 0x800) || (extra == 3 && code < 0x10000);
        if (overlong || (code >= 0xD800 && code <= 0xDFFF) || code > 0x10FFFF) return false;
        i += static_cast<std::size_t>(extra) + 1;
    }
    return true;
}

} // namespace rapt
