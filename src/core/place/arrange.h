#pragma once
// Lining things up: by how much each has to move. Millimetres, cloth frame.

#include "job/edit.h"

namespace rapt {

/// What moves as one: a piece, or all pieces of a group.
struct Movable {
    std::vector<std::string> ids;
    Box box; ///< of its stitches
};

/// Which edges or middles meet.
enum class Align { left, middleAcross, right, top, middleDown, bottom };

/// Moves that bring an edge or the middle of every box onto the same of `to`.
std::vector<Vec2> alignMoves(const std::vector<Movable>& items, Align how, const Box& to);

/// Moves that leave equal gaps between the boxes, in the order of their middles across or down; the
/// outermost two stay. Where there is no room for gaps, the middles come to lie equally far apart.
/// Fewer than three stay as they are.
std::vector<Vec2> distributeMoves(const std::vector<Movable>& items, bool across);

/// One edit of all of them.
Edit moveEach(const std::string& name, std::vector<Movable> items, std::vector<Vec2> moves);

} // namespace rapt
