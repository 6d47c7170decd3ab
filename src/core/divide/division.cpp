#include "divide/division.h"

#include "divide/marks.h"
#include "divide/placing.h"
#include "registration/fit.h"

#include <algorithm>
#include <fmt/format.h>
#include <numeric>

namespace rapt {
namespace {

using Footprints = std::vector<const Footprint*>;

std::vector<Footprint> footprintsOf(const StitchedJob& stitched) {
    std::vector<Footprint> result;
    for (const PieceSpan& span : stitched.spans) {
        std::vector<Vec2> points;
        for (std::size_t i = span.first; i < span.last; ++i)
            if (stitched.list.stitches[i].op == Op::stitch)
                points.push_back(stitched.list.stitches[i].at());
        result.push_back({span.id, convexHull(std::move(points)), span.extents});
    }
    return result;
}

struct Placed {
    const Hoop* hoop = nullptr;
    Pose pose;
    std::vector<std::size_t> pieces; ///< indices into the footprints, ascending
};

/// Fills hooping after hooping with the most pieces it can find for it.
class Planner {
public:
    Planner(const std::vector<Footprint>& f, const std::vector<const Hoop*>& h)
        : footprints(f), hoops(h), before(f.size()) {
        for (std::size_t i = 0; i < f.size(); ++i)
            for (std::size_t j = 0; j < i; ++j)
                if (f[i].box.overlaps(f[j].box)) before[i].push_back(j);
    }

    /// One plan; `seed` orders the pieces from which a hooping may grow (nothing: all of them).
    std::vector<Placed> plan(double (*seedKey)(const Box&)) const {
        std::vector<bool> sewn(footprints.size(), false);
        std::vector<Placed> result;
        std::size_t left = footprints.size();
        for (std::size_t i = 0; i < footprints.size(); ++i)
            if (footprints[i].hull.empty()) {
                sewn[i] = true;
                --left;
            }
        while (left > 0) {
            Placed best = bestFrom(seeds(sewn, seedKey), sewn);
            for (const std::size_t i : best.pieces) sewn[i] = true;
            left -= best.pieces.size();
            result.push_back(std::move(best));
        }
        return result;
    }

private:
    bool available(std::size_t i, const std::vector<bool>& sewn) const {
        return !sewn[i] && std::all_of(before[i].begin(), before[i].end(),
                                       [&](std::size_t j) { return sewn[j]; });
    }

    std::vector<std::size_t> seeds(const std::vector<bool>& sewn, double (*key)(const Box&)) const {
        constexpr std::size_t most = 48;
        std::vector<std::size_t> result;
        for (std::size_t i = 0; i < footprints.size(); ++i)
            if (available(i, sewn)) result.push_back(i);
        if (key) {
            const auto least =
                std::min_element(result.begin(), result.end(), [&](std::size_t a, std::size_t b) {
                    return key(footprints[a].box) < key(footprints[b].box);
                });
            return {*least};
        }
        if (result.size() > most) result.resize(most);
        return result;
    }

    Placed bestFrom(const std::vector<std::size_t>& from, const std::vector<bool>& sewn) const {
        Placed best;
        for (const Hoop* hoop : hoops)
            for (const double turn : hoop->turns)
                for (const std::size_t seed : from) {
                    Placed placed = grown(*hoop, turn, seed, sewn);
                    if (placed.pieces.size() > best.pieces.size()) best = std::move(placed);
                }
        return best;
    }

