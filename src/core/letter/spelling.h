#pragma once
// Names that are meant to be one and are written in two ways.

#include <string>
#include <utility>
#include <vector>

namespace rapt {

/// Names (UTF-8) that are one in two spellings, as pairs of places, each name with the first that
/// it is like: such as differ only in accents, blanks, hyphens, apostrophes or points ("Zoë-Marie",
/// "Zoe Marie"), and, from eight letters on, by one slip of the hand (a letter too many, another
/// one, two exchanged). Neither is a difference of case alone ("Mole", "MOLE") or of a digit ("Loan
/// 27", "Loan 28").
std::vector<std::pair<std::size_t, std::size_t>>
spelledTwoWays(const std::vector<std::string>& names);

} // namespace rapt
