#pragma once
// A correction as a person makes it at the machine's panel: a turn about the design's middle, then
// steps each way.

#include "geometry/pose.h"
#include "library/machine.h"

#include <string>

namespace rapt {

/// What to key in, and what it leaves. Clockwise, right and towards the operator are positive.
struct PanelSteps {
    int turn = 0;               ///< steps of the machine's turn
    int right = 0, towards = 0; ///< steps of its moves, after the turn
    double turnDeg = 0;
    Vec2 moveMm;
    Affine motion;      ///< what these do (field frame)
    double leftMm = 0;  ///< from where it should be, at the worst corner of the design
    double leftDeg = 0; ///< of the turn
    std::string text;   ///< "Turn it 1.5° clockwise about its middle, then …"
};

/// For a design of that box (field frame) and the motion that was found: the turn nearest to the
/// motion's, then the move nearest to what it does to the box's middle. A stretch or skew is not
/// made by a panel: it is part of what is left. A machine that cannot turn a design moves it only.
PanelSteps panelSteps(const Box& design, const Affine& motion, const Machine& machine);

} // namespace rapt
