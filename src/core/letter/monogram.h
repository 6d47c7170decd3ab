#pragma once
// Monograms: one to three initials, equal or with a larger middle one, in a frame. Millimetres.

#include "base/result.h"
#include "letter/lettering.h"
#include "recipe/shape.h"

#include <optional>

namespace rapt {

/// Which letter is the large one.
enum class MonogramOrder {
    given,   ///< in the order of the names: given, middle, surname; all equal
    surname, ///< the surname's initial stands in the middle, larger: given, surname, middle
};
/// Side by side, or one over the other.
enum class MonogramLayout { sideBySide, stacked };
/// What is drawn around.
enum class MonogramFrame { none, circle, oval, rectangle, diamond };

/// What is asked for; millimetres.
struct MonogramRequest {
    std::string given, middle, surname; ///< names or initials; each may be empty
    MonogramOrder order = MonogramOrder::surname;
    MonogramLayout layout = MonogramLayout::sideBySide;
    MonogramFrame frame = MonogramFrame::circle;
    double middleScale = 1.5; ///< of the larger initial
    double frameGapMm = 4;    ///< between the letters' corners and the frame
    double frameWidthMm = 2;  ///< of its satin
    Lettering look;           ///< face, cap height and thread of the equal initials
};

/// The words and the frame that make it.
struct Monogram {
    Lettering lettering;        ///< origin in the middle of the initials
    Vec2 shift;                 ///< where the lettering's origin stands from the frame's middle
    std::optional<Shape> frame; ///< satin, centred on its origin
    std::string order;          ///< which initial stands where and why, in words
};

/// Fails (cannotDo) without any initial and for letters that the face does not have.
Result<Monogram> makeMonogram(const MonogramRequest& request);

} // namespace rapt
