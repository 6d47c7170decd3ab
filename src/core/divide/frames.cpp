#include "divide/frames.h"

#include <algorithm>
#include <fmt/format.h>
#include <numbers>

namespace rapt {

Vec2 turned(Vec2 p, double degrees) {
    const Turn t = turnOf(degrees);
    return {t.cosine * p.x - t.sine * p.y, t.sine * p.x + t.cosine * p.y};
}

Pose fieldPose(const Pose& frame, const FramePosition& position, double slideMm) {
    const Vec2 at = turned(position.at + Vec2{slideMm, 0}, frame.rotationDeg);
    return {frame.x + at.x,
            frame.y + at.y,
            normalizedDegrees(frame.rotationDeg + position.turnDeg),
            false,
            1,
            1};
}

Polyline fieldOutline(const Hoop& hoop, double growMm) {
    const double w = hoop.widthMm / 2 + growMm, h = hoop.heightMm / 2 + growMm;
    if (hoop.shape == Hoop::Shape::rect) return {{-w, -h}, {w, -h}, {w, h}, {-w, h}};
    Polyline outline;
    constexpr int corners = 64;
    const double r = std::max(0.0, hoop.cornerMm + growMm);
    for (int i = 0; i < corners; ++i) {
        const double t = 2 * std::numbers::pi * (i + 0.5) / corners;
        const Vec2 way{std::cos(t), std::sin(t)};
        if (hoop.shape == Hoop::Shape::oval)
            outline.push_back({w * way.x, h * way.y});
        else
            outline.push_back(
                {std::copysign(w - r, way.x) + r * way.x, std::copysign(h - r, way.y) + r * way.y});
    }
    return outline;
}

bool holds(const Hoop& hoop, const Polyline& places, double marginMm) {
    if (marginMm == 0)
        return std::all_of(places.begin(), places.end(), [&](Vec2 p) { return hoop.reaches(p); });
    Hoop less;
    less.shape = hoop.shape;
    less.widthMm = hoop.widthMm - 2 * marginMm;
    less.heightMm = hoop.heightMm - 2 * marginMm;
    less.cornerMm = std::max(0.0, hoop.cornerMm - marginMm);
    return less.widthMm > 0 && less.heightMm > 0 &&
           std::all_of(places.begin(), places.end(), [&](Vec2 p) { return less.reaches(p); });
}

std::string frameProblem(const Hoop& hoop, const Machine& machine) {
    constexpr double roundingMm = 0.01;
    const auto& frames = machine.frames;
    if (!frames.empty() && std::find(frames.begin(), frames.end(), hoop.id) == frames.end())
        return fmt::format("{} does not take the frame {}; it takes {}", machine.name, hoop.name,
                           fmt::join(frames, ", "));
    const bool wide = machine.fieldWidthMm > 0 && hoop.widthMm > machine.fieldWidthMm + roundingMm;
    const bool high =
        machine.fieldHeightMm > 0 && hoop.heightMm > machine.fieldHeightMm + roundingMm;
    if (wide || high)
        return fmt::format("the field of {} is {:g} × {:g} mm, {} sews {:g} × {:g} mm at most; "
                           "divide with a smaller frame",
                           hoop.name, hoop.widthMm, hoop.heightMm, machine.name,
                           machine.fieldWidthMm, machine.fieldHeightMm);
    return {};
}

} // namespace rapt
