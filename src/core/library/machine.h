#pragma once
// A machine: how quick it is, what it holds, which files it takes.

#include "base/result.h"

#include <cstdint>
#include <string>
#include <vector>

namespace rapt {

/// What files on a stick this machine shows.
struct StickRules {
    int nameLength = 16; ///< characters before the ending
    std::string letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_";
    int files = 100;  ///< of a folder that it lists
    int folders = 20; ///< that it lists
    friend bool operator==(const StickRules&, const StickRules&) = default;
};

/// How quick a machine is, and what it holds. Starting values until runs teach better ones.
struct Machine {
    std::string id;
    std::string name;
    int needles = 1;
    int topSpeed = 800;         ///< stitches per minute for short stitches
    double fullSpeedUpToMm = 4; ///< longer stitches are sewn slower, in proportion
    double threadChangeSeconds = 60;
    double coneChangeSeconds = 60; ///< instead, for a thread beyond the needles
    double trimSeconds = 6;
    double hoopingSeconds = 240;            ///< to clamp the cloth
    double positionSeconds = 30;            ///< for a further position of the same clamping
    double registrationSeconds = 120;       ///< to find a clamping on the cloth
    double fieldWidthMm = 0;                ///< the largest field it sews; 0: as the frame's
    double fieldHeightMm = 0;               ///< as above
    std::vector<std::string> frames;        ///< ids in hoops.json that fit its arm; empty: all
    int places = 100;                       ///< designs that its memory holds
    std::int64_t memoryBytes = 100'000'000; ///< of all of them together
    StickRules stick;
    double timeFactor = 1;     ///< learnt: everything takes so many times as long
    bool canTurn = true;       ///< a design can be turned at its panel
    double panelStepMm = 0.1;  ///< by which its keys move a design
    double panelTurnDeg = 0.1; ///< by which they turn it
    double bobbinM = 90;       ///< thread on a full bobbin
    double coneM = 1000;       ///< thread on a full cone
    friend bool operator==(const Machine&, const Machine&) = default;
};

/// The characters of a pattern such as `A-Z0-9_-`.
std::string lettersOf(const std::string& pattern);

} // namespace rapt
