#pragma once
// A problem as a value: the same list in the window, the command and the sheets.

#include "job/edit.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// Whether to sew: not so, with care, good to know.
enum class Severity { stop, caution, note };
/// Its stable name.
const char* nameOf(Severity severity);

/// What a remedy does; of one kind one is enough for a finding.
enum class RemedyKind {
    respace,
    relieve,
    spacing,
    move,
    leaveOutRun,
    size,
    thinWords, ///< less underlay, strokes that butt with less overlap
    face,
    trim,
    show,
    leaveOutSeen, ///< an observation of the cloth
    machine,      ///< another one
    together,     ///< those of several findings, as one
};

/// What can be done about a finding, tried out beforehand.
struct Remedy {
    RemedyKind kind = RemedyKind::respace;
    std::string label;  ///< what the button says: "Respace it"
    std::string effect; ///< what it brings, in numbers: "4.2 → 3.0 layers"
    Edit edit;
    std::optional<double> valueBefore{}, valueAfter{}; ///< of the finding's value
};

/// A problem, with where, why and what to do.
struct Finding {
    Severity severity = Severity::note;
    std::string kind;       ///< stable name: layers, hits, short-stitches, …
    std::optional<Vec2> at; ///< cloth frame
    std::optional<double> value;
    std::optional<double> limit;
    std::string text;                ///< one plain sentence with numbers and units
    std::string cause;               ///< why, in words; may be empty
    std::string advice{};            ///< what a person can do where no edit mends it; may be empty
    std::vector<std::string> pieces; ///< ids concerned
    /// All places of one cause, the worst first; empty where `at` says it all.
    std::vector<Vec2> places;
    std::size_t count = 1;                     ///< how many places there are
    std::optional<double> excess, excessTotal; ///< over the limit: of the worst place, of all
    std::vector<Remedy> remedies;              ///< those that help, the gentlest first
    bool remediesOpen = false;                 ///< they have yet to be looked for (load/remedies.h)

    /// The cause, then the advice where there is no remedy.
    std::string why() const;
    /// The first one, or null.
    const Remedy* remedy() const { return remedies.empty() ? nullptr : &remedies.front(); }
};

/// True if any is a stop.
bool anyStop(const std::vector<Finding>& findings);

/// Findings that a person is told as one: they have the same pieces and the same cause, as the
/// layers, hits and short stitches of a piece that was shrunk. Indices.
struct ToldFinding {
    std::size_t worst = 0; ///< the first of them
    std::vector<std::size_t> also;
};
std::vector<ToldFinding> toldTogether(const std::vector<Finding>& findings);
/// "Also: 11.0 hits …": what another finding adds, without the name that both begin with.
std::string alsoText(const Finding& worst, const Finding& other);

} // namespace rapt
