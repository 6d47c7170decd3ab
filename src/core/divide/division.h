#pragma once
// Dividing a layout into clampings and hoopings: which frame, where, with which pieces or parts of
// them, where what fits no field is cut, and where to mark.

#include "base/result.h"
#include "divide/forecast.h"
#include "job/job.h"
#include "job/stitching.h"
#include "library/library.h"

namespace rapt {

/// What may be used, and what is kept.
struct DivideOptions {
    std::vector<Hoop> hoops; ///< that may be used; at least one
    Method method = Method::datum;
    std::optional<double> placingSigmaMm{}; ///< instead of what the library knows of the person
    double marginMm = 0;                    ///< kept free along the field's edge
    int mostHoopings = 0;                   ///< 0: as many as it takes
    bool mayPart = true;                    ///< letters and separate elements may part
    bool mayCut = true;                     ///< what fits no field whole may be cut
    bool straightCuts = false;              ///< without seeking gaps
    double seconds = 6;                     ///< for the search; then the best that was found
};

/// A plan, and how good it is.
struct Division {
    std::vector<Hooping> hoopings; ///< in the order they are sewn
    std::vector<Cut> cuts;
    int clampings = 0;
    int lowerBound = 0;          ///< no plan by this method has fewer hoopings
    int lowerBoundClampings = 0; ///< nor fewer clampings
    bool provenMinimal = false;  ///< fewest clampings, and for these the fewest hoopings
    /// Where two clampings come nearest, each of them is off by its own registration error; this
    /// is the RMS of their difference over all such places (docs/measures.md). 0 with one clamping.
    double predictedJoinRmsMm = 0;
    std::vector<JoinForecast> joins; ///< what is to be expected at each …
    PlacingNoise noise;              ///< … from this

    /// Ids of pieces that are cut.
    std::vector<std::string> cutPieces() const;
};

/// Fewest clampings, then fewest hoopings, axis-aligned but for the frames' turns. Parts that lie
/// on each other keep their order. What some position holds whole is never cut. Clampings that the
/// job has pinned stay. Those that were begun come first, as they are, and what they sew is not
/// planned again; the bounds are of plans that keep them. Fails (cannotDo) for what fits no field
/// and must not be cut (naming the smallest field that would take it), for more hoopings than
/// allowed, and where `turn` or `chain` cannot be kept; (cancelled) when stopped before any plan
/// was found.
Result<Division> divideIntoHoopings(const Job& job, StitchCache& cache,
                                    const DivideOptions& options, const Library& library,
                                    std::stop_token stop = {});

/// The hoops to divide with: those named, else those the job owns. Fails (cannotDo) for unknown
/// ones, and when there are none.
Result<std::vector<Hoop>> hoopsFor(const Job& job, const std::vector<std::string>& named,
                                   const Library& library);

} // namespace rapt
