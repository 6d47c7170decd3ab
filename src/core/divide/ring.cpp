#include "divide/ring.h"

#include "divide/frames.h"
#include "divide/marks.h"
#include "geometry/ways.h"
#include "job/hooping_name.h"

#include <fmt/format.h>
#include <map>

namespace rapt {
namespace {

// Fewer needle points than this below a ring are not worth a word.
constexpr std::size_t leastPoints = 12;
// The cloth may end so far inside the ring's outer edge and is still held.
constexpr double heldMm = 8;
constexpr double farthestMoveMm = 60, moveStepMm = 2;

constexpr double mostZoneSteps = 60, widestStepMm = 4;

/// One clamping with what is sewn in it.
struct Clamping {
    int number = 0;
    Hoop hoop;
    Pose frame;
    std::vector<std::size_t> hoopings;
};

/// What is wrong with where a frame stands.
struct Wrong {
    std::size_t stitching = 0; ///< earlier needle points below the ring
    Vec2 stitchingAt;
    const ThickZone* thick = nullptr;
    const ForbiddenZone* hard = nullptr;
    double offClothMm = 0;
    const char* side = "";

    std::size_t weight() const {
        return (stitching >= leastPoints ? stitching : 0) + (thick ? 100 : 0) +
               (hard ? 100'000 : 0) + static_cast<std::size_t>(offClothMm * 10);
    }
};

class RingJudge {
public:
    RingJudge(const Job& j, const std::vector<HoopingList>& l, const Library& lib,
              double margin = 0)
        : job(j), lists(l), library(lib), marginMm(margin) {
        for (std::size_t i = 0; i < job.hoopings.size() && i < lists.size(); ++i) {
            const Hooping& h = job.hoopings[i];
            if (clampings.empty() || clampings.back().number != h.clamping) {
                const auto hoop = library.hoop(h.hoop);
                if (!hoop) continue;
                clampings.push_back({h.clamping, *hoop, h.frame, {}});
            }
            clampings.back().hoopings.push_back(i);
        }
    }

    std::vector<Finding> run() {
        std::vector<Finding> findings;
        std::vector<Vec2> earlier;
        judgeMachine(findings);
        for (const Clamping& c : clampings) {
            const Wrong wrong = judge(c, c.frame, earlier);
            judgeTurn(c, findings);
            if (wrong.weight() > 0) say(c, wrong, earlier, findings);
            collect(c, earlier);
        }
        for (Finding& f : findings)
            if (f.count > 1)
                f.text += fmt::format("; {} hoopings {}", f.count,
                                      f.kind == "ring-cloth"        ? "are short of cloth"
                                      : f.kind == "hooping-machine" ? "are in such frames"
                                                                    : "do so");
        return findings;
    }

    /// Moves of frames with which their rings press on nothing.
    std::vector<std::pair<int, Vec2>> clearing() {
        std::vector<std::pair<int, Vec2>> found;
        std::vector<Vec2> earlier;
        for (const Clamping& c : clampings) {
            const bool pinned = std::any_of(c.hoopings.begin(), c.hoopings.end(),
                                            [&](std::size_t i) { return job.hoopings[i].stays(); });
            const auto by = pinned || judge(c, c.frame, earlier).weight() == 0
                                ? std::optional<Vec2>()
                                : clearMove(c, earlier);
            if (by) found.emplace_back(c.number, *by);
            collect(c, earlier);
        }
        return found;
    }

private:
    /// One needle point for each millimetre of cloth that is sewn.
    void collect(const Clamping& c, std::vector<Vec2>& earlier) const {
        std::map<std::pair<int, int>, Vec2> cells;
        for (const std::size_t i : c.hoopings) {
            const Affine toCloth = job.hoopings[i].pose.affine();
            for (const Stitch& s : lists[i].list.stitches) {
                if (s.op != Op::stitch) continue;
                const Vec2 p = toCloth(s.at());
                cells.try_emplace(
                    {static_cast<int>(std::floor(p.x)), static_cast<int>(std::floor(p.y))}, p);
            }
        }
        for (const auto& [cell, p] : cells) earlier.push_back(p);
    }

