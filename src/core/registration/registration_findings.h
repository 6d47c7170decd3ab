#pragma once
// What is wrong with where hoopings were found.

#include "divide/hooping_lists.h"
#include "job/finding.h"

namespace rapt {

/// One finding a registered clamping and cause, places in the cloth frame: an observation that does
/// not fit (`register-suspect`), datum lines out of square with the one to draw again
/// (`register-square`), cloth stretched beyond what its fabric usually is (`register-stretch`), a
/// correction that its field does not hold (`register-field`), a plan that changed since
/// (`register-outdated`). Remedies are edits where an edit mends it.
std::vector<Finding> registrationFindings(const Job& job, const std::vector<HoopingList>& lists,
                                          const Library& library);

} // namespace rapt
