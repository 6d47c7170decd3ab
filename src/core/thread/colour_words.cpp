#include "thread/colour_words.h"

#include "thread/palette.h"

namespace rapt {
namespace {

struct Named {
    Rgb colour;
    const char* words;
};

// Places in the sRGB cube that hardly anybody would call otherwise.
constexpr Named names[] = {
    {{0, 0, 0}, "black"},
    {{255, 255, 255}, "white"},
    {{64, 64, 64}, "dark grey"},
    {{128, 128, 128}, "grey"},
    {{200, 200, 200}, "pale grey"},
    {{96, 8, 12}, "dark red"},
    {{200, 20, 24}, "red"},
    {{236, 120, 110}, "pale red"},
    {{255, 190, 205}, "pale pink"},
    {{240, 110, 170}, "pink"},
    {{200, 20, 130}, "magenta"},
    {{200, 80, 10}, "dark orange"},
    {{250, 140, 30}, "orange"},
    {{255, 200, 140}, "pale orange"},
    {{60, 30, 12}, "dark brown"},
    {{120, 70, 30}, "brown"},
    {{180, 130, 90}, "pale brown"},
    {{142, 120, 120}, "grey brown"},
    {{225, 205, 170}, "beige"},
    {{250, 245, 220}, "cream"},
    {{190, 150, 20}, "ochre"},
    {{250, 225, 40}, "yellow"},
    {{255, 245, 150}, "pale yellow"},
    {{90, 90, 20}, "olive"},
    {{150, 200, 50}, "lime green"},
    {{10, 60, 25}, "dark green"},
    {{35, 130, 50}, "green"},
    {{150, 210, 150}, "pale green"},
    {{10, 80, 85}, "dark teal"},
    {{30, 150, 150}, "teal"},
    {{150, 220, 220}, "pale teal"},
    {{15, 25, 80}, "navy"},
    {{25, 60, 150}, "dark blue"},
    {{40, 100, 220}, "blue"},
    {{90, 170, 235}, "sky blue"},
    {{180, 210, 245}, "pale blue"},
    {{60, 20, 90}, "dark violet"},
    {{120, 60, 180}, "violet"},
    {{195, 170, 225}, "pale violet"},
};

} // namespace

std::string colourWords(Rgb colour) {
    const Named* best = names;
    double least = colourDifference(best->colour, colour);
    for (const Named& n : names)
        if (const double d = colourDifference(n.colour, colour); d < least) {
            least = d;
            best = &n;
        }
    return best->words;
}

} // namespace rapt