    /// The seed and then the nearest pieces that still fit, until none does.
    Placed grown(const Hoop& hoop, double turn, std::size_t seed, std::vector<bool> sewn) const {
        Footprints group{&footprints[seed]};
        const auto first = placeHoop(hoop, turn, group);
        if (!first) return {};
        Placed placed{&hoop, *first, {seed}};
        sewn[seed] = true;
        std::vector<std::size_t> others(footprints.size());
        std::iota(others.begin(), others.end(), std::size_t{0});
        const Box& home = footprints[seed].box;
        std::stable_sort(others.begin(), others.end(), [&](std::size_t a, std::size_t b) {
            return boxGap(home, footprints[a].box) < boxGap(home, footprints[b].box);
        });
        for (bool more = true; more;) {
            more = false;
            for (const std::size_t i : others) {
                if (!available(i, sewn)) continue;
                group.push_back(&footprints[i]);
                if (const auto pose = placeHoop(hoop, turn, group)) {
                    placed.pose = *pose;
                    placed.pieces.push_back(i);
                    sewn[i] = true;
                    more = true;
                } else {
                    group.pop_back();
                }
            }
        }
        std::sort(placed.pieces.begin(), placed.pieces.end());
        return placed;
    }

    const std::vector<Footprint>& footprints;
    std::vector<const Hoop*> hoops;
    std::vector<std::vector<std::size_t>> before; ///< overlapping pieces that are sewn earlier
};

std::vector<Placed> bestPlan(const std::vector<Footprint>& footprints,
                             const std::vector<const Hoop*>& hoops) {
    const Planner planner(footprints, hoops);
    using Key = double (*)(const Box&);
    const Key keys[] = {[](const Box& b) { return b.minX; }, [](const Box& b) { return b.minY; },
                        [](const Box& b) { return -b.maxX; }, nullptr};
    std::vector<Placed> best;
    for (const Key key : keys) {
        std::vector<Placed> plan = planner.plan(key);
        if (best.empty() || plan.size() < best.size()) best = std::move(plan);
    }
    return best;
}

/// Penetrations that pairwise fit no common field, picked greedily in several orders.
int lowerBoundOf(const std::vector<Footprint>& footprints, const std::vector<const Hoop*>& hoops) {
    std::vector<Vec2> points;
    for (const Footprint& f : footprints) points.insert(points.end(), f.hull.begin(), f.hull.end());
    int best = points.empty() ? 0 : 1;
    for (const Vec2 way : {Vec2{1, 1e-3}, Vec2{1e-3, 1}, Vec2{1, 1}, Vec2{1, -1}, Vec2{-1, 1e-3}}) {
        std::sort(points.begin(), points.end(),
                  [&](Vec2 a, Vec2 b) { return dot(a, way) < dot(b, way); });
        std::vector<Vec2> picked;
        for (const Vec2& p : points) {
            const bool apart = std::none_of(picked.begin(), picked.end(), [&](Vec2 q) {
                return std::any_of(hoops.begin(), hoops.end(),
                                   [&](const Hoop* h) { return fitTogether(*h, p, q); });
            });
            if (apart) picked.push_back(p);
        }
        best = std::max(best, static_cast<int>(picked.size()));
    }
    return best;
}

std::optional<Error> pieceThatFitsNowhere(const Job& job, const std::vector<Footprint>& footprints,
                                          const std::vector<const Hoop*>& hoops,
                                          const std::vector<Hoop>& allHoops) {
    const auto takes = [](const Hoop& h, const Footprint& f) {
        return std::any_of(h.turns.begin(), h.turns.end(),
                           [&](double t) { return placeHoop(h, t, {&f}).has_value(); });
    };
    for (const Footprint& f : footprints) {
        if (f.hull.empty()) continue;
        if (std::any_of(hoops.begin(), hoops.end(), [&](const Hoop* h) { return takes(*h, f); }))
            continue;
        const Hoop* smallest = nullptr;
        for (const Hoop& h : allHoops)
            if (takes(h, f) &&
                (!smallest || h.widthMm * h.heightMm < smallest->widthMm * smallest->heightMm))
                smallest = &h;
        const Piece* piece = job.piece(f.piece);
        std::string reason =
            fmt::format("{} is {:.1f} × {:.1f} mm and fits no field of {}",
                        piece ? piece->name : f.piece, f.box.width(), f.box.height(),
                        hoops.size() == 1 ? hoops[0]->id : std::string("the hoops chosen"));
        reason += smallest ? fmt::format("; {} would take it whole", smallest->id)
                           : "; no hoop in the library takes it whole, so make it smaller or bring "
                             "it in as smaller pieces";
        return cannotDo(reason, f.piece);
    }
    return std::nullopt;
}

Vec2 meetingPlace(const Box& a, const Box& b) {
    const auto middle = [](double minA, double maxA, double minB, double maxB) {
        const double low = std::max(minA, minB);
        const double high = std::min(maxA, maxB);
        return (low + high) / 2;
    };
    return {middle(a.minX, a.maxX, b.minX, b.maxX), middle(a.minY, a.maxY, b.minY, b.maxY)};
}

std::vector<Vec2> placesOf(const std::vector<Mark>& marks) {
    std::vector<Vec2> places;
    for (const Mark& m : marks) places.push_back(m.at);
    return places;
}

/// Each later hooping is judged where it comes nearest to an earlier one.
double joinRms(const std::vector<Placed>& plan, const std::vector<Hooping>& hoopings,
               const std::vector<Footprint>& footprints, double sigma) {
    double squares = 0;
    for (std::size_t later = 1; later < plan.size(); ++later) {
        double least = std::numeric_limits<double>::infinity();
        double square = 0;
        for (std::size_t earlier = 0; earlier < later; ++earlier)
            for (const std::size_t a : plan[later].pieces)
                for (const std::size_t b : plan[earlier].pieces) {
                    const double gap = boxGap(footprints[a].box, footprints[b].box);
                    if (gap >= least) continue;
                    least = gap;
                    const Vec2 at = meetingPlace(footprints[a].box, footprints[b].box);
                    const double e1 = predictedErrorMm(placesOf(hoopings[later].marks), at, sigma);
                    const double e2 =
                        predictedErrorMm(placesOf(hoopings[earlier].marks), at, sigma);
                    square = e1 * e1 + e2 * e2;
                }
        squares += square;
    }
    return plan.size() < 2 ? 0 : std::sqrt(squares / static_cast<double>(plan.size() - 1));
}

} // namespace

Result<Division> divideIntoHoopings(const Job& job, const StitchedJob& stitched,
                                    const DivideOptions& options,
                                    const std::vector<Hoop>& allHoops) {
    const std::vector<Footprint> footprints = footprintsOf(stitched);
    std::vector<const Hoop*> hoops;
    for (const Hoop& h : options.hoops) hoops.push_back(&h);
    if (const auto error = pieceThatFitsNowhere(job, footprints, hoops, allHoops)) return *error;
    const std::vector<Placed> plan = bestPlan(footprints, hoops);
    Division division;
    for (const Placed& placed : plan) {
        Hooping hooping;
        hooping.hoop = placed.hoop->id;
        hooping.pose = placed.pose;
        for (const std::size_t i : placed.pieces) hooping.pieces.push_back(footprints[i].piece);
        hooping.marks = marksFor(*placed.hoop, placed.pose, job.cloth.box(),
                                 static_cast<int>(division.hoopings.size()) + 1);
        division.hoopings.push_back(std::move(hooping));
    }
    division.lowerBound = lowerBoundOf(footprints, hoops);
    division.provenMinimal = division.lowerBound == static_cast<int>(plan.size());
    division.predictedJoinRmsMm =
        joinRms(plan, division.hoopings, footprints, options.placingSigmaMm);
    return division;
}

Result<std::vector<Hoop>> hoopsFor(const Job& job, const std::vector<std::string>& named,
                                   const Library& library) {
    const std::vector<std::string>& ids = named.empty() ? job.brief.hoops : named;
    if (ids.empty())
        return cannotDo("no hoop is named, and the brief says none is owned; choose one with "
                        "--hoop or in the Brief");
    std::vector<Hoop> hoops;
    for (const std::string& id : ids) {
        const Result<Hoop> hoop = library.hoop(id);
        if (!hoop) return hoop.error();
        hoops.push_back(*hoop);
    }
    return hoops;
}

} // namespace rapt
