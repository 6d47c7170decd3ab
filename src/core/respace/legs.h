#pragma once
// Straight stretches of a chain of needle points, and whether two of them lie side by side.
// Internal to recognising; millimetres.

#include "geometry/vec2.h"

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace rapt {

/// A straight stretch from one point of a chain to another.
struct Leg {
    std::uint32_t from = 0, to = 0; ///< indices of points
    Vec2 a, b;
    Vec2 way; ///< unit vector; null for a stitch of no length
    double size = 0;

    /// True for one stitch.
    bool isSingle() const { return to - from == 1; }
};

/// Cuts the points `first` to `last` (both included) into straight legs.
std::vector<Leg> straightLegs(std::span<const Vec2> points, std::size_t first, std::size_t last);

/// How far the second of two legs that run against each other lies beside the first: to the right
/// of the first's way if positive. Nothing if they are no neighbours: not (nearly) parallel, not
/// side by side, or on one line.
std::optional<double> besideEachOther(const Leg& first, const Leg& second);

/// The same for two single stitches of a wide zigzag, which meet in a point at a larger angle.
std::optional<double> zigzag(const Leg& first, const Leg& second);

} // namespace rapt
