#include "divide/marks.h"

#include <fmt/format.h>

namespace rapt {
namespace {

// Marks nearer to each other than this would share a card's place.
constexpr double leastApartMm = 25;
constexpr double clothEdgeMm = 5;

/// Places in the field where a card has room, in the cloth frame. Fields too small for cards take
/// marks nearer to their edge.
std::vector<Vec2> placesIn(const Hoop& hoop, const Pose& pose, const Box& cloth) {
    const double room = std::min({cardRoomMm, hoop.widthMm / 4, hoop.heightMm / 4});
    const double w = hoop.widthMm / 2 - room;
    const double h = hoop.heightMm / 2 - room;
    constexpr int steps = 12;
    const Affine toCloth = pose.affine();
    std::vector<Vec2> onCloth, anywhere;
    for (int j = 0; j <= steps; ++j)
        for (int i = 0; i <= steps; ++i) {
            const double u = 2.0 * i / steps - 1;
            const double v = 2.0 * j / steps - 1;
            if (hoop.shape == Hoop::Shape::oval && std::hypot(u, v) > 1) continue;
            const Vec2 field{u * w, v * h};
            if (!hoop.reaches(field)) continue;
            const Vec2 p = toCloth(field);
            anywhere.push_back(p);
            if (cloth.grown(-clothEdgeMm).contains(p)) onCloth.push_back(p);
        }
    return onCloth.size() >= 2 ? onCloth : anywhere;
}

} // namespace

std::vector<Mark> marksFor(const Hoop& hoop, const Pose& pose, const Box& cloth, int number) {
    const std::vector<Vec2> places = placesIn(hoop, pose, cloth);
    Vec2 a, b;
    double apart = -1;
    for (std::size_t i = 0; i < places.size(); ++i)
        for (std::size_t j = 0; j < i; ++j)
            if (distance(places[i], places[j]) > apart + 1e-9) {
                a = places[j];
                b = places[i];
                apart = distance(a, b);
            }
    std::vector<Mark> marks{{fmt::format("{}A", number), a}, {fmt::format("{}B", number), b}};
    Vec2 c;
    double best = leastApartMm;
    for (const Vec2& p : places) {
        const double nearest = std::min(distance(p, a), distance(p, b));
        if (nearest <= best + 1e-9) continue;
        best = nearest;
        c = p;
    }
    if (best > leastApartMm) marks.push_back({fmt::format("{}C", number), c});
    return marks;
}

} // namespace rapt
