#pragma once
// Catching what is moved on lines that matter. Millimetres, cloth frame.

#include "geometry/vec2.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// A line across (`upright`: x = at) or along the cloth that edges and middles catch on.
struct SnapLine {
    bool upright = true;
    double at = 0;
    std::string what; ///< "datum line", "left hem", "middle of Red kite"
};

/// Datum lines, the edges of the cloth and of a field, and edges and middles of other boxes.
std::vector<SnapLine> snapLines(const Box& cloth, const std::optional<Box>& field,
                                const std::vector<std::pair<std::string, Box>>& others);

/// How far to move, and onto what.
struct Snap {
    Vec2 by;                           ///< to add to the move
    const SnapLine* upright = nullptr; ///< what was caught, if anything
    const SnapLine* level = nullptr;
};

/// The least further move that brings an edge or the middle of `box` onto a line, separately for
/// both directions; nothing farther than `reachMm` is caught.
Snap snapTo(const std::vector<SnapLine>& lines, const Box& box, double reachMm);

} // namespace rapt
