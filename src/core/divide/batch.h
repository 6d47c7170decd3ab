#pragma once
// Many items of one layout: how many fit one clamping of a frame, and what that costs.

#include "base/result.h"
#include "divide/division.h"

namespace rapt {

/// An item in a clamping.
struct BatchPlace {
    Vec2 at;             ///< of its box's middle, in the frame
    bool turned = false; ///< by 90°
    int position = 1;    ///< of the frame whose field takes it
};

/// What one frame would take.
struct BatchOffer {
    std::string hoop;
    std::vector<BatchPlace> places; ///< of a full clamping
    int clampings = 0;
    int leftOver = 0; ///< places that stay free in the last clamping
    double stabilizerCm2 = 0;
    double seconds = 0; ///< all of it, docs/measures.md
    /// A smaller frame that takes the last, half-empty clamping and saves stabilizer; may be empty.
    std::string lastIn;
    double lastSavesCm2 = 0;

    int perClamping() const { return static_cast<int>(places.size()); }
};

/// More are not planned in one go.
inline constexpr int mostBatchItems = 1'000'000;

struct BatchRequest {
    int quantity = 1;
    double gapMm = 4; ///< between items, and nothing at the field's edge
};

/// Places for items of this size in one clamping, rows and columns that may change direction from
/// block to block; every item in one position's field.
std::vector<BatchPlace> batchPlaces(const Hoop& hoop, double widthMm, double heightMm,
                                    double gapMm);

/// One offer for every frame that takes an item, fewest clampings first, then least stabilizer.
/// Fails (cannotDo) for an empty layout, a quantity below 1, and where no frame takes one.
Result<std::vector<BatchOffer>> planBatch(const Job& job, const std::vector<Hoop>& hoops,
                                          const Library& library, const BatchRequest& request);

/// One clamping of an offer as a job of its own: `names` items (all places without any) of the
/// layout, each piece once for every item, with the hoopings. Where the layout has exactly one
/// piece of lettering and names are given, each item bears its name.
Result<Job> batchJob(const Job& job, const BatchOffer& offer, const Library& library,
                     const std::vector<std::string>& names = {});

} // namespace rapt
