#pragma once
// What was seen of the cloth in the hoop, each with its own uncertainty; and what a person made of
// it. Field frame of the hooping, millimetres, degrees.

#include "geometry/polygon.h"
#include "library/practice.h"

#include <array>
#include <string>
#include <vector>

namespace rapt {

inline constexpr double defaultPlacingSigmaDeg = 0.3; ///< of a card turned by hand

/// One thing that was found: where the plan has it and where it is.
struct Observation {
    enum class Kind {
        point, ///< a place
        card,  ///< a place and a turn
        line,  ///< places along a straight line that the plan has as endless
    };
    Kind kind = Kind::point;
    std::string name;
    Vec2 planned, seen;                         ///< of a point or card
    double plannedTurnDeg = 0, seenTurnDeg = 0; ///< of a card
    std::array<Vec2, 2> plannedLine{};          ///< two places of the line in the plan
    Polyline seenLine{};                        ///< places found on it
    double sigmaMm = defaultPlacingSigmaMm;     ///< each axis; of a line, across it
    double sigmaDeg = defaultPlacingSigmaDeg;   ///< of a card's turn
    std::string by = "typed"; ///< how: typed, needle, card, line, cross or stitching
    bool leftOut = false;     ///< the person does not trust it
    std::string extra{};
    friend bool operator==(const Observation&, const Observation&) = default;
};

/// What the motion from plan to cloth may do.
enum class MotionModel {
    rigid,   ///< turn and move
    stretch, ///< and be longer or shorter along the plan's axes
    skew,    ///< and be out of square
};
/// Its stable name.
const char* nameOf(MotionModel model);

/// What the person decided.
enum class CorrectionChoice {
    open,      ///< nothing yet
    corrected, ///< the hooping is sewn moved and turned
    asPlanned, ///< it is sewn where it was planned
};
/// Its stable name.
const char* nameOf(CorrectionChoice choice);

/// A card that was laid on the cloth and measured before the cloth was taken out of the hoop.
struct PlacedCard {
    int id = 0;
    Vec2 at; ///< cloth frame
    double turnDeg = 0;
    friend bool operator==(const PlacedCard&, const PlacedCard&) = default;
};

/// Where a clamping's cloth was found, seen in one of its hoopings.
struct Registration {
    int hooping = 1; ///< counted from 1
    std::vector<Observation> observations;
    std::string scan; ///< member name of the picture, or empty
    MotionModel model = MotionModel::rigid;
    CorrectionChoice choice = CorrectionChoice::open;
    std::string plan;               ///< what the plan was then (registration/correction.h)
    std::vector<PlacedCard> placed; ///< in a chain: left on the cloth from the clamping before
    std::vector<std::string> done;  ///< steps of the guided way that are done
    std::string extra;
    friend bool operator==(const Registration&, const Registration&) = default;
};

} // namespace rapt
