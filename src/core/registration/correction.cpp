#include "registration/correction.h"

#include "geometry/ways.h"
#include "thread/measures.h"

#include <fmt/format.h>
#include <numbers>

namespace rapt {
namespace {

constexpr double roomMm = 0.5; ///< left when the cloth is hooped again

/// How far each side is passed; an oval's and a round corner's excess counts on the nearest side.
struct Overflow {
    double left = 0, right = 0, far = 0, near = 0;
    double worst() const { return std::max({left, right, far, near}); }
};

void addPlace(Overflow& o, Vec2 p, const Hoop& hoop) {
    const double w = hoop.widthMm / 2, h = hoop.heightMm / 2;
    o.right = std::max(o.right, p.x - w);
    o.left = std::max(o.left, -p.x - w);
    o.near = std::max(o.near, p.y - h);
    o.far = std::max(o.far, -p.y - h);
    if (hoop.shape == Hoop::Shape::rect || hoop.reaches(p)) return;
    double over = 0;
    Vec2 way = p * (1 / std::max(1e-9, length(p)));
    if (hoop.shape == Hoop::Shape::oval) {
        const double share = std::hypot(p.x / w, p.y / h);
        over = length(p) * (1 - 1 / share);
    } else {
        const Vec2 corner{std::copysign(w - hoop.cornerMm, p.x),
                          std::copysign(h - hoop.cornerMm, p.y)};
        way = (p - corner) * (1 / std::max(1e-9, distance(p, corner)));
        over = distance(p, corner) - hoop.cornerMm;
    }
    double& side = std::abs(way.x) > std::abs(way.y) ? (way.x > 0 ? o.right : o.left)
                                                     : (way.y > 0 ? o.near : o.far);
    side = std::max(side, over);
}

Overflow overflowOf(const Polyline& hull, const Affine& motion, const Hoop& hoop) {
    Overflow o;
    for (const Vec2& p : hull) addPlace(o, motion(p), hoop);
    return o;
}

bool fits(const Polyline& hull, const Affine& motion, const Hoop& hoop) {
    return std::all_of(hull.begin(), hull.end(), [&](Vec2 p) { return hoop.reaches(motion(p)); });
}

/// A part of the correction: turned by a share of its turn and moved by a share of its way, both
/// about the middle of what is sewn.
Affine shareOf(const Affine& motion, Vec2 middle, double share) {
    const double turn = std::atan2(motion.c, motion.a) * share;
    const Vec2 way = (motion(middle) - middle) * share;
    const double c = std::cos(turn), s = std::sin(turn);
    const Vec2 m{c * middle.x - s * middle.y, s * middle.x + c * middle.y};
    return {c, -s, s, c, middle.x + way.x - m.x, middle.y + way.y - m.y};
}

double largestShare(const Polyline& hull, const Affine& motion, Vec2 middle, const Hoop& hoop) {
    if (!fits(hull, Affine(), hoop)) return 0;
    double low = 0, high = 1;
    for (int i = 0; i < 40; ++i) {
        const double share = (low + high) / 2;
        (fits(hull, shareOf(motion, middle, share), hoop) ? low : high) = share;
    }
    return low;
}

std::string turnWords(double deg) {
    if (std::abs(deg) < 0.05) return {};
    return fmt::format("turn the cloth {:.1f}° {}", std::abs(deg),
                       deg < 0 ? "anticlockwise" : "clockwise");
}

std::string pullWords(Vec2 by) {
    const auto rounded = [](double v) { return std::round(v * 10) / 10; };
    const std::string way = wayText({rounded(by.x), rounded(by.y)});
    return way.empty() ? way : "pull it " + way;
}

void sayEdges(const Overflow& o, FieldMiss& miss) {
    for (const auto& [side, over] :
         {std::pair{"left", o.left}, {"right", o.right}, {"far", o.far}, {"near", o.near}})
        if (over > 0.001) miss.edges.push_back({side, over});
    std::sort(miss.edges.begin(), miss.edges.end(),
              [](const auto& a, const auto& b) { return a.overMm > b.overMm; });
}

/// The least pull that brings the corrected design back, if a pull alone does.
std::optional<Vec2> pullAlone(const Polyline& hull, const Affine& motion, const Hoop& hoop) {
    const Overflow o = overflowOf(hull, motion, hoop);
    Vec2 by;
    if (o.right > 0.001) by.x -= o.right + roomMm;
    if (o.left > 0.001) by.x += o.left + roomMm;
    if (o.near > 0.001) by.y -= o.near + roomMm;
    if (o.far > 0.001) by.y += o.far + roomMm;
    Affine pulled = motion;
    pulled.tx += by.x;
    pulled.ty += by.y;
    return fits(hull, pulled, hoop) ? std::optional(by) : std::nullopt;
}

void sayRehooping(const Polyline& hull, const Affine& motion, const Hoop& hoop,
                  const Affine& toFrame, FieldMiss& miss) {
    std::string words;
    if (const auto by = pullAlone(hull, motion, hoop)) {
        miss.clothMove = toFrame(*by) - toFrame({});
        words = "hoop again: " + pullWords(miss.clothMove).replace(5, 2, "the cloth");
    } else {
        // All the way back, as a person does it: turned about the frame's middle, then pulled.
        const Affine back = toFrame.inverse().then(motion).then(toFrame).inverse();
        miss.clothTurnDeg = std::atan2(back.c, back.a) * 180 / std::numbers::pi;
        miss.clothMove = {back.tx, back.ty};
        const std::string pull = pullWords(miss.clothMove), turn = turnWords(miss.clothTurnDeg);
        words =
            "hoop again: " + turn + (turn.empty() || pull.empty() ? "" : ", ") +
            (turn.empty() && !pull.empty() ? std::string(pull).replace(5, 2, "the cloth") : pull);
    }
    miss.text += "; " + words;
}

/// How much of the correction the field holds, as the cloth lies now.
std::string fittingWords(const FieldMiss& miss) {
    const double turn = std::round(std::abs(miss.fitsTurnDeg) * 10) / 10;
    const std::string way =
        wayText({std::round(miss.fitsMove.x * 10) / 10, std::round(miss.fitsMove.y * 10) / 10});
    if (turn == 0 && way.empty()) return "As the cloth lies, no part of the correction fits.";
    return fmt::format("At most {}{}{} fits, which leaves {:.1f} mm.",
                       turn > 0 ? fmt::format("a turn of {:.1f}°", turn) : "",
                       turn > 0 && !way.empty() ? " and " : "",
                       way.empty() ? "" : "a move of " + way, miss.leftMm);
}

} // namespace

Result<ObservationReport> fitOf(const Registration& registration) {
    return fitObservations(registration.observations, registration.model);
}

Affine motionIn(const Hooping& seenIn, const Affine& motion, const Hooping& wanted) {
    const Affine from = seenIn.pose.affine(), to = wanted.pose.affine();
    return to.then(from.inverse()).then(motion).then(from).then(to.inverse());
}

AppliedCorrection appliedCorrection(const Job& job, int hooping) {
    AppliedCorrection applied;
    const Registration* r = job.registration(hooping);
    const auto count = static_cast<int>(job.hoopings.size());
    if (!r || r->observations.empty() || hooping < 1 || hooping > count || r->hooping > count)
        return applied;
    if (isOutdated(job, *r)) {
        applied.state = CorrectionState::outdated;
        return applied;
    }
    auto report = fitOf(*r);
    if (!report) {
        applied.state = CorrectionState::unfit;
        applied.problem = report.error();
        return applied;
    }
    const auto at = [&](int n) -> const Hooping& {
        return job.hoopings[static_cast<std::size_t>(n) - 1];
    };
    applied.motion = r->hooping == hooping ? report->fit.map
                                           : motionIn(at(r->hooping), report->fit.map, at(hooping));
    applied.report = std::move(*report);
    applied.state = r->choice == CorrectionChoice::asPlanned   ? CorrectionState::asPlanned
                    : r->choice == CorrectionChoice::corrected ? CorrectionState::chosen
                                                               : CorrectionState::open;
    return applied;
}

std::optional<Affine> correctionOf(const Job& job, int hooping) {
    const AppliedCorrection applied = appliedCorrection(job, hooping);
    return applied.isKnown() ? std::optional(applied.motion) : std::nullopt;
}

Affine fieldToFrame(const Hooping& hooping) {
    return hooping.pose.affine().then(hooping.frame.affine().inverse());
}

Affine fieldToCloth(const Job& job, int hooping) {
    const Affine planned = job.hoopings[static_cast<std::size_t>(hooping) - 1].pose.affine();
    const AppliedCorrection applied = appliedCorrection(job, hooping);
    return applied.isSewn(Corrected::ifChosen) ? applied.motion.inverse().then(planned) : planned;
}

std::string planStamp(const Job& job, int hooping) {
    const auto i = static_cast<std::size_t>(hooping) - 1;
    if (hooping < 1 || i >= job.hoopings.size()) return {};
    const Hooping& h = job.hoopings[i];
    std::string stamp =
        fmt::format("{} {:.2f} {:.2f} {:.2f}", h.hoop, h.frame.x, h.frame.y, h.frame.rotationDeg);
    for (const Mark& m : h.marks) stamp += fmt::format(" {} {:.2f} {:.2f}", m.name, m.at.x, m.at.y);
    return stamp;
}

bool isOutdated(const Job& job, const Registration& registration) {
    return !registration.plan.empty() && registration.plan != planStamp(job, registration.hooping);
}

std::optional<FieldMiss> fieldMiss(const StitchList& list, const Affine& motion, const Hoop& hoop,
                                   const Affine& toFrame) {
    std::vector<Vec2> places;
    for (const Stitch& s : list.stitches)
        if (s.op == Op::stitch) places.push_back(s.at());
    const Polyline hull = convexHull(std::move(places));
    // Fields are convex: what holds the hull holds all.
    if (fits(hull, motion, hoop)) return std::nullopt;
    FieldMiss miss;
    sayEdges(overflowOf(hull, motion, hoop), miss);
    const Vec2 middle = boundsOf(hull).centre();
    miss.fits = largestShare(hull, motion, middle, hoop);
    const Affine share = shareOf(motion, middle, miss.fits);
    miss.fitsTurnDeg = std::atan2(share.c, share.a) * 180 / std::numbers::pi;
    miss.fitsMove = share(middle) - middle;
    for (const Vec2& p : hull) miss.leftMm = std::max(miss.leftMm, distance(share(p), motion(p)));
    miss.text = "the corrected design leaves the field";
    for (std::size_t i = 0; i < miss.edges.size(); ++i)
        miss.text +=
            fmt::format("{} {:.1f} mm over the {} edge", i == 0 ? ":" : ",",
                        std::ceil(miss.edges[i].overMm * 10 - 1e-6) / 10, miss.edges[i].side);
    sayRehooping(hull, motion, hoop, toFrame, miss);
    miss.text += ". " + fittingWords(miss);
    return miss;
}

std::vector<Vec2> outlineWalk(const StitchList& list, const Affine& motion) {
    const Box box = extentsOf(list);
    if (box.empty()) return {};
    std::vector<Vec2> walk{box.centre()};
    for (const Vec2& c : box.corners()) walk.push_back(c);
    std::vector<Vec2> places;
    for (const Stitch& s : list.stitches)
        if (s.op == Op::stitch) places.push_back(s.at());
    const Polyline hull = convexHull(std::move(places));
    constexpr std::size_t most = 24;
    for (std::size_t i = 0; i < hull.size(); i += std::max<std::size_t>(1, hull.size() / most))
        walk.push_back(hull[i]);
    if (!hull.empty()) walk.push_back(hull.front());
    for (Vec2& p : walk) p = motion(p);
    return walk;
}

StitchList moved(const StitchList& list, const Affine& motion) {
    StitchList result = list;
    for (Stitch& s : result.stitches) s = stitchAt(s.op, motion(s.at()), s.thread);
    return result;
}

namespace {

std::string notToFollow(const AppliedCorrection& applied) {
    switch (applied.state) {
    case CorrectionState::outdated:
        return "it was registered before its place in the plan changed; register it again, or "
               "choose to sew it as planned";
    case CorrectionState::unfit:
        return applied.problem.reason;
    case CorrectionState::open:
    case CorrectionState::chosen:
        if (applied.report->verdict != Verdict::redo) break;
        return applied.report->text + "; hoop or measure again, or choose to sew it as planned";
    default:
        break;
    }
    return {};
}

} // namespace

Result<std::vector<HoopingList>> correctedLists(const Job& job, std::vector<HoopingList> lists,
                                                const Library& library, Corrected which) {
    for (std::size_t i = 0; i < lists.size(); ++i) {
        const int number = static_cast<int>(i) + 1;
        const AppliedCorrection applied = appliedCorrection(job, number);
        // What cannot be followed is refused, not sewn as if nothing had been seen.
        const Registration* r = job.registration(number);
        const bool wanted =
            which == Corrected::unlessRefused || (r && r->choice == CorrectionChoice::corrected);
        if (wanted)
            if (const std::string why = notToFollow(applied); !why.empty())
                return cannotDo(fmt::format("hooping {}: {}", number, why));
        if (!applied.isSewn(which)) continue;
        const auto hoop = library.hoop(job.hoopings[i].hoop);
        if (!hoop) return hoop.error();
        const Affine& motion = applied.motion;
        if (const auto miss =
                fieldMiss(lists[i].list, motion, *hoop, fieldToFrame(job.hoopings[i])))
            return cannotDo(fmt::format("hooping {}: {}", number, miss->text));
        lists[i].list = moved(lists[i].list, motion);
        lists[i].extents = extentsOf(lists[i].list);
    }
    return lists;
}

} // namespace rapt
