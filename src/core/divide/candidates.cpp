#include "divide/candidates.h"

#include "divide/frames.h"

#include <map>
#include <numbers>
#include <set>

namespace rapt {
namespace {

/// Where the frame may stand (in the turned frame) so that a stand holds a part.
struct Range {
    std::size_t stand, part;
    double x0, x1, y0, y1;
    bool has(Vec2 p) const {
        return x0 - fieldRoundingMm <= p.x && p.x <= x1 + fieldRoundingMm &&
               y0 - fieldRoundingMm <= p.y && p.y <= y1 + fieldRoundingMm;
    }
};

/// Places p with dot(p, out) ≤ most.
struct HalfPlane {
    Vec2 out;
    double most = 0;
};

/// The edges of a field as half-planes that lie within it: exact for straight ones, chords within
/// 0.002 mm for round ones.
std::vector<HalfPlane> edgesOf(const Hoop& hoop, double marginMm) {
    constexpr int chords = 512;
    const double w = hoop.widthMm / 2 - marginMm, h = hoop.heightMm / 2 - marginMm;
    std::vector<HalfPlane> edges;
    if (hoop.shape != Hoop::Shape::oval)
        edges = {{{1, 0}, w}, {{-1, 0}, w}, {{0, 1}, h}, {{0, -1}, h}};
    const double r = std::max(0.0, hoop.cornerMm - marginMm);
    if (hoop.shape == Hoop::Shape::rect || (hoop.shape == Hoop::Shape::rounded && r == 0))
        return edges;
    for (int i = 0; i < chords; ++i) {
        const double t = 2 * std::numbers::pi * (i + 0.5) / chords;
        const double sagging = std::cos(std::numbers::pi / chords);
        const Vec2 way{std::cos(t), std::sin(t)};
        if (hoop.shape == Hoop::Shape::oval) {
            const Vec2 out{way.x / w, way.y / h};
            edges.push_back({out * (1 / length(out)), sagging / length(out)});
        } else {
            const Vec2 corner{std::copysign(w - r, way.x), std::copysign(h - r, way.y)};
            edges.push_back({way, dot(corner, way) + r * sagging});
        }
    }
    return edges;
}

/// The place within all half-planes that lies lowest (in a direction that none of them is square
/// to), by taking them in one by one (Seidel 1991). Nothing if there is none.
std::optional<Vec2> lowestWithin(std::vector<HalfPlane> planes) {
    constexpr double farMm = 1e6, roundingMm = 1e-6;
    constexpr Vec2 down{0.01731, 1};
    std::uint32_t dice = 1;
    for (std::size_t i = planes.size(); i > 1; --i) {
        dice = dice * 1664525u + 1013904223u;
        std::swap(planes[i - 1], planes[(dice >> 8) % i]);
    }
    Vec2 best{-farMm, -farMm};
    for (std::size_t i = 0; i < planes.size(); ++i) {
        if (dot(best, planes[i].out) <= planes[i].most + roundingMm) continue;
        // The lowest place lies on this edge.
        const Vec2 on = planes[i].out * planes[i].most, way{-planes[i].out.y, planes[i].out.x};
        double from = -2 * farMm, to = 2 * farMm;
        for (std::size_t k = 0; k < i; ++k) {
            const double slope = dot(way, planes[k].out);
            const double room = planes[k].most - dot(on, planes[k].out);
            if (std::abs(slope) < 1e-12) {
                if (room < -roundingMm) return std::nullopt;
            } else if (slope > 0) {
                to = std::min(to, room / slope);
            } else {
                from = std::max(from, room / slope);
            }
        }
        if (from > to + roundingMm) return std::nullopt;
        best = on + way * (dot(way, down) > 0 ? from : std::max(from, to));
    }
    return best;
}

/// A frame in one of its turns, and the parts as it sees them.
class TurnedFrame {
public:
    TurnedFrame(const Hoop& h, double turn, const std::vector<Part>& parts, double margin)
        : hoop(h), turnDeg(turn), marginMm(margin) {
        for (const Part& p : parts) {
            Polyline& hull = hulls.emplace_back(p.hull);
            for (Vec2& v : hull) v = turned(v, -turn);
            boxes.push_back(boundsOf(hull));
        }
        for (std::size_t s = 0; s < hoop.positions.size(); ++s) addRanges(s);
    }

