#include "job/finding.h"

#include <algorithm>

namespace rapt {

const char* nameOf(Severity severity) {
    switch (severity) {
    case Severity::stop:
        return "stop";
    case Severity::caution:
        return "caution";
    case Severity::note:
        return "note";
    }
    return "";
}

bool anyStop(const std::vector<Finding>& findings) {
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding& f) { return f.severity == Severity::stop; });
}

} // namespace rapt
