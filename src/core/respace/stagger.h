#pragma once
// The needle points inside the rows of a fill: how long their stitches are and how they are
// staggered from row to row. Internal to respacing; millimetres.

#include "respace/laying.h"

namespace rapt {

/// Needle points inside rows.
class Stagger {
public:
    /// Reads the pattern of a fill; `habits` stand in where it shows none.
    Stagger(const SewnChain& chain, const SewnStretch& stretch, const ThreadHabits& habits);

    /// Longer stitches inside the rows, by this factor.
    void stretch(double factor) { stitchMm *= factor; }

    /// Distances from `from` of the needle points inside a row from `from` to `to`; `row` counts
    /// the rows as they are laid.
    void pointsOf(Vec2 from, Vec2 to, std::size_t row, std::vector<double>& distances) const;

    /// Between two points inside a row.
    double stitchLengthMm() const { return stitchMm; }
    /// The mean way of the rows, as the first one runs.
    Vec2 axis() const { return along; }

private:
    /// What the needle points are counted from.
    enum class Origin { plane, firstSide, rowStart, even, none };

    void readLengths(const SewnChain& chain, const SewnStretch& stretch,
                     const ThreadHabits& habits);
    void readPattern(const SewnChain& chain, const SewnStretch& stretch);
    bool isEven(const SewnChain& chain, const SewnStretch& stretch) const;

    Vec2 along;
    double stitchMm = 4;
    double leastEndMm = 0.5; ///< between a row's end and the point next to it
    double longestRowMm = 0; ///< without a point inside
    Origin origin = Origin::none;
    std::vector<double> phases; ///< in stitch lengths, row by row, repeating
};

} // namespace rapt
