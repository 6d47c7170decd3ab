#include "divide/marks.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

// Marks nearer to each other than this would share a card's place.
constexpr double leastApartMm = 25;
constexpr double clothEdgeMm = 5;
constexpr int steps = 12;
// A mark on a datum line is measured along it only: worth so much of the base each.
constexpr double datumBonus = 0.03;

/// How far from the edge of a field a mark stays. Fields too small for cards take less.
double roomIn(const Hoop& hoop) {
    return std::min({cardRoomMm, hoop.widthMm / 4, hoop.heightMm / 4});
}

bool onDatum(Vec2 p) { return std::abs(p.x) < 0.01 || std::abs(p.y) < 0.01; }

/// Places in a field where a card has room, some of them on the datum lines; in the cloth frame.
void addPlaces(const Hoop& hoop, const Pose& pose, std::vector<Vec2>& places) {
    const double room = roomIn(hoop);
    const double w = hoop.widthMm / 2 - room, h = hoop.heightMm / 2 - room;
    const Affine toCloth = pose.affine(), toField = toCloth.inverse();
    const auto add = [&](Vec2 field) {
        const bool inside = hoop.shape == Hoop::Shape::oval
                                ? std::hypot(field.x / w, field.y / h) <= 1 + 1e-9
                                : std::abs(field.x) <= w + 1e-9 && std::abs(field.y) <= h + 1e-9;
        if (inside && hoop.reaches(field)) places.push_back(toCloth(field));
    };
    for (int j = 0; j <= steps; ++j)
        for (int i = 0; i <= steps; ++i)
            add({(2.0 * i / steps - 1) * w, (2.0 * j / steps - 1) * h});
    const double reach = std::hypot(w, h);
    const double each = reach / steps;
    for (int i = -2 * steps; i <= 2 * steps; ++i) {
        const double x = std::round(pose.x + i * each), y = std::round(pose.y + i * each);
        add(toField({x, 0}));
        add(toField({0, y}));
    }
}

std::vector<Vec2> onlyWhere(const std::vector<Vec2>& places, auto fits) {
    std::vector<Vec2> some;
    std::copy_if(places.begin(), places.end(), std::back_inserter(some), fits);
    return some;
}

double baseOf(const std::vector<Vec2>& places, double bonus, Vec2& a, Vec2& b) {
    double best = -1;
    for (std::size_t i = 0; i < places.size(); ++i)
        for (std::size_t j = 0; j < i; ++j) {
            const double apart = distance(places[i], places[j]);
            if (apart < leastApartMm) continue;
            const double worth = apart * (1 + bonus * (onDatum(places[i]) + onDatum(places[j])));
            if (worth <= best + 1e-9) continue;
            best = worth;
            a = places[j];
            b = places[i];
        }
    return best < 0 ? 0 : distance(a, b);
}

/// Fewer places, if with them the base is hardly shorter.
void prefer(std::vector<Vec2>& places, auto fits) {
    auto some = onlyWhere(places, fits);
    Vec2 a, b;
    if (baseOf(some, 0, a, b) >= 0.85 * baseOf(places, 0, a, b) && some.size() >= 2)
        places = std::move(some);
}

} // namespace

bool ClampedFields::reach(Vec2 p, double armMm) const {
    return std::any_of(fields.begin(), fields.end(), [&](const Pose& pose) {
        const Vec2 q = pose.affine().inverse()(p);
        return hoop->reaches(q + Vec2{armMm, 0}) && hoop->reaches(q - Vec2{armMm, 0}) &&
               hoop->reaches(q + Vec2{0, armMm}) && hoop->reaches(q - Vec2{0, armMm});
    });
}

std::vector<Mark> marksFor(const ClampedFields& clamping, const MarkGround& ground, int number,
                           const std::vector<ClampedFields>* shared) {
    std::vector<Vec2> places;
    for (const Pose& pose : clamping.fields) addPlaces(*clamping.hoop, pose, places);
    if (shared) {
        // The other field is laid out, too: its corners may be what both reach.
        for (const ClampedFields& other : *shared)
            for (const Pose& pose : other.fields) addPlaces(*other.hoop, pose, places);
        places = onlyWhere(places, [&](Vec2 p) {
            return clamping.reach(p) &&
                   std::any_of(shared->begin(), shared->end(),
                               [&](const auto& s) { return s.reach(p, crossArmMm); });
        });
    }
    const auto onCloth =
        onlyWhere(places, [&](Vec2 p) { return ground.cloth.grown(-clothEdgeMm).contains(p); });
    Vec2 a, b;
    if (baseOf(onCloth, 0, a, b) > 0) places = onCloth;
    prefer(places, [&](Vec2 p) {
        return std::none_of(ground.sewn.begin(), ground.sewn.end(),
                            [&](const Box& s) { return s.contains(p); });
    });
    if (baseOf(places, datumBonus, a, b) <= 0) return {};
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

void markPlan(std::vector<Hooping>& hoopings, const Library& library, const MarkGround& ground,
              bool chain) {
    std::vector<Hoop> frames;
    for (Hooping& h : hoopings) {
        h.marks.clear();
        h.witness.clear();
        const auto hoop = library.hoop(h.hoop);
        frames.push_back(hoop ? *hoop : Hoop{});
    }
    std::vector<ClampedFields> earlier;
    for (std::size_t first = 0; first < hoopings.size();) {
        std::size_t last = first;
        ClampedFields fields{&frames[first], {}};
        while (last < hoopings.size() && hoopings[last].clamping == hoopings[first].clamping)
            fields.fields.push_back(hoopings[last++].pose);
        const bool chained = chain && first > 0;
        for (const Mark& m :
             marksFor(fields, ground, hoopings[first].clamping, chained ? &earlier : nullptr)) {
            for (std::size_t i = first; i < last; ++i)
                if (ClampedFields{&frames[i], {hoopings[i].pose}}.reach(m.at))
                    hoopings[i].marks.push_back(m);
            // The last of the earlier hoopings that can sews the cross.
            for (std::size_t i = first; chained && i-- > 0;)
                if (ClampedFields{&frames[i], {hoopings[i].pose}}.reach(m.at, crossArmMm)) {
                    hoopings[i].witness.push_back(m);
                    break;
                }
        }
        earlier.push_back(std::move(fields));
        first = last;
    }
}

} // namespace rapt
