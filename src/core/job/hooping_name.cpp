#include "job/hooping_name.h"

#include <fmt/format.h>

namespace rapt {

std::string hoopingsOf(const std::vector<Hooping>& hoopings, int clamping) {
    std::size_t first = 0, last = 0; // from 1
    for (std::size_t i = 0; i < hoopings.size(); ++i)
        if (hoopings[i].clamping == clamping) {
            if (first == 0) first = i + 1;
            last = i + 1;
        }
    return first == last ? fmt::format("hooping {}", first)
                         : fmt::format("hoopings {} to {}", first, last);
}

std::string timesText(int times) {
    constexpr const char* words[] = {"never",      "once",       "twice",    "three times",
                                     "four times", "five times", "six times"};
    return times >= 0 && times <= 6 ? words[times] : fmt::format("{} times", times);
}

} // namespace rapt
