#include "base/paths.h"

#include <cstdlib>
#include <filesystem>
#include <sys/socket.h>
#include <sys/stat.h>
#include <unistd.h>

namespace rapt {
namespace fs = std::filesystem;
namespace {

std::string variable(const char* name) {
    const char* value = std::getenv(name);
    return value ? value : "";
}

} // namespace

std::string dataFolder() {
    if (const std::string set = variable("RAPT_DATA"); !set.empty()) return set;
    std::error_code ec;
    const fs::path bin = fs::read_symlink("/proc/self/exe", ec).parent_path();
    // Test and bench programs may sit one folder deeper than build/bin.
    for (const char* candidate :
         {"../share/rapt-thimble", "../../data", "../../../data", "../data"}) {
        const fs::path folder = bin / candidate;
        if (fs::exists(folder / "hoops.json", ec)) return fs::weakly_canonical(folder, ec).string();
    }
    return {};
}

std::string userDataFolder() {
    std::string base = variable("XDG_DATA_HOME");
    if (base.empty()) base = variable("HOME") + "/.local/share";
    return base + "/rapt-thimble";
}

std::string machineSocket(const std::string& machine) {
    const std::string run = variable("XDG_RUNTIME_DIR");
    const std::string base =
        run.empty() ? "/tmp/rapt-thimble-" + std::to_string(::geteuid()) : run + "/rapt-thimble";
    return base + "/" + machine + ".sock";
}

bool isOwnFolder(const std::string& folder) {
    struct stat info {};
    return ::lstat(folder.c_str(), &info) == 0 && S_ISDIR(info.st_mode) &&
           info.st_uid == ::geteuid() && (info.st_mode & 077) == 0;
}

bool isOwnPeer(int socket) {
    ucred peer{};
    socklen_t size = sizeof(peer);
    return ::getsockopt(socket, SOL_SOCKET, SO_PEERCRED, &peer, &size) == 0 &&
           peer.uid == ::geteuid();
}

} // namespace rapt
