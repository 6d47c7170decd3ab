#include "base/folder_lock.h"

#include <fcntl.h>
#include <filesystem>
#include <sys/file.h>
#include <unistd.h>

namespace rapt {

FolderLock::FolderLock(const std::string& folder) {
    std::error_code ec;
    std::filesystem::create_directories(folder, ec);
    fd = ::open((folder + "/.lock").c_str(), O_CREAT | O_RDWR | O_CLOEXEC, 0600);
    if (fd >= 0) (void)::flock(fd, LOCK_EX);
}

FolderLock::~FolderLock() {
    if (fd >= 0) ::close(fd);
}

} // namespace rapt
