#pragma once
// One run of the rapt command: what was asked, what is answered, and the exit status.

#include "base/result.h"
#include "cli/json.h"
#include "library/library.h"

#include <CLI/CLI.hpp>
#include <string>

namespace rapt::cli {

/// What a verb answers: keys for --json and lines for people.
struct Answer {
    nlohmann::ordered_json json = nlohmann::ordered_json::object();
    std::string text;
    bool openStop = false; ///< status 1: done, and a stop is open (only check)
};

using Outcome = Result<Answer>;

/// Carries out one verb; called after the arguments were read.
using Action = std::function<Outcome()>;

/// The verbs, the one that was chosen, and what it needs.
class Run {
public:
    Run();
    Run(const Run&) = delete;
    Run& operator=(const Run&) = delete;

    /// Adds a verb with its --json flag; `action` is carried out if it is chosen. In a group it is
    /// the second word.
    CLI::App* addVerb(const std::string& name, const std::string& help, Action action,
                      CLI::App* group = nullptr);
    /// Adds a verb that is only the first of two words.
    CLI::App* addGroup(const std::string& name, const std::string& help);

    /// Reads the arguments, carries the verb out and prints. Gives the exit status
    /// (docs/formats.md, "The command").
    int main(int argc, char** argv);

private:
    int usageError(const std::string& text) const;
    int carryOut() const;

    CLI::App app;
    bool json = false;
    Action chosen;
};

/// The library on this machine, read when first asked for.
Result<Library> library();

/// Exit statuses (docs/formats.md, "The command").
enum ExitStatus : int { ok = 0, stopOpen = 1, wrongUsage = 2, unreadable = 3, impossible = 4 };

// Each adds its verbs.
void addDesignVerbs(Run& run);    ///< info, load, resize
void addJobVerbs(Run& run);       ///< stitch, check, demo
void addHoopingVerbs(Run& run);   ///< divide, export, sewn
void addRegisterVerbs(Run& run);  ///< fit, panel
void addPictureVerbs(Run& run);   ///< picture
void addBatchVerbs(Run& run);     ///< batch, border
void addScanVerbs(Run& run);      ///< photograph, calibrate, locate
void addImportVerbs(Run& run);    ///< import
void addLetterVerbs(Run& run);    ///< faces, letter
void addWeighVerbs(Run& run);     ///< relieve, order
void addStitchOutVerbs(Run& run); ///< estimate, sew, handover
void addPrintVerbs(Run& run);     ///< template, sheets
void addLedgerVerbs(Run& run);    ///< ledger; only built with Qt

} // namespace rapt::cli
