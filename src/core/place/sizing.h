#pragma once
// Sizes as numbers: a piece at a typed width or height, and the largest that fits.

#include "job/edit.h"
#include "job/stitching.h"
#include "library/library.h"
#include "thread/resize.h"

namespace rapt {

/// The pose at which the piece's stitches are as wide and high as asked (in its own directions,
/// before it is turned), its middle staying where it is. With only one side given the other keeps
/// the proportion if `locked`. Pieces that are stitched afresh are measured afresh, so that the
/// size is met to 0.01 mm where rows allow. Fails (cannotDo) for pieces without extent.
Result<Pose> resizedTo(const Piece& piece, std::optional<double> widthMm,
                       std::optional<double> heightMm, bool locked);

/// All pieces larger or smaller by a factor, about a place: the distances between them too, the
/// steps of their copies where all that is copied is among them, and the outlines round them.
Edit scalePieces(std::vector<std::string> ids, double factor, Vec2 about, const std::string& name);

/// Several pieces at another size as one.
struct SizedAsOne {
    double factor = 1; ///< from the present size
    Box before, after; ///< of their penetrations with copies and outlines, cloth frame
    Edit edit;
};

/// The pieces, distances between them too, sized as one about the middle of their extents, so that
/// these are as wide or as high as asked: to 0.01 mm where rows allow. `request` gives one of
/// scale, width and height. Fails (cannotDo) for none or locked pieces, no extent, and as
/// scaleFactors does.
Result<SizedAsOne> sizedAsOne(const Job& job, const std::vector<std::string>& ids,
                              const ResizeRequest& request, std::stop_token stop = {});

/// A size that fits, and by which side.
struct Fit {
    double factor = 1; ///< from the present size
    Vec2 move;         ///< of the middle, after scaling about it
    Edit edit;
};

/// The largest size at which the pieces lie inside the field, `marginMm` from its edge, moved to
/// its middle: for a border, or a whole layout. Their copies and outlines count. `field` puts the
/// field frame into the cloth frame and may turn it. Fails (cannotDo) for fields smaller than the
/// margins and pieces without extent.
Result<Fit> fitToField(const Job& job, std::vector<std::string> ids, const Hoop& hoop,
                       const Pose& field, double marginMm);

/// The largest size about their own middle at which the pieces stay inside the field and
/// `marginMm` away from every neighbour's thread: for what lies inside a border, or between others.
Result<Fit> fitBetweenNeighbours(const Job& job, std::vector<std::string> ids, const Hoop& hoop,
                                 const Pose& field, double marginMm);

struct GridSize {
    int columns = 0, rows = 0;
};
/// The rows and columns, at most 100 each, whose box holds the most copies and lies in the field,
/// both middles at one place; none if one alone is too large. `turnDeg` is the field's on the
/// cloth.
GridSize gridThatFits(const Repeat& repeat, const Box& original, const Hoop& hoop, double turnDeg,
                      double marginMm);

} // namespace rapt
