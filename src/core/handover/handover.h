#pragma once
// Handing hoopings over to a stick or a machine: what is checked before anything is written, what
// is written, what goes, and the proof afterwards.

#include "divide/hooping_lists.h"

#include <cstdint>

namespace rapt {

/// One file that is there already.
struct StoredDesign {
    std::string file;
    std::int64_t bytes = 0;
    std::string job;     ///< name of that which handed it over; empty: it is not ours
    int hooping = 0;     ///< of that job
    std::string mark;    ///< of what it sews (contentMark)
    std::string jobId{}; ///< the identity of the job; empty for files of older versions
    /// True if this job handed it over: by its identity, by its name only if the file has none.
    bool isOf(const Job& other) const {
        return jobId.empty() ? !job.empty() && job == other.name : jobId == other.identity.text;
    }
    friend bool operator==(const StoredDesign&, const StoredDesign&) = default;
};

/// Where designs go: a stick's folder or a machine's memory.
struct Receiver {
    std::vector<StoredDesign> there;
    std::int64_t freeBytes = 0;
    int places = 0; ///< designs that it holds or lists at all
    bool isStick = true;
};

struct HandoverFile {
    std::size_t hooping = 0; ///< from 0
    std::string file;        ///< with its ending
    std::string text;        ///< of a stitch list that says which job it is of
};

/// What will be done.
struct Handover {
    std::vector<HandoverFile> files;
    std::vector<std::string> outdated; ///< of an earlier version of this job; they go, if wished
    /// Those of them that no new file replaces.
    std::vector<std::string> leftOver() const;
};

/// Checks frames, fields, names, places and memory, and makes the files. Fails (cannotDo) with what
/// to do. Positions that are turned are handed over turned: their lists are in the field frame.
Result<Handover> planHandover(const Job& job, const std::vector<HoopingList>& lists,
                              const Machine& machine, const Library& library,
                              const Receiver& receiver, bool removeOutdated = true);

/// The file of a hooping (from 0) as it is handed over: it says which job it is of.
std::string handedText(const Job& job, const StitchList& list, std::size_t hooping);

/// Short for what a list sews and whose it is; changes with any stitch or thread, not with the
/// job's name.
std::string contentMark(const StitchList& list, const JobIdentity& job);

/// Which job a handed-over list says it is of; its `job` is empty if it says nothing.
StoredDesign originOf(const StitchList& list);

/// Where what came back differs from what was handed over, or empty: stitch by stitch.
std::string differenceFrom(const StitchList& handedOver, const StitchList& back);

} // namespace rapt
