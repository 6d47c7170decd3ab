#pragma once
// How large files may be: one table for readers and writers, so that whatever can be written can be
// read (docs/formats.md). A writer refuses what passes them, before anything is written.

#include <cstddef>
#include <cstdint>

namespace rapt::limits {

inline constexpr std::size_t jobFileBytes = 256'000'000; ///< a *.rapt as it lies on the disk
inline constexpr std::uint64_t memberBytes = 64'000'000; ///< one member, unpacked
inline constexpr std::size_t jobJsonBytes = 32'000'000;  ///< of them job.json, some million points
inline constexpr std::uint64_t allMembersBytes = 256'000'000;
inline constexpr std::int64_t members = 4096;
inline constexpr std::size_t stitchListBytes = 256'000'000; ///< a *.stitch.csv by itself

} // namespace rapt::limits