    Wrong judge(const Clamping& c, const Pose& frame, const std::vector<Vec2>& earlier) const {
        Wrong wrong;
        // The ring holds the stabilizer alone; the item lies on it.
        if (job.brief.floated) return wrong;
        const RingShape ring = ringOf(c.hoop);
        const Affine back = frame.affine().inverse();
        const auto below = [&](Vec2 p) {
            const Vec2 q = back(p);
            return ring.outer.contains(q) && !ring.opening.contains(q);
        };
        for (const Vec2& p : earlier)
            if (below(p) && wrong.stitching++ == 0) wrong.stitchingAt = p;
        Box outer;
        for (const Vec2& corner : ring.outer.corners()) outer.add(frame.affine()(corner));
        const auto pressed = [&](const ClothZone& zone) {
            const Box all = zone.box();
            if (!all.overlaps(outer)) return false;
            const Box box{std::max(all.minX, outer.minX), std::max(all.minY, outer.minY),
                          std::min(all.maxX, outer.maxX), std::min(all.maxY, outer.maxY)};
            // Small zones by the millimetre, large ones by as much as leaves nothing out of a ring.
            const double step =
                std::clamp(std::max(box.width(), box.height()) / mostZoneSteps, 1.0, widestStepMm);
            for (double x = box.minX; x <= box.maxX; x += step)
                for (double y = box.minY; y <= box.maxY; y += step)
                    if (zone.contains({x, y}) && below({x, y})) return true;
            return false;
        };
        for (const ThickZone& z : job.cloth.thickZones)
            if (!wrong.thick && pressed(z)) wrong.thick = &z;
        for (const ForbiddenZone& z : job.cloth.forbiddenZones)
            if (!wrong.hard && pressed(z)) wrong.hard = &z;
        judgeCloth(c, frame, wrong);
        return wrong;
    }

    void judgeCloth(const Clamping& c, const Pose& frame, Wrong& wrong) const {
        const Box cloth = job.cloth.box();
        const Affine toCloth = frame.affine();
        Box outer;
        for (const Vec2& corner : c.hoop.outer().corners()) outer.add(toCloth(corner));
        outer = outer.grown(-heldMm);
        for (const auto& [over, side] : {std::pair{cloth.minX - outer.minX, "on the left"},
                                         std::pair{outer.maxX - cloth.maxX, "on the right"},
                                         std::pair{cloth.minY - outer.minY, "at the far side"},
                                         std::pair{outer.maxY - cloth.maxY, "at the near side"}})
            if (over > wrong.offClothMm + 1e-6) {
                wrong.offClothMm = over;
                wrong.side = side;
            }
    }

    void judgeTurn(const Clamping& c, std::vector<Finding>& findings) const {
        const bool allowed =
            std::any_of(c.hoop.turns.begin(), c.hoop.turns.end(), [&](double turn) {
                return std::abs(std::remainder(turn - c.frame.rotationDeg, 360)) < 1e-6;
            });
        if (allowed) return;
        std::string turns;
        for (const double t : c.hoop.turns)
            turns += (turns.empty() ? "" : " or ") + fmt::format("{:g}°", t);
        Finding f = begin(c, Severity::stop, "hooping-turn", {c.frame.x, c.frame.y});
        f.text = fmt::format("{} {} turned by {:g}°; {} is clamped at {}", named(c),
                             c.hoopings.size() == 1 ? "stands" : "stand", c.frame.rotationDeg,
                             c.hoop.name, turns);
        f.value = c.frame.rotationDeg;
        f.remedies = {{RemedyKind::move, "Turn it back", turns,
                       moveClamping(c.number, {}, c.hoop.turns[0] - c.frame.rotationDeg, library)}};
        findings.push_back(std::move(f));
    }

    bool takesAll(const Machine& machine) const {
        return std::all_of(clampings.begin(), clampings.end(), [&](const Clamping& c) {
            return frameProblem(c.hoop, machine).empty();
        });
    }
    /// One finding for all frames that the machine cannot sew in.
    void judgeMachine(std::vector<Finding>& findings) const {
        const auto machine = library.machine(job.brief.machine);
        if (!machine || takesAll(*machine)) return;
        std::optional<Finding> found;
        for (const Clamping& c : clampings) {
            const std::string problem = frameProblem(c.hoop, *machine);
            if (problem.empty()) continue;
            const Vec2 at{c.frame.x, c.frame.y};
            if (!found) {
                found = begin(c, Severity::stop, "hooping-machine", at);
                found->text = fmt::format("{} cannot be sewn: {}", named(c), problem);
            }
            found->places.push_back(at);
            found->count = found->places.size();
        }
        for (const Machine& other : library.machines)
            if (takesAll(other)) {
                Brief brief = job.brief;
                brief.machine = other.id;
                found->remedies.push_back({RemedyKind::machine, "Sew it on " + other.name,
                                           "it takes every frame of the plan",
                                           setBrief(brief, "Sew it on " + other.name)});
            }
        findings.push_back(std::move(*found));
    }

    std::string named(const Clamping& c) const {
        return sentence(hoopingsOf(job.hoopings, c.number));
    }

