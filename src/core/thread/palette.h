#pragma once
// The threads that a shop owns, and which of them is nearest to a colour.

#include "thread/stitch_list.h"

#include <optional>
#include <string>
#include <vector>

namespace rapt {

/// A thread on the shelf.
struct OwnedThread {
    Thread thread;    ///< its index means nothing here
    std::string cone; ///< number on the cone; may be empty
    friend bool operator==(const OwnedThread&, const OwnedThread&) = default;
};

/// The threads a person owns.
struct Palette {
    std::string name = "Threads";
    std::vector<OwnedThread> threads;
    friend bool operator==(const Palette&, const Palette&) = default;
};

/// How different two sRGB colours look: CIEDE2000 under D65 with unit weights (Sharma, Wu and
/// Dalal, "The CIEDE2000 color-difference formula", Color Research and Application 30, 2005). 0 is
/// equal, 1 about the least that a trained eye sees, over 10 plainly another colour.
double colourDifference(Rgb a, Rgb b);

/// The same formula between L*a*b* values, for checking it against published pairs.
struct Lab {
    double L = 0, a = 0, b = 0;
};
/// CIEDE2000 (CIE 142-2001).
double ciede2000(const Lab& x, const Lab& y);

/// The owned thread that looks most alike.
struct NearestThread {
    std::size_t index = 0; ///< into the palette
    double difference = 0;
};
/// The owned thread that looks most like a colour; those of the given weight come first where there
/// are any. Nothing for an empty palette.
std::optional<NearestThread> nearestThread(const Palette& palette, Rgb colour,
                                           std::optional<double> weight = {});

/// Adds what is new and replaces threads of the same name and weight. Gives how many were new.
std::size_t mergePalette(Palette& into, const Palette& from);

} // namespace rapt
