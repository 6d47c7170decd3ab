#include "standins/practice.h"

namespace rapt {

Result<PracticeScene> misplaceUnseen(const Job& job, const Library& library, int hooping,
                                     std::uint64_t seed, bool cards) {
    PhotographOptions options;
    options.hooping = hooping;
    options.seed = seed;
    options.shiftMm = 6;
    options.turnDeg = 3;
    options.cards = cards;
    auto photo = photograph(job, library, options);
    if (!photo) return photo.error();
    const Hooping& h = job.hoopings[static_cast<std::size_t>(hooping) - 1];
    // Motion in the frame, seen from the field.
    const Affine toFrame = h.pose.affine().then(h.frame.affine().inverse());
    const Affine motion = toFrame.then(photo->cloth.affine()).then(toFrame.inverse());
    return PracticeScene{{hooping, motion}, std::move(photo->picture)};
}

std::vector<Revealed> reveal(const Job& job, const HiddenCloth& hidden, const Affine& answer,
                             const Box& sewn) {
    const Hooping& h = job.hoopings[static_cast<std::size_t>(hidden.hooping) - 1];
    const Affine toField = h.pose.affine().inverse();
    std::vector<Revealed> places;
    const auto add = [&](const std::string& name, Vec2 at) {
        places.push_back({name, at, distance(hidden.motion(at), answer(at))});
    };
    for (const Mark& m : h.marks) add(m.name, toField(m.at));
    if (sewn.empty()) return places;
    constexpr const char* names[] = {"far left", "far right", "near right", "near left"};
    for (std::size_t k = 0; k < 4; ++k) add(names[k], sewn.corners()[k]);
    return places;
}

} // namespace rapt