    Finding begin(const Clamping& c, Severity severity, const char* kind, Vec2 at) const {
        Finding f;
        f.severity = severity;
        f.kind = kind;
        f.at = at;
        for (const std::size_t i : c.hoopings)
            for (const std::string& id : job.hoopings[i].pieces)
                if (const Piece* p = job.piece(id)) f.pieces.push_back(p->id);
        return f;
    }

    /// What is wrong, the worst in front, and the shortest move that leaves nothing wrong.
    void say(const Clamping& c, const Wrong& wrong, const std::vector<Vec2>& earlier,
             std::vector<Finding>& findings) const {
        const std::string frame = "The ring of " + hoopingsOf(job.hoopings, c.number);
        const auto remedies = moves(c, earlier);
        const auto add = [&](Finding f) {
            f.remedies = remedies;
            findings.push_back(std::move(f));
        };
        if (wrong.hard) {
            Finding f = begin(c, Severity::stop, "ring-hard", wrong.hard->at);
            f.text = fmt::format("{} presses on {}", frame,
                                 wrong.hard->name.empty() ? "a hard place" : wrong.hard->name);
            f.cause = "It cannot close there, and the cloth slips or tears.";
            add(std::move(f));
        }
        if (wrong.stitching >= leastPoints) {
            Finding f = begin(c, Severity::caution, "ring-stitching", wrong.stitchingAt);
            f.value = static_cast<double>(wrong.stitching);
            f.text = fmt::format("{} presses on some {} mm² of what was sewn before", frame,
                                 wrong.stitching);
            f.cause =
                "Pressed stitches keep a mark, and the ring holds unevenly over them. Lay soft "
                "cloth between, and take the frame off between hoopings.";
            f.remedies = remedies;
            addOnce(std::move(f), findings);
        }
        if (wrong.thick) {
            Finding f = begin(c, Severity::caution, "ring-thick", wrong.thick->at);
            f.text = fmt::format("{} presses on a thick place", frame);
            f.cause = "It holds the cloth less tightly beside it; do not force the screw.";
            add(std::move(f));
        }
        if (wrong.offClothMm > 0) sayCloth(c, wrong, remedies, findings);
    }

    void sayCloth(const Clamping& c, const Wrong& wrong, const std::vector<Remedy>& remedies,
                  std::vector<Finding>& findings) const {
        Finding f = begin(c, Severity::caution, "ring-cloth", {c.frame.x, c.frame.y});
        f.value = wrong.offClothMm;
        f.text =
            fmt::format("The cloth does not reach under the ring of {} {}: {:.0f} mm are missing",
                        hoopingsOf(job.hoopings, c.number), wrong.side, wrong.offClothMm);
        f.cause =
            "Held on some sides only, it is drawn in. Float it: adhesive stabilizer in the "
            "frame, one layer more, a basting line round the item. Use spray adhesives only in "
            "the open air, away from flames and machine, as their makers say.";
        Brief floated = job.brief;
        floated.floated = true;
        f.remedies = remedies;
        f.remedies.push_back({RemedyKind::show, "Float the item", "not held by the ring",
                              setBrief(floated, "Float the item")});
        addOnce(std::move(f), findings);
    }

    /// One finding of a kind for all clampings; the worst of them in words.
    static void addOnce(Finding f, std::vector<Finding>& findings) {
        f.places = {*f.at};
        const auto known = std::find_if(findings.begin(), findings.end(),
                                        [&](const Finding& o) { return o.kind == f.kind; });
        if (known == findings.end()) {
            findings.push_back(std::move(f));
            return;
        }
        known->places.push_back(*f.at);
        known->count = known->places.size();
        if (*f.value <= *known->value) return;
        f.places = known->places;
        f.count = known->count;
        *known = std::move(f);
    }

    /// How far the frame can go each way with its stitching still in its fields, in the frame.
    Box roomOf(const Clamping& c) const {
        Box room{-farthestMoveMm, -farthestMoveMm, farthestMoveMm, farthestMoveMm};
        for (const std::size_t i : c.hoopings) {
            const Box& e = lists[i].extents;
            if (e.empty()) continue;
            const Hooping& h = job.hoopings[i];
            // Moves of the frame in the directions of this field.
            const double w = c.hoop.widthMm / 2 - marginMm, h2 = c.hoop.heightMm / 2 - marginMm;
            Box free{e.maxX - w, e.maxY - h2, e.minX + w, e.minY + h2};
            Box inFrame;
            for (const Vec2& corner : free.corners())
                inFrame.add(turned(corner, h.pose.rotationDeg - c.frame.rotationDeg));
            room.minX = std::max(room.minX, inFrame.minX);
            room.maxX = std::min(room.maxX, inFrame.maxX);
            room.minY = std::max(room.minY, inFrame.minY);
            room.maxY = std::min(room.maxY, inFrame.maxY);
        }
        return room;
    }

