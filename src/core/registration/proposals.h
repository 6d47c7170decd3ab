#pragma once
// From a picture of a hooping to what it tells of the cloth: proposed, each with its uncertainty,
// before anything of it counts.

#include "divide/hooping_lists.h"
#include "scan/datum_lines.h"
#include "scan/scan_reading.h"

#include <functional>
#include <stop_token>

namespace rapt {

/// How well things lie where they should, each axis: a card on its mark by its hair lines and how
/// it is turned there, a line drawn with a ruler.
inline constexpr double cardOnMarkSigmaMm = 0.15, cardOnMarkSigmaDeg = 0.8;
inline constexpr double drawnLineSigmaMm = 0.15;
/// How true a printer is to scale over a template.
inline constexpr double printedSigmaMm = 0.1;

/// What is looked for.
struct Sought {
    bool cards = true, lines = true, crosses = true, stitching = true;
};

/// What was found in one picture.
struct Proposals {
    ScanReading reading;              ///< in the frame
    std::vector<Observation> found;   ///< field frame of the hooping, cards first
    std::vector<std::string> missing; ///< marks that nothing was found of
    std::vector<std::string> notes;   ///< cards that belong to no mark, lines out of square, …
};

/// What is needed of the job and its plan; the lists are those of all hoopings.
struct ScanTask {
    const Job* job = nullptr;
    const Library* library = nullptr;
    const std::vector<HoopingList>* lists = nullptr; ///< null: earlier stitching is not looked for
    int hooping = 1;                                 ///< from 1
    Sought sought{};
    std::stop_token stop{};
    std::function<void(double)> progress{}; ///< 0 to 1
};

/// Reads the picture as readScan does, with the camera that took it if it was calibrated. The n-th
/// card (id 100 + n, from 0) lies on the n-th mark of the hooping, or where it was measured before
/// the cloth was hooped again. The card of this hooping's template stands for the paper that it is
/// printed on: then nothing else counts. Fails as readScan.
Result<Proposals> proposalsFrom(const Image& picture, const ScanTask& task);

/// In a chain, before the cloth is taken out: where the cards of the next clamping lie on the
/// cloth, from a picture in the clamping that is still hooped (number `hooping`), whose own
/// registration counts. Cards that are not of the next clamping's marks are left out. Fails as
/// readScan.
struct CardsBefore {
    ScanReading reading;
    std::vector<PlacedCard> placed;
    std::vector<std::string> missing; ///< marks of the next clamping without a card
};
Result<CardsBefore> cardsBefore(const Image& picture, const ScanTask& task, int next);

/// A mark that was found, in the field frame of its hooping.
Observation pointSeen(const Hooping& hooping, const Mark& mark, Vec2 seen, const std::string& by,
                      double sigmaMm);
/// A card that lies where a planned place (field frame) of the design is to come, and how it is
/// turned.
Observation cardUnder(const Hooping& hooping, const SeenCard& card, Vec2 planned);

/// One of nine points of a design's box, row by row from its far left corner.
Vec2 anchorOf(const Box& box, int ninth);

/// A picture as the window shows it below the design.
struct FlatScan {
    Image image;
    FlatMap map; ///< frame
};
/// Decodes a scan (PNG or JPEG; `name` for errors), reads and flattens the frame's reach with a
/// margin round it. Fails as decodeImage and readScan do.
Result<FlatScan> flatScan(const std::string& bytes, const std::string& name, const Hoop& hoop,
                          const std::vector<Camera>& cameras, double marginMm, double pxPerMm,
                          std::stop_token stop = {});

} // namespace rapt
