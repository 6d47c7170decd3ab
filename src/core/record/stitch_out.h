#pragma once
// One stitch-out as the ledger keeps it: what was sewn on what, with what, how it went and what
// came of it. Millimetres, seconds, the shop's currency; colours as #rrggbb. What is not known is
// empty.

#include "geometry/vec2.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// A thread that was used.
struct ThreadUsed {
    std::string color, name;
    double lengthM = 0;
    friend bool operator==(const ThreadUsed&, const ThreadUsed&) = default;
};

/// Words that were sewn.
struct WordsSewn {
    std::string text, face; ///< face: id
    double capMm = 0;
    friend bool operator==(const WordsSewn&, const WordsSewn&) = default;
};

/// How a hooping (from 1) was found on the cloth.
struct HoopingFound {
    int hooping = 1;
    std::string by; ///< card, line, needle, stitching, …
    double rmsMm = 0, rotationDeg = 0, scale = 1;
    friend bool operator==(const HoopingFound&, const HoopingFound&) = default;
};

/// A stop of the run.
struct RunStop {
    int hooping = 1;
    std::size_t stitch = 0;
    std::string kind; ///< run/sewn.h
    double layers = 0;
    friend bool operator==(const RunStop&, const RunStop&) = default;
};

/// Seconds by what they went to.
struct PartSeconds {
    std::string part; ///< sewing, thread_changes, trims, clampings, registrations, standing
    double seconds = 0;
    friend bool operator==(const PartSeconds&, const PartSeconds&) = default;
};

struct StitchOut {
    std::int64_t id = 0; ///< given by the ledger that it lies in
    std::string uid;     ///< the same in every ledger and file
    std::string date;    ///< ISO 8601, a day
    std::string bench;   ///< whose record it is: the computer's name
    std::string job, customer, fabric;
    std::string jobId;   ///< identity of the job; empty for records of older versions
    std::string outcome; ///< good, mended or spoilt; empty until somebody says
    std::string cause;   ///< one of causes(), or empty
    std::string note;
    std::optional<double> spotX, spotY; ///< where it went wrong, cloth frame
    std::string cloth, stabilizer, topper, needle, frame, machine;
    std::optional<double> widthMm, heightMm; ///< of what was sewn
    std::optional<double> speed;             ///< stitches per minute, at most
    std::optional<double> stitches, hoopings, quantity;
    std::vector<ThreadUsed> threads;
    std::optional<double> bobbinM, stabilizerCm2;
    std::optional<double> peakLayers, peakHits, excess; ///< excess: layer·mm² over the limits
    std::vector<WordsSewn> lettering;
    std::string method; ///< datum, chain or turn
    std::vector<HoopingFound> found;
    std::vector<double> gapsMm;            ///< measured at joins
    std::optional<double> predictedJoinMm; ///< rms that was forecast …
    std::optional<double> placingSigmaMm;  ///< … from this placing error …
    std::optional<double> drawInMm;        ///< … and this draw-in
    std::vector<RunStop> events;
    std::vector<PartSeconds> estimated, taken;
    std::optional<double> secondsEstimated, secondsTaken;
    std::optional<double> labourMinutesEstimated, labourMinutes; ///< of a person
    std::optional<double> cost, price;
    std::string currency;
    std::string jobFile, picture, photo; ///< SHA-256 of files that the ledger keeps
    std::int64_t revision = 1;           ///< grows with every change of the record

    friend bool operator==(const StitchOut&, const StitchOut&) = default;
};

/// What a stitch-out can come to, best first.
const std::vector<std::string>& outcomes();

/// What can have been wrong; those of the load first (isOfLoad).
struct Cause {
    std::string id, words;
    bool ofLoad = false; ///< too much thread in one place can bring it about
};
const std::vector<Cause>& causes();
/// True for a cause that tells of the load, and where none was given.
bool mayBeOfLoad(const std::string& cause);

/// What is wrong with a record, one sentence; nothing if it can be kept.
std::optional<std::string> problemOf(const StitchOut& record);

/// True for a day as YYYY-MM-DD that exists.
bool isDate(const std::string& text);

} // namespace rapt