    std::vector<Remedy> moves(const Clamping& c, const std::vector<Vec2>& earlier) const {
        const auto by = clearMove(c, earlier);
        if (!by) return {};
        return {{RemedyKind::move, "Move the frame " + wayText(*by), "clear of it",
                 moveClamping(c.number, *by, 0, library)}};
    }

    std::optional<Vec2> clearMove(const Clamping& c, const std::vector<Vec2>& earlier) const {
        if (c.hoop.shape != Hoop::Shape::rect) return std::nullopt;
        const Box room = roomOf(c);
        std::vector<Vec2> tries;
        for (double y = std::ceil(room.minY / moveStepMm) * moveStepMm; y <= room.maxY;
             y += moveStepMm)
            for (double x = std::ceil(room.minX / moveStepMm) * moveStepMm; x <= room.maxX;
                 x += moveStepMm)
                if (x != 0 || y != 0) tries.push_back({x, y});
        std::sort(tries.begin(), tries.end(), [](Vec2 a, Vec2 b) {
            return dot(a, a) != dot(b, b) ? dot(a, a) < dot(b, b)
                                          : std::pair{a.x, a.y} < std::pair{b.x, b.y};
        });
        for (const Vec2& inFrame : tries) {
            const Vec2 by = turned(inFrame, c.frame.rotationDeg);
            Pose moved = c.frame;
            moved.x += by.x;
            moved.y += by.y;
            if (judge(c, moved, earlier).weight() == 0) return by;
        }
        return std::nullopt;
    }

    const Job& job;
    const std::vector<HoopingList>& lists;
    const Library& library;
    double marginMm; ///< kept free along the fields' edges when a frame is moved
    std::vector<Clamping> clampings;
};

} // namespace

RingShape ringOf(const Hoop& hoop) {
    // The opening lies halfway between the fields and the outer edge at the most: arms need room.
    const Box reach = hoop.reach(), outer = hoop.outer();
    const double sideways = std::max(0.0, (outer.width() - reach.width()) / 4);
    const double along = std::max(0.0, (outer.height() - reach.height()) / 4);
    return {{reach.minX - sideways, reach.minY - along, reach.maxX + sideways, reach.maxY + along},
            outer};
}

std::vector<Finding> ringFindings(const Job& job, const std::vector<HoopingList>& lists,
                                  const Library& library) {
    return RingJudge(job, lists, library).run();
}

Hooping movedHooping(Hooping h, Vec2 by, double turnDeg) {
    const Vec2 about{h.frame.x, h.frame.y};
    const Vec2 field = about + turned(Vec2{h.pose.x, h.pose.y} - about, turnDeg) + by;
    h.frame.x += by.x;
    h.frame.y += by.y;
    h.frame.rotationDeg = normalizedDegrees(h.frame.rotationDeg + turnDeg);
    h.pose.x = field.x;
    h.pose.y = field.y;
    h.pose.rotationDeg = normalizedDegrees(h.pose.rotationDeg + turnDeg);
    return h;
}

Edit moveClamping(int clamping, Vec2 by, double turnDeg, const Library& library) {
    return {"Move the frame", [clamping, by, turnDeg, library](Job job) {
                bool chain = false;
                std::vector<Hooping> moved;
                for (Hooping& h : job.hoopings) {
                    chain = chain || !h.witness.empty();
                    if (h.clamping != clamping) continue;
                    h = movedHooping(std::move(h), by, turnDeg);
                    h.pinned = true;
                    moved.push_back(h);
                }
                const MarkGround ground{job.cloth.box(), {}};
                if (chain) {
                    markPlan(job.hoopings, library, ground, true);
                    return job;
                }
                // Marks of the others do not depend on this one.
                markPlan(moved, library, ground, false);
                auto next = moved.begin();
                for (Hooping& h : job.hoopings)
                    if (h.clamping == clamping) h = *next++;
                return job;
            }};
}

void clearRings(Job& job, const std::vector<HoopingList>& lists, const Library& library,
                double marginMm) {
    for (const auto& [clamping, by] : RingJudge(job, lists, library, marginMm).clearing()) {
        job = moveClamping(clamping, by, 0, library).change(std::move(job));
        job = pinClamping(clamping, false).change(std::move(job));
    }
}

Edit pinClamping(int clamping, bool pinned) {
    return {pinned ? "Pin the frame" : "Free the frame", [clamping, pinned](Job job) {
                for (Hooping& h : job.hoopings)
                    if (h.clamping == clamping) h.pinned = pinned;
                return job;
            }};
}

} // namespace rapt
