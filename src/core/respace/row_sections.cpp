#include "respace/row_sections.h"

#include <algorithm>

namespace rapt {
namespace {

bool meets(const RowExtent& a, const RowExtent& b) {
    return std::min(a.high, b.high) > std::max(a.low, b.low);
}

} // namespace

RowSections sectionsOf(const std::vector<RowExtent>& pieces) {
    RowSections result;
    std::size_t rowStart = 0, before = 0; // first piece of this row, of the row before
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        if (pieces[i].row != pieces[rowStart].row) {
            before = pieces[i].row == pieces[rowStart].row + 1 ? rowStart : i;
            rowStart = i;
        }
        // How many pieces of this row does a piece of the row before meet?
        const auto partners = [&](std::size_t k) {
            int count = 0;
            for (std::size_t j = rowStart; j < pieces.size() && pieces[j].row == pieces[i].row; ++j)
                count += meets(pieces[k], pieces[j]);
            return count;
        };
        std::size_t met = 0;
        int count = 0;
        for (std::size_t k = before; k < rowStart; ++k)
            if (meets(pieces[k], pieces[i])) {
                met = k;
                ++count;
            }
        const bool goesOn = count == 1 && partners(met) == 1;
        result.sectionOf.push_back(goesOn ? result.sectionOf[met] : result.count++);
        for (std::size_t k = before; k < rowStart; ++k)
            if (meets(pieces[k], pieces[i]))
                result.meet.emplace_back(result.sectionOf[k], result.sectionOf[i]);
    }
    return result;
}

} // namespace rapt
