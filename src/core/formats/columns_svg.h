#pragma once
// The columns of letters as an SVG drawing, for looking at them.

#include "letter/columns/columns.h"

#include <string>

namespace rapt {

/// Outlines with every rung, one colour a column, at true scale.
std::string columnsSvg(const std::vector<LetterPart>& parts);

} // namespace rapt
