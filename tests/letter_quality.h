#pragma once
// How well a letter is covered: its thread, as it is sewn, on a raster against its outline.

#include "letter/columns/columns.h"
#include "scan/image.h"
#include "thread/stitch_list.h"

#include <string>

namespace rapt {

struct LetterQuality {
    double areaMm2 = 0;
    double bareShare = 0;    ///< bare ground wider than a thread
    double outsideShare = 0; ///< thread more than 0.2 mm outside the outline
    double satinShare = 0;   ///< of the area that is covered by satin, not by runs
    std::vector<double> pitches;
    int crossings = 0;
    int columns = 0;
    double longestRow = 0;
};

LetterQuality qualityOf(const std::vector<LetterPart>& parts);

/// Share of the ground inside the outline that no thread of the list covers, in places wider than a
/// thread. List and outline in one frame.
double bareShareOf(const StitchList& list, const Contours& outline);

/// The letter with its columns, in turns in different colours; 12 px a mm or as given.
Image pictureOf(const std::vector<LetterPart>& parts, double pxPerMm);

} // namespace rapt
