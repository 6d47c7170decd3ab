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

std::string Finding::why() const {
    std::string words = cause;
    if (!words.empty() && words.back() != '.') words += '.';
    if (remedies.empty() && !advice.empty()) words += (words.empty() ? "" : " ") + advice;
    return words;
}

bool anyStop(const std::vector<Finding>& findings) {
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding& f) { return f.severity == Severity::stop; });
}

std::vector<ToldFinding> toldTogether(const std::vector<Finding>& findings) {
    std::vector<ToldFinding> told;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        const Finding& f = findings[i];
        const auto same = std::find_if(told.begin(), told.end(), [&](const ToldFinding& t) {
            const Finding& worst = findings[t.worst];
            return !f.cause.empty() && f.cause == worst.cause && f.pieces == worst.pieces;
        });
        if (same == told.end())
            told.push_back({i, {}});
        else
            same->also.push_back(i);
    }
    return told;
}

std::string alsoText(const Finding& worst, const Finding& other) {
    const auto colon = other.text.find(": ");
    const bool named =
        colon != std::string::npos && worst.text.compare(0, colon, other.text, 0, colon) == 0;
    return "Also: " + (named ? other.text.substr(colon + 2) : other.text);
}

} // namespace rapt
