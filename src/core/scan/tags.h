#pragma once
// Square tags of the public AprilTag family 36h11, by the AprilTag library (Olson 2011; Wang and
// Olson 2016).

#include "geometry/vec2.h"
#include "scan/image.h"

#include <array>
#include <vector>

namespace rapt {

inline constexpr int firstCardId = 100; ///< locator cards have this id or a higher one
inline constexpr int lastTagId = 586;
/// Cards printed on templates: of hooping n (from 1) this and n, without a hooping this alone.
inline constexpr int templateCardId = 500;
inline constexpr double cardEdgeMm = 15;
inline constexpr double cardHairLineMm = 30; ///< from the card's centre outwards

/// Where a template has its card: in the middle of the design, below one that it would hide.
Vec2 templateCardAt(const Box& extents);

/// A tag seen in a picture: its black square's corners in pixels, top left first, clockwise as
/// seen from above the upright tag.
struct SeenTag {
    int id = 0;
    std::array<Vec2, 4> corners;
    Vec2 centre; ///< where its diagonals cross
};

/// All tags in a grey picture.
std::vector<SeenTag> findTags(const Image& grey);

/// The tag as 8 × 8 cells, row by row, true for black; the outer ring is the black edge.
std::array<std::array<bool, 8>, 8> tagCells(int id);

} // namespace rapt
