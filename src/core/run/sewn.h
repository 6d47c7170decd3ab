#pragma once
// What of a list was really sewn, and where to go on. Counts are penetrations from the list's
// start; records are indices into its stitches.

#include "thread/stitch_list.h"

#include <cstddef>
#include <string>
#include <vector>

namespace rapt {

/// Stitches that are sewn again after a break, so that the ends lie over each other.
inline constexpr std::size_t resumeOverlap = 3;

/// Why a machine stands.
enum class StopKind {
    asked, ///< by the person
    threadBreak,
    bobbinEmpty,
    needleBreak,
    jam,
    powerCut,
    coneChange, ///< the next thread is on no needle
};
/// Its stable name, such as `thread-break`, and the kind of that name; false for none.
const char* nameOf(StopKind kind);
bool parseStopKind(const std::string& name, StopKind& kind);

/// The penetrations of a list: their records, in order.
class Penetrations {
public:
    explicit Penetrations(const StitchList& list);
    std::size_t count() const { return records.size(); }
    /// The record of a penetration (from 0).
    std::size_t record(std::size_t penetration) const { return records[penetration]; }
    /// How many are done once so many records are.
    std::size_t before(std::size_t record) const;

private:
    std::vector<std::uint32_t> records;
};

/// Where the machine goes on.
struct Resume {
    std::size_t from = 0;    ///< penetrations that stay; the next one is sewn next
    std::size_t overlap = 0; ///< of those that were sewn, how many are sewn once more
};

/// After `sewn` penetrations: back by the overlap, but never into the thread before, which is no
/// longer on. After what the machine only stopped for, nothing needs to be sewn again.
Resume resumeAfter(const StitchList& list, const Penetrations& penetrations, std::size_t sewn,
                   StopKind why);

/// The first penetration (from 0) of the thread that is being sewn after `sewn` of them.
std::size_t threadStart(const StitchList& list, const Penetrations& penetrations, std::size_t sewn);

/// The first penetration of the next thread; the list's count if there is none.
std::size_t nextThread(const StitchList& list, const Penetrations& penetrations, std::size_t sewn);

} // namespace rapt
