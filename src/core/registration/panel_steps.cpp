#include "registration/panel_steps.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

std::string counted(int steps, const char* onwards, const char* back) {
    return fmt::format("{} step{} {}", std::abs(steps), std::abs(steps) == 1 ? "" : "s",
                       steps < 0 ? back : onwards);
}

std::string textOf(const PanelSteps& p, const Machine& machine) {
    std::string text;
    if (p.turn != 0)
        text = fmt::format("Turn it {:g}° {} about its middle", std::abs(p.turnDeg),
                           p.turnDeg > 0 ? "clockwise" : "anticlockwise");
    std::string moves;
    if (p.right != 0) moves = counted(p.right, "right", "left");
    if (p.towards != 0)
        moves +=
            (moves.empty() ? "" : " and ") + counted(p.towards, "towards you", "away from you");
    if (!moves.empty())
        text += fmt::format("{} {} (of {:g} mm)", text.empty() ? "Move it" : ", then move it",
                            moves, machine.panelStepMm);
    if (text.empty()) text = "Nothing to key in";
    text += fmt::format("; {:.2f} mm and {:.2f}° are left", p.leftMm, p.leftDeg);
    if (!machine.canTurn && p.leftDeg > 0.05)
        text += fmt::format(", as the panel of {} turns no design", machine.name);
    return text + ".";
}

} // namespace

PanelSteps panelSteps(const Box& design, const Affine& motion, const Machine& machine) {
    PanelSteps p;
    // Of a map with stretch the turn that is nearest to it (polar decomposition).
    const double wanted =
        std::atan2(motion.c - motion.b, motion.a + motion.d) * 180 / std::numbers::pi;
    if (machine.canTurn) p.turn = static_cast<int>(std::lround(wanted / machine.panelTurnDeg));
    p.turnDeg = p.turn * machine.panelTurnDeg;
    const Vec2 middle = design.empty() ? Vec2{} : design.centre();
    const Vec2 wish = motion(middle) - middle;
    p.right = static_cast<int>(std::lround(wish.x / machine.panelStepMm));
    p.towards = static_cast<int>(std::lround(wish.y / machine.panelStepMm));
    p.moveMm = Vec2{double(p.right), double(p.towards)} * machine.panelStepMm;
    const Vec2 to = middle + p.moveMm;
    p.motion = Pose{-middle.x, -middle.y}.affine().then(Pose{to.x, to.y, p.turnDeg}.affine());
    p.leftDeg = std::abs(normalizedDegrees(wanted - p.turnDeg));
    for (const Vec2& corner : design.corners())
        p.leftMm = std::max(p.leftMm, distance(p.motion(corner), motion(corner)));
    p.text = textOf(p, machine);
    return p;
}

} // namespace rapt
