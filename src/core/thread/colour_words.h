#pragma once
// Colours in words, for things that nobody named.

#include "thread/stitch_list.h"

#include <string>

namespace rapt {

/// What a person would call a colour, in lower case: "dark brown", "pale blue". The nearest of some
/// forty that have plain names, by CIEDE2000.
std::string colourWords(Rgb colour);

} // namespace rapt
