#pragma once
// The journal of a run: a line for everything that happened, written as it happens, so that a run
// goes on after whatever ended the application (docs/formats.md, "Runs").

#include "base/result.h"
#include "run/run_record.h"

#include <memory>

namespace rapt {

/// Writes the journal of one run.
class RunJournal {
public:
    RunJournal();
    ~RunJournal();
    RunJournal(RunJournal&&) noexcept;
    RunJournal& operator=(RunJournal&&) noexcept;

    /// Opens FOLDER/MARK.jsonl; what it holds already stays. A torn last line is ended first.
    static Result<RunJournal> open(const std::string& folder, const RunRecord& record);

    void began(std::size_t from);
    /// At most four times a second; everything else is written at once and flushed to the disk.
    void progress(std::size_t sewn, double seconds);
    void stopped(const RunEvent& event);
    void finished(std::size_t sewn, double seconds);
    void confirmed(const std::string& step, bool yes);

private:
    void write(const std::string& line, bool flush);
    struct File;
    std::unique_ptr<File> file;
};

/// What the journal of that mark tells; nothing without one. Lines that cannot be read are left
/// out: the last may be torn.
Result<std::optional<RunRecord>> readRunJournal(const std::string& folder, const std::string& mark);

/// The run is over and recorded: its journal goes.
void removeRunJournal(const std::string& folder, const std::string& mark);

} // namespace rapt
