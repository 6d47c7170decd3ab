#pragma once
// Reading files whole with a cap, and writing them so that they appear whole or not at all.

#include "base/result.h"

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace rapt {

/// Reads a file into memory. Fails for folders, missing files and files over `maxBytes`, which is
/// checked before anything is read.
Result<std::string> readWholeFile(const std::string& path, std::size_t maxBytes);

/// The same for a file that another file names: links are followed, but pipes and devices, which
/// could keep the reader waiting, are refused.
Result<std::string> readRegularFile(const std::string& path, std::size_t maxBytes);

/// Replaces `path` by `bytes`: written aside in the same folder, flushed to the disk, then renamed
/// over. At every moment (also after a power cut or kill -9) the path holds the old file or the new
/// one. A link is followed, so that the file it names is replaced; the old file's permissions stay.
/// A device or pipe is written to directly.
Status writeWholeFile(const std::string& path, std::string_view bytes);

/// A name and what it will hold.
struct FileToWrite {
    std::string name; ///< file name inside the folder
    std::string bytes;
};

/// Writes several files into a folder, which is made when missing, and removes the names in
/// `obsolete`. The set is whole or the old one, also when killed: where the file system can, a
/// folder with the new set and links to what else is in the old one is made beside it, and the two
/// are exchanged in one step. Elsewhere (and where the folder holds folders) all files are written
/// aside first and renamed last. What an earlier kill left is removed.
Status writeFilesTogether(const std::string& folder, const std::vector<FileToWrite>& files,
                          const std::vector<std::string>& obsolete = {});

/// True if every byte sequence is valid UTF-8 without NUL.
bool isPlainUtf8(std::string_view text);

} // namespace rapt
