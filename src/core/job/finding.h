#pragma once
// A problem as a value: the same list in the window, the command and the sheets.

#include "job/edit.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

enum class Severity { stop, caution, note };
const char* nameOf(Severity severity);

/// What can be done about a finding, worked out beforehand.
struct Remedy {
    std::string label;  ///< what the button says: "Respace it"
    std::string effect; ///< what it brings, in numbers: "4.2 → 3.0 layers"
    Edit edit;
};

struct Finding {
    Severity severity = Severity::note;
    std::string kind;       ///< stable name: layers, hits, short-stitches, …
    std::optional<Vec2> at; ///< cloth frame
    std::optional<double> value;
    std::optional<double> limit;
    std::string text;                ///< one plain sentence with numbers and units
    std::string cause;               ///< why, in words; may be empty
    std::vector<std::string> pieces; ///< ids concerned
    std::optional<Remedy> remedy;    ///< the gentlest that helps
    std::vector<Remedy> others;      ///< further ones that help
};

/// True if any is a stop.
bool anyStop(const std::vector<Finding>& findings);

} // namespace rapt
