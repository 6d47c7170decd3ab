#pragma once
// One writer at a time for files that are read, changed and written back, across processes.

#include <string>

namespace rapt {

/// Holds FOLDER/.lock (advisory, flock) while it lives; the folder is made if it is missing. Waits
/// for who holds it. Where a file system knows no locks it holds nothing.
class FolderLock {
public:
    explicit FolderLock(const std::string& folder);
    ~FolderLock();
    FolderLock(const FolderLock&) = delete;
    FolderLock& operator=(const FolderLock&) = delete;

private:
    int fd = -1;
};

} // namespace rapt