    bool isBoxLike() const {
        return hoop.shape == Hoop::Shape::rect &&
               std::all_of(hoop.positions.begin(), hoop.positions.end(),
                           [](const auto& p) { return std::fmod(p.turnDeg, 90) == 0; });
    }

    /// Places at which nothing more can be held by moving right or down.
    std::vector<Vec2> corners(const std::stop_token& stop) const {
        std::vector<Vec2> places;
        std::set<double> ys;
        for (const Range& r : ranges) ys.insert(r.y0);
        for (const double y : ys) {
            if (stop.stop_requested()) return {};
            std::vector<const Range*> level;
            for (const Range& r : ranges)
                if (r.y0 <= y + fieldRoundingMm && y <= r.y1 + fieldRoundingMm) level.push_back(&r);
            std::set<double> xs;
            for (const Range* r : level) xs.insert(r->x0);
            for (const double x : xs) places.push_back({x, y});
        }
        return places;
    }

    /// For fields that are no boxes: the lowest places of what one or two holdings allow. A holding
    /// (a part in a position) allows the places within some half-planes, since the field is convex;
    /// the lowest place that several allow is that of two of them (the basis of a linear program in
    /// the plane, Seidel 1991), so no set of parts is missed. Round edges are taken as polygons
    /// inside them, within 0.002 mm.
    std::vector<Vec2> lowestPlaces(const std::stop_token& stop) const {
        std::vector<std::vector<HalfPlane>> allowed;
        for (const Range& r : ranges) allowed.push_back(halfPlanesOf(r));
        std::vector<Vec2> places;
        for (std::size_t i = 0; i < ranges.size(); ++i)
            for (std::size_t j = i; j < ranges.size(); ++j) {
                if (stop.stop_requested()) return {};
                if (!meet(ranges[i], ranges[j])) continue;
                auto both = allowed[i];
                if (j != i) both.insert(both.end(), allowed[j].begin(), allowed[j].end());
                if (const auto place = lowestWithin(std::move(both))) places.push_back(*place);
            }
        return places;
    }

    /// What every position holds at a place; with a slide, every standing that holds most.
    std::vector<Stand> standsAt(Vec2 place) const {
        if (hoop.slide) return slidesAt(place);
        std::vector<Stand> stands;
        for (std::size_t s = 0; s < hoop.positions.size(); ++s)
            stands.push_back({static_cast<int>(s) + 1, 0, PartSet(hulls.size())});
        for (const Range& r : ranges)
            if (r.has(place) && (isBoxLike() || holdsExactly(r, place)))
                stands[r.stand].holds.add(r.part);
        std::erase_if(stands, [](const Stand& s) { return s.holds.empty(); });
        return stands;
    }

    Pose poseAt(Vec2 place) const {
        const Vec2 p = turned(place, turnDeg);
        return {p.x, p.y, turnDeg, false, 1, 1};
    }

private:
    static bool meet(const Range& a, const Range& b) {
        return std::max(a.x0, b.x0) <= std::min(a.x1, b.x1) + fieldRoundingMm &&
               std::max(a.y0, b.y0) <= std::min(a.y1, b.y1) + fieldRoundingMm;
    }

    std::vector<HalfPlane> halfPlanesOf(const Range& r) const {
        const FramePosition& p = hoop.positions[r.stand];
        std::vector<HalfPlane> all = edgesOf(hoop, marginMm);
        for (HalfPlane& edge : all) {
            edge.out = turned(edge.out, p.turnDeg);
            // Each needle point, seen from where the field then stands, lies inside the edge.
            double farthest = -1e18;
            for (const Vec2& v : hulls[r.part])
                farthest = std::max(farthest, dot(v - p.at, edge.out));
            edge = {edge.out * -1.0, edge.most - farthest};
        }
        return all;
    }

