#pragma once
// From a drawing to pieces that are stitched by recipe.

#include "job/job.h"
#include "library/library.h"
#include "svg/drawing.h"

namespace rapt {

/// What is asked of the stitches; empty values follow the drawing.
struct ImportOptions {
    double spacingMm = 0.40;     ///< row spacing and pitch
    double stitchLengthMm = 3.0; ///< in fill rows; runs take it up to 2.5 unless it is set
    bool lengthAsked = false;
    std::optional<double> angleDeg;   ///< of fill rows; otherwise along each shape's long axis
    std::optional<Underlay> underlay; ///< otherwise as made for each kind (shapes on cloth)
    double pullMm = 0;
    std::optional<double> pitchMm; ///< of satins, where it is not that of rows
    double mostLayers = 0;         ///< that the cloth takes; 0: unknown
};

/// What a cloth wants of drawings and of what is drawn by hand.
ImportOptions usualOptions(const Fabric& fabric);

/// The same for a shape that was drawn: pull, underlay, pitch.
void layFor(Shape& shape, const ImportOptions& options);

/// Pieces in painting order, one an element, all in the page's frame. Strokes under 1 mm become
/// runs (from 0.5 mm sewn three times), up to 7 mm satins, wider ones fills; closed shapes become
/// satins where they are narrow (railsOfNarrow, up to 5 mm wide), else fills. A wide element with
/// both gets its fill first. Each piece's pose is the identity. Elements that hold nothing to sew
/// (under 0.3 mm) are named in `left`.
std::vector<Piece> piecesOf(const Drawing& drawing, const ImportOptions& options,
                            std::vector<std::string>& left);

/// Why a drawing gave no pieces: what was left out of it, if anything was.
Error nothingToSew(const std::vector<std::string>& left, const std::string& file);

/// A job that holds the drawing's pieces as one group, the page centred on the datum of a cloth 20
/// mm larger on every side.
Job jobOfDrawing(const Drawing& drawing, std::vector<Piece> pieces, const std::string& name);

/// The direction of the longest extent of an area, clockwise from +x, in (−90, 90]: the major axis
/// of its second moments. 45 for areas without a long axis.
double longAxisDeg(const Contours& contours);

} // namespace rapt
