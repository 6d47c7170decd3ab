#pragma once
// The stand-in camera: a seeded picture of the hooped cloth, and the truth about it.

#include "base/result.h"
#include "job/job.h"
#include "library/library.h"
#include "scan/datum_lines.h"
#include "scan/image.h"
#include "scan/scan_reading.h"

#include <cstdint>

namespace rapt {

/// What is photographed and how. Limits are drawn from evenly on both sides of 0.
struct PhotographOptions {
    int hooping = 1; ///< counted from 1
    std::uint64_t seed = 1;
    double pxPerMm = 6;
    /// Tilt of the camera; by default a little, from the seed.
    std::optional<double> tiltDeg{};

    double shiftMm = 3, turnDeg = 2;               ///< the cloth, at most, each way
    double stretchPercent = 0, skewDeg = 0;        ///< the same
    double drawInMm = 0;                           ///< towards what was sewn, at its edge
    std::optional<Pose> cloth{};                   ///< instead: exactly so
    std::optional<std::vector<StitchList>> sewn{}; ///< instead of the plan's; cloth frame

    double blurPx = 0.6;              ///< σ
    double noise = 1;                 ///< of a sensor, times its usual
    double unevenLight = 0.05;        ///< brighter on one side by this share
    double shadow = 0;                ///< darkness of a soft shadow across a part, 0 to 1
    double glare = 0;                 ///< a bright spot, 0 to 1
    double creases = 0;               ///< 0 to 1
    std::vector<double> distortion{}; ///< of the lens: k1, k2, p1, p2, k3, …

    bool cards = true;                      ///< on every mark, a little off as by hand
    std::vector<PlacedCard> cardsOnCloth{}; ///< instead: exactly there
    bool datumLines = true, motif = false;
};

struct Photograph {
    Image picture; ///< RGB
    /// What a perfect reading would say; `reasons` is empty and `sharpness` that of the lens.
    ScanReading truth;
    /// The motion of the cloth in the hoop: planned places of the frame are really found at this
    /// pose (scale: stretch).
    Pose cloth;
    double skewDeg = 0;
    Affine clothToFrame; ///< without draw-in
    Camera camera;       ///< that took it
};

/// Cards as a hand lays them on a hooping's marks: a little off and turned.
std::vector<PlacedCard> cardsLaidByHand(const Hooping& hooping, std::uint64_t seed);

/// Places the cloth a little off its plan, lays a locator card on every mark of the hooping (ids
/// from 100 on, in the order of the marks), sews what earlier hoopings sewed, and looks at it from
/// a slight tilt. Places are in the frame. The same seed gives the same picture. Fails (cannotDo)
/// for a hooping that the job does not have, and as hoopingLists does.
Result<Photograph> photograph(const Job& job, const Library& library,
                              const PhotographOptions& options);

} // namespace rapt
