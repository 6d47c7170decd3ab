#include "geometry/ways.h"

#include <fmt/format.h>

namespace rapt {

std::string wayText(Vec2 by) {
    const auto part = [](double mm, const char* over, const char* under) {
        return std::abs(mm) < 0.01 ? std::string()
                                   : fmt::format("{:g} mm {}", std::round(std::abs(mm) * 10) / 10,
                                                 mm > 0 ? over : under);
    };
    const std::string across = part(by.x, "right", "left");
    const std::string down = part(by.y, "towards you", "away from you");
    return across + (across.empty() || down.empty() ? "" : " and ") + down;
}

} // namespace rapt
