#pragma once
// Placing one frame in another (docs/formats.md).

#include "geometry/vec2.h"

namespace rapt {

/// An affine map p ↦ (a·x + b·y + tx, c·x + d·y + ty).
struct Affine {
    double a = 1, b = 0, c = 0, d = 1, tx = 0, ty = 0;

    /// Where a place comes to lie.
    Vec2 operator()(Vec2 p) const { return {a * p.x + b * p.y + tx, c * p.x + d * p.y + ty}; }
    /// Negative for maps that mirror.
    double determinant() const { return a * d - b * c; }
    /// The map that undoes this one; the determinant must not be zero.
    Affine inverse() const;
    /// First `this`, then `next`.
    Affine then(const Affine& next) const;
    friend bool operator==(const Affine&, const Affine&) = default;
};

/// Scale, then mirror (x → −x), then rotate (clockwise as seen), then translate into the parent
/// frame. Millimetres and degrees.
struct Pose {
    double x = 0;
    double y = 0;
    double rotationDeg = 0;
    bool mirror = false;
    double scaleX = 1; ///< never 0; negative values are kept as given
    double scaleY = 1;

    /// Scale, then mirror, then turn, then move.
    Affine affine() const;
    /// Where the stitches of a piece lie, which have its scale already.
    Pose unscaled() const;
    /// How many times as large things come out: the geometric mean of both factors, over 0.
    double meanScale() const;
    friend bool operator==(const Pose&, const Pose&) = default;
};

/// Sine and cosine of an angle in degrees, exact at the multiples of 90.
struct Turn {
    double cosine, sine;
};
/// Sine and cosine; exact at quarter turns.
Turn turnOf(double degrees);

/// The same direction in (−180, 180].
double normalizedDegrees(double degrees);

} // namespace rapt
