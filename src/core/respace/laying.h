#pragma once
// Laying one stretch again in its scaled outline. Internal to respacing; millimetres.

#include "respace/respace.h"
#include "respace/stretches.h"

namespace rapt {

/// The scaling of a design, and what is kept of it.
struct Scaling {
    double x = 1, y = 1;
    RespaceOptions options;

    /// Where a place comes to lie.
    Vec2 operator()(Vec2 p) const { return {p.x * x, p.y * y}; }
    /// A short way that keeps its size, mirrored if the scaling mirrors.
    Vec2 mirrored(Vec2 d) const { return {x < 0 ? -d.x : d.x, y < 0 ? -d.y : d.y}; }
    /// How much longer a line in this direction (unit vector) becomes.
    double along(Vec2 way) const { return length((*this)(way)); }
    /// How much farther apart parallel lines in this direction come to lie.
    double across(Vec2 way) const { return std::abs(x * y) / along(way); }
    /// The factor by which what grew by `ratio` is laid more often.
    double kept(double ratio) const { return std::pow(ratio, options.spacingShare); }
};

/// Takes needle points of one chain: divides long stitches, merges what got too short.
class NeedlePath {
public:
    /// An empty path; options say how long stitches may be.
    explicit NeedlePath(const RespaceOptions& o) : options(o) {}

    /// Where thread comes from without a penetration.
    void leadIn(Vec2 p) {
        last = p;
        begun = true;
    }
    /// A point that must stay where it is: a start, an end, a corner. A soft one too near goes.
    void fix(Vec2 p);
    /// A point that goes if it is too near to the one before.
    void add(Vec2 p);
    /// A point that stays although it is near to the one before, because it was so.
    void addNear(Vec2 p);
    /// Takes the last point elsewhere, if it is nearer than a stitch should be; else adds a point.
    void moveTo(Vec2 p);
    /// Exactly this point, on the spot too; with the record of the input that it is, scaled.
    void addSame(Vec2 p, std::uint32_t record = laidAfresh);

    static constexpr std::uint32_t laidAfresh = 0xFFFFFFFFu;
    std::vector<Vec2> points;
    std::vector<std::uint32_t> records; ///< of the input, one a point; or laidAfresh

private:
    void push(Vec2 p, bool firm, std::uint32_t record = laidAfresh);
    void drop();

    RespaceOptions options;
    Vec2 last;
    bool begun = false, lastFirm = true;
};

/// What the stitches of a thread were like, for stretches that do not show it themselves.
struct ThreadHabits {
    double fillStitchMm = 4;     ///< inside rows
    double coverSpacingMm = 0.4; ///< median row spacing (half a satin's pitch), weighted
};

/// Is there another band of the same thread beyond the first row, beyond the last?
struct BandEnds {
    bool first = false, last = false;
};

/// A satin, crossing by crossing, at its pitch.
void laySatin(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
              double spacingRatio, NeedlePath& out);
/// A fill, row by row, between the scaled ends of its rows.
void layFill(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
             double spacingRatio, const ThreadHabits& habits, BandEnds neighbours, NeedlePath& out);
/// True if the scaling would turn the rows of a fill.
bool turnsRows(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling);
/// The lines on which rows lie. The sections of one fill share them, so that their rows go on in
/// each other.
struct RowLattice {
    double angleDeg = 0;
    double spacingMm = 0.4;
    double through = 0; ///< height of some row in the frame turned by the angle
};
/// The scaled outline filled anew at the old angle, on the lattice of `known` that it fits, or on
/// one of its own, which is added.
void layRefilled(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
                 double spacingRatio, const ThreadHabits& habits, std::vector<RowLattice>& known,
                 NeedlePath& out);
/// A run, its corners kept.
void layRun(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
            NeedlePath& out);
/// A run that is sewn several times over itself.
void layRepeatedRun(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
                    NeedlePath& out);
/// Stitches on the spot keep their size.
void layTie(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
            NeedlePath& out);
/// Scaled point by point.
void layAsItIs(const SewnChain& chain, const SewnStretch& stretch, const Scaling& scaling,
               NeedlePath& out);

} // namespace rapt