    /// Half the field's box in the frame.
    Vec2 halfOf(const FramePosition& p) const {
        const Turn t = turnOf(p.turnDeg);
        const double w = hoop.widthMm / 2 - marginMm, h = hoop.heightMm / 2 - marginMm;
        if (hoop.shape == Hoop::Shape::oval)
            return {std::hypot(w * t.cosine, h * t.sine), std::hypot(w * t.sine, h * t.cosine)};
        return {std::abs(w * t.cosine) + std::abs(h * t.sine),
                std::abs(w * t.sine) + std::abs(h * t.cosine)};
    }

    void addRanges(std::size_t s) {
        const FramePosition& p = hoop.positions[s];
        const Vec2 half = halfOf(p);
        const double from = hoop.slide ? hoop.slide->fromMm : 0;
        const double to = hoop.slide ? hoop.slide->toMm : 0;
        for (std::size_t i = 0; i < boxes.size(); ++i) {
            const Box& b = boxes[i];
            if (b.width() > 2 * half.x + fieldRoundingMm) continue;
            const Range r{s,
                          i,
                          b.maxX - p.at.x - to - half.x,
                          b.minX - p.at.x - from + half.x,
                          b.maxY - p.at.y - half.y,
                          b.minY - p.at.y + half.y};
            if (r.y0 <= r.y1 + fieldRoundingMm) ranges.push_back(r);
        }
    }

    bool holdsExactly(const Range& r, Vec2 place) const {
        return holdsAt(hoop.positions[r.stand], r.part, place);
    }
    bool holdsSlid(std::size_t part, Vec2 place, double slideMm) const {
        return holdsAt(hoop.positions[0], part, place + Vec2{slideMm, 0});
    }
    bool holdsAt(const FramePosition& p, std::size_t part, Vec2 place) const {
        Polyline seen = hulls[part];
        for (Vec2& v : seen) v = turned(v - place - p.at, -p.turnDeg);
        return holds(hoop, seen, marginMm);
    }

    std::vector<Stand> slidesAt(Vec2 place) const {
        const FramePosition& p = hoop.positions[0];
        const double half = halfOf(p).x;
        struct Reach {
            std::size_t part;
            double from, to;
        };
        std::vector<Reach> reached;
        for (const Range& r : ranges)
            if (r.has(place))
                reached.push_back(
                    {r.part,
                     std::max(hoop.slide->fromMm, boxes[r.part].maxX - place.x - p.at.x - half),
                     std::min(hoop.slide->toMm, boxes[r.part].minX - place.x - p.at.x + half)});
        std::vector<Stand> stands;
        for (const Reach& edge : reached) {
            Stand stand{1, edge.from, PartSet(hulls.size())};
            for (const Reach& r : reached)
                if (r.from <= edge.from + fieldRoundingMm && edge.from <= r.to + fieldRoundingMm)
                    if (isBoxLike() || holdsSlid(r.part, place, edge.from)) stand.holds.add(r.part);
            const bool known = std::any_of(stands.begin(), stands.end(), [&](const Stand& s) {
                return stand.holds.isIn(s.holds);
            });
            if (known) continue;
            std::erase_if(stands, [&](const Stand& s) { return s.holds.isIn(stand.holds); });
            stands.push_back(std::move(stand));
        }
        return stands;
    }

