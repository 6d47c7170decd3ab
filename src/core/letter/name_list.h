#pragma once
// A list of names to letter: read, checked before anything is sewn, and sized. Millimetres.

#include "base/result.h"
#include "letter/lettering.h"

namespace rapt {

/// The names of a CSV file (RFC 4180 records; the column headed "name", else the first one) or of
/// typed lines. Blank lines are passed over. Fails (badInput) for broken quotes, text that is not
/// UTF-8 and lists of more than 5000 names, with the line.
Result<std::vector<std::string>> namesOf(const std::string& text, const std::string& file);

/// How names of different lengths are made to fit.
enum class NameSizing {
    longestDecides, ///< all names as large as the longest one allows
    eachFits,       ///< each as large as it can be, up to the asked height
};

/// A name and its words.
struct NamedLettering {
    std::string name;
    double capHeightMm = 0;
    double widthMm = 0;
    std::vector<std::string> doubts; ///< too long, letters missing, doubled; empty if all is well
    bool usable = true;              ///< it can be lettered at all
};

/// All names and what is wrong with some.
struct NameListPlan {
    std::vector<NamedLettering> names;
    int doubtful = 0;
    std::string longest;
};

/// Sizes every name to a room of `roomMm` in the lettering's face, never larger than its cap height
/// and never smaller than `leastCapMm`. Fails (cannotDo) for an unknown face.
Result<NameListPlan> planNames(const std::vector<std::string>& names, const Lettering& look,
                               double roomMm, double leastCapMm, NameSizing sizing);

} // namespace rapt
