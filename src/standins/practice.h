#pragma once
// Practice: the cloth is misplaced unseen, the person says where it lies, and the truth is shown.

#include "registration/motion_fit.h"
#include "standins/camera.h"

namespace rapt {

/// What is hidden from the person.
struct HiddenCloth {
    int hooping = 1; ///< from 1
    Affine motion;   ///< field frame: planned to real places
};

struct PracticeScene {
    HiddenCloth hidden;
    Image picture;
};
/// Misplaces the cloth of a hooping by up to 6 mm and 3° and photographs it, without cards unless
/// asked. Fails as photograph does.
Result<PracticeScene> misplaceUnseen(const Job& job, const Library& library, int hooping,
                                     std::uint64_t seed, bool cards);

/// One place, and how far off the person's answer is there.
struct Revealed {
    std::string name;
    Vec2 at; ///< planned, field frame
    double errorMm = 0;
};
/// At the marks and at the corners of what the hooping sews.
std::vector<Revealed> reveal(const Job& job, const HiddenCloth& hidden, const Affine& answer,
                             const Box& sewn);

} // namespace rapt
