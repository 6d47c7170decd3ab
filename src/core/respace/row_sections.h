#pragma once
// Pieces of rows that can be sewn to and fro without a gap. Internal to respacing and relieving.

#include <cstddef>
#include <utility>
#include <vector>

namespace rapt {

/// A piece of a row: where it lies along the rows.
struct RowExtent {
    std::size_t row = 0;
    double low = 0, high = 0; ///< mm
};

struct RowSections {
    std::vector<int> sectionOf;            ///< of every piece
    int count = 0;                         ///< sections are numbered as they begin
    std::vector<std::pair<int, int>> meet; ///< sections of which pieces of following rows meet
};

/// Pieces in the order of their rows. Pieces of following rows that meet each other and nothing
/// else are in one section; where rows part or join, new sections begin.
RowSections sectionsOf(const std::vector<RowExtent>& pieces);

} // namespace rapt
