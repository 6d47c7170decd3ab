#pragma once
// A design as files for other programs: a picture of its thread, the same as lines, its shapes as
// areas, and a film of it being sewn. Millimetres, in the frame of the list.

#include "base/result.h"
#include "job/job.h"
#include "thread/stitch_list.h"

#include <optional>
#include <stop_token>

namespace rapt {

/// How it is drawn.
struct PictureOptions {
    double pxPerMm = 12;
    std::optional<Rgb> ground; ///< nothing: transparent
    double marginMm = 2;
};

/// The most pixels along a side.
inline constexpr int mostPictureSide = 12'000;

/// The bytes of a PNG at true scale (its pixels per metre are in the file): thread of its apparent
/// width with a dark edge, its body and a light streak, lit from the upper left. Fails (cannotDo)
/// without stitches and for more than mostPictureSide pixels along a side, and (cancelled).
Result<std::string> threadPng(const StitchList& list, const PictureOptions& options,
                              std::stop_token stop = {});

/// An SVG document at true size: for each run of thread one path of lines as wide as the thread, in
/// sewing order. Fails (cannotDo) without stitches.
Result<std::string> threadSvg(const StitchList& list);

/// An SVG document of the job's shapes at true size: fills as areas, satins as what lies between
/// their rails, runs as lines; designs and words, which are no shapes, as their thread. Cloth
/// frame. Fails as stitchPiece does and (cannotDo) for a job without pieces.
Result<std::string> shapesSvg(const Job& job);

/// Length of a film.
struct FilmOptions {
    PictureOptions picture{6, Rgb{255, 255, 255}, 2};
    int frames = 120;
    double seconds = 12; ///< without the last picture, which stands for two more
};

/// The bytes of an APNG (https://wiki.mozilla.org/APNG_Specification; others show its first
/// picture, the finished work): the design as it is sewn, by stitches. It runs once and stays. From
/// 2 to 600 frames. Fails as threadPng does; a transparent ground is white.
Result<std::string> stitchFilm(const StitchList& list, const FilmOptions& options,
                               std::stop_token stop = {});

} // namespace rapt
