#pragma once
// All that a person wants to know of one registered hooping, in one go.

#include "registration/correction.h"
#include "registration/panel_steps.h"
#include "registration/trust_map.h"

namespace rapt {

struct Assessment {
    ObservationReport report;
    std::optional<FieldMiss> miss; ///< of the hooping itself
    TrustMap trust;
    struct Contour {
        double level = 0;
        std::vector<std::array<Vec2, 2>> lines;
    };
    std::vector<Contour> contours; ///< at 0.1, 0.2, 0.3, 0.5, 0.8 … mm, those that occur
    struct Place {
        std::string name;
        Vec2 at; ///< field frame
        double errorMm = 0;
    };
    std::vector<Place> places;         ///< the design's corners and its joins, the worst first
    std::vector<JoinCheck> joins;      ///< those of this hooping
    double limitMm = 0.5;              ///< of the brief
    std::optional<TrustAdvice> advice; ///< where the worst passes the limit
    std::optional<PanelSteps> panel;   ///< the correction on the job's machine, if it is known
};

/// Of the registration of a hooping's clamping; `lists` and `joins` are the plan's, both may be
/// empty while they are worked out. Fails as fitOf does.
Result<Assessment> assess(const Job& job, int hooping, const std::vector<HoopingList>& lists,
                          const std::vector<JoinForecast>& joins, const Library& library);

} // namespace rapt
