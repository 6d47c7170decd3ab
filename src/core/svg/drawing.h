#pragma once
// An SVG drawing as lines in millimetres: what is painted, without a thought of stitches yet.

#include "base/result.h"
#include "geometry/polygon.h"
#include "thread/stitch_list.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// One line of a path.
struct SubPath {
    Polyline points; ///< a closed one does not repeat its first point
    bool closed = false;
};

/// How ends of strokes look.
enum class LineCap { butt, round, square };

/// One painted element, all transforms applied. Frame: the page, origin at its upper left corner.
struct DrawnItem {
    std::string name; ///< its label or id, else its element and number
    std::vector<SubPath> paths;
    std::optional<Rgb> fill;
    bool evenOdd = false; ///< fill rule; otherwise non-zero
    std::optional<Rgb> stroke;
    double fillOpacity = 1, strokeOpacity = 1; ///< with those of the groups around it
    Contours clip; ///< what of it is seen (clip paths, intersected); empty: all
    double strokeMm = 0;
    LineCap cap = LineCap::butt;
    bool onGround = false; ///< its strokes lie on areas that are sewn already
};

/// What was read from a file.
struct Drawing {
    std::string title;
    double widthMm = 0, heightMm = 0;     ///< of the page
    std::vector<DrawnItem> items;         ///< as painted: later ones on top
    std::vector<std::string> unsupported; ///< what was left out or simplified, each said once
};

/// Reads paths, basic shapes, groups, transforms, `use`, strokes and fills, style sheets with plain
/// selectors, physical units (W3C SVG 1.1; 96 user units an inch where no size is given). Curves
/// are flattened to 0.02 mm. Fails (badInput) for what is no SVG, values that cannot be read, loops
/// of `use`, and drawings beyond the caps (64 MB, 100,000 elements, 2,000,000 points, ±10,000 mm);
/// the place is the line or the element.
Result<Drawing> readSvg(const std::string& text, const std::string& file);

} // namespace rapt