    const Hoop& hoop;
    double turnDeg, marginMm;
    std::vector<Polyline> hulls;
    std::vector<Box> boxes;
    std::vector<Range> ranges;
};

PartSet unionOf(const std::vector<Stand>& stands, std::size_t size) {
    PartSet all(size);
    for (const Stand& s : stands) all.unite(s.holds);
    return all;
}

/// Everything that `less` holds in one standing, `more` holds in one, too.
bool isNoBetter(const Candidate& less, const Candidate& more) {
    return less.all.isIn(more.all) &&
           std::all_of(less.stands.begin(), less.stands.end(), [&](const Stand& a) {
               return std::any_of(more.stands.begin(), more.stands.end(),
                                  [&](const Stand& b) { return a.holds.isIn(b.holds); });
           });
}

void dropWorse(std::vector<Candidate>& all) {
    std::vector<std::pair<std::size_t, std::size_t>> bySize;
    for (std::size_t i = 0; i < all.size(); ++i) {
        std::size_t held = 0;
        for (const Stand& s : all[i].stands) held += s.holds.count();
        bySize.emplace_back(all[i].all.count() * 1000 + held, i);
    }
    std::sort(bySize.begin(), bySize.end(), [](const auto& a, const auto& b) {
        return a.first != b.first ? a.first > b.first : a.second < b.second;
    });
    std::vector<Candidate> kept;
    for (const auto& [size, i] : bySize) {
        const bool worse = std::any_of(kept.begin(), kept.end(),
                                       [&](const Candidate& k) { return isNoBetter(all[i], k); });
        if (!worse) kept.push_back(std::move(all[i]));
    }
    all = std::move(kept);
}

} // namespace

std::vector<Candidate> placings(const std::vector<Hoop>& hoops, const std::vector<Part>& parts,
                                double marginMm, std::stop_token stop) {
    std::vector<Candidate> all;
    std::map<std::vector<PartSet>, std::size_t> known;
    for (std::size_t h = 0; h < hoops.size(); ++h)
        for (const double turn : hoops[h].turns) {
            const TurnedFrame frame(hoops[h], turn, parts, marginMm);
            const auto places = frame.isBoxLike() || hoops[h].slide ? frame.corners(stop)
                                                                    : frame.lowestPlaces(stop);
            for (const Vec2 place : places) {
                if (stop.stop_requested()) return {};
                auto stands = frame.standsAt(place);
                if (stands.empty()) continue;
                std::vector<PartSet> key;
                for (const Stand& s : stands) key.push_back(s.holds);
                const auto [same, isNew] = known.try_emplace(std::move(key), all.size());
                PartSet held = unionOf(stands, parts.size());
                Candidate c{h, frame.poseAt(place), std::move(stands), std::move(held)};
                if (isNew)
                    all.push_back(std::move(c));
                else if (all[same->second].hoop == h &&
                         c.stands[0].position < all[same->second].stands[0].position)
                    all[same->second] = std::move(c); // the first side of a frame is the usual one
            }
        }
    dropWorse(all);
    return all;
}

bool placesAreExact(const Hoop& hoop) { return !hoop.slide || hoop.shape == Hoop::Shape::rect; }

Candidate placingAt(const std::vector<Hoop>& hoops, std::size_t hoop, const Pose& frame,
                    const std::vector<Part>& parts, double marginMm) {
    const TurnedFrame seen(hoops[hoop], frame.rotationDeg, parts, marginMm);
    auto stands = seen.standsAt(turned({frame.x, frame.y}, -frame.rotationDeg));
    PartSet held = unionOf(stands, parts.size());
    return {hoop, frame, std::move(stands), std::move(held)};
}

namespace {

/// True if every stand holds what is wanted of it where the frame stands at `frame`.
bool serves(const Candidate& c, const Hoop& hoop, const std::vector<PartSet>& wanted,
            const std::vector<Part>& parts, const Pose& frame, double marginMm) {
    for (std::size_t s = 0; s < c.stands.size(); ++s) {
        const FramePosition& p = hoop.positions[static_cast<std::size_t>(c.stands[s].position - 1)];
        const Affine back = fieldPose(frame, p, c.stands[s].slideMm).affine().inverse();
        bool fine = true;
        wanted[s].each([&](std::size_t i) {
            if (!fine) return;
            Polyline seen = parts[i].hull;
            for (Vec2& v : seen) v = back(v);
            fine = holds(hoop, seen, marginMm);
        });
        if (!fine) return false;
    }
    return true;
}

/// Where the frame may stand, in its turned frame; for ovals only a first guess.
Box roomOf(const Candidate& c, const Hoop& hoop, const std::vector<PartSet>& wanted,
           const std::vector<Part>& parts, double marginMm) {
    Box room{-1e7, -1e7, 1e7, 1e7};
    const double turn = c.frame.rotationDeg;
    for (std::size_t s = 0; s < c.stands.size(); ++s) {
        const FramePosition& p = hoop.positions[static_cast<std::size_t>(c.stands[s].position - 1)];
        const Turn t = turnOf(p.turnDeg);
        const double w = hoop.widthMm / 2 - marginMm, h = hoop.heightMm / 2 - marginMm;
        const double halfX = std::abs(w * t.cosine) + std::abs(h * t.sine);
        const double halfY = std::abs(w * t.sine) + std::abs(h * t.cosine);
        wanted[s].each([&](std::size_t i) {
            for (const Vec2& corner : parts[i].hull) {
                const Vec2 v = turned(corner, -turn) - p.at - Vec2{c.stands[s].slideMm, 0};
                room.minX = std::max(room.minX, v.x - halfX);
                room.maxX = std::min(room.maxX, v.x + halfX);
                room.minY = std::max(room.minY, v.y - halfY);
                room.maxY = std::min(room.maxY, v.y + halfY);
            }
        });
    }
    return room;
}

/// Ovals: the middle of the smallest circle round all corners, scaled.
std::optional<Vec2> ovalMiddle(const Candidate& c, const Hoop& hoop,
                               const std::vector<PartSet>& wanted, const std::vector<Part>& parts) {
    if (hoop.shape != Hoop::Shape::oval || c.stands.size() != 1) return std::nullopt;
    const FramePosition& p = hoop.positions[static_cast<std::size_t>(c.stands[0].position - 1)];
    const double turn = c.frame.rotationDeg + p.turnDeg;
    const double squeeze = hoop.widthMm / hoop.heightMm;
    std::vector<Vec2> corners;
    wanted[0].each([&](std::size_t i) {
        for (const Vec2& v : parts[i].hull) {
            const Vec2 q = turned(v, -turn);
            corners.push_back({q.x, q.y * squeeze});
        }
    });
    const Vec2 m = smallestCircle(corners).centre;
    return turned(turned({m.x, m.y / squeeze}, p.turnDeg) - p.at, c.frame.rotationDeg);
}

} // namespace

Pose settled(const Candidate& c, const Hoop& hoop, const std::vector<PartSet>& wanted,
             const std::vector<Part>& parts, const Box& cloth, double marginMm,
             std::optional<Vec2> towards) {
    const double turn = c.frame.rotationDeg;
    const Box room = roomOf(c, hoop, wanted, parts, marginMm);
    std::vector<Vec2> tries;
    if (const auto middle = ovalMiddle(c, hoop, wanted, parts); middle && !towards)
        tries.push_back(*middle);
    if (room.minX <= room.maxX + 1e-6 && room.minY <= room.maxY + 1e-6) {
        // The ring on the cloth, as far as the room allows.
        const Vec2 outer = turned({hoop.outerWidthMm / 2, hoop.outerHeightMm / 2}, turn);
        const auto into = [](double v, double low, double high) {
            return low <= high ? std::clamp(v, low, high) : (low + high) / 2;
        };
        const Vec2 middle = turned(room.centre(), turn);
        const Vec2 kept{
            into(middle.x, cloth.minX + std::abs(outer.x), cloth.maxX - std::abs(outer.x)),
            into(middle.y, cloth.minY + std::abs(outer.y), cloth.maxY - std::abs(outer.y))};
        const Vec2 seen = turned(towards ? *towards : kept, -turn);
        tries.push_back(turned({std::clamp(seen.x, room.minX, std::max(room.minX, room.maxX)),
                                std::clamp(seen.y, room.minY, std::max(room.minY, room.maxY))},
                               turn));
        tries.push_back(middle);
    }
    for (const Vec2 place : tries)
        for (const double grid : {1.0, 0.5, 0.1, 0.0}) {
            const auto rounded = [grid](double v) {
                return grid > 0 ? std::round(v / grid) * grid + 0.0 : v;
            };
            const Pose pose{rounded(place.x), rounded(place.y), turn, false, 1, 1};
            if (serves(c, hoop, wanted, parts, pose, marginMm)) return pose;
        }
    return c.frame;
}

} // namespace rapt
