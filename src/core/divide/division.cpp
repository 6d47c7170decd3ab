#include "divide/division.h"

#include "divide/apart.h"
#include "divide/cover.h"
#include "divide/cutting.h"
#include "divide/frames.h"
#include "divide/hooping_lists.h"
#include "divide/marks.h"
#include "divide/ring.h"
#include "divide/sewing_plan.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>

namespace rapt {
namespace {

// Of a layout with its copies: more take minutes and gigabytes.
constexpr std::size_t mostPieces = 3000;
// More parts than this are not put into one search; bounds are then those of some of them.
constexpr std::size_t mostParts = 400;
// Marks of a chain that lie farther apart than clampings reach are led there in such steps.
constexpr int mostBridges = 150;

/// Parts, where frames can stand for them, and the plan.
struct Planned {
    std::vector<Part> parts;
    std::vector<Candidate> candidates;
    SewingPlan plan;
};

/// One clamping of a plan.
struct Clamped {
    struct Visit {
        std::size_t stand = 0; ///< of the candidate
        PartSet parts;         ///< that are sewn there then
    };
    std::size_t candidate = 0;
    std::vector<Visit> visits;   ///< in sewing order; a stand may be come back to
    std::vector<PartSet> wanted; ///< for every stand of the candidate
    Pose frame;
    bool bridge = false; ///< sews nothing but marks
};

bool fitsSomewhere(const Part& part, const std::vector<Hoop>& hoops, double marginMm) {
    return !placings(hoops, {part}, marginMm).empty();
}

Error fitsNowhere(const Job& job, const Part& part, const std::vector<Hoop>& hoops,
                  const std::vector<Hoop>& known, double marginMm) {
    const Hoop* smallest = nullptr;
    for (const Hoop& h : known)
        if ((!smallest || h.widthMm * h.heightMm < smallest->widthMm * smallest->heightMm) &&
            fitsSomewhere(part, {h}, marginMm))
            smallest = &h;
    const Piece* piece = job.piece(part.piece);
    std::string reason =
        fmt::format("{} is {:.1f} × {:.1f} mm and fits no field of {}",
                    piece ? piece->name : part.piece, part.box.width(), part.box.height(),
                    hoops.size() == 1 ? hoops[0].id : std::string("the hoops chosen"));
    reason += smallest
                  ? fmt::format("; {} would take it whole", smallest->id)
                  : "; no hoop in the library takes it whole, so make it smaller, or let it be "
                    "cut";
    return cannotDo(reason, part.piece);
}

/// Divides one job.
class Divider {
public:
    Divider(const Job& j, StitchCache& c, const DivideOptions& o, const Library& l,
            const std::stop_token& s)
        : job(j), cache(c), options(o), library(l), stop(s), hoops(o.hoops) {
        keepWhatIsSewn();
    }

    Result<Division> run() {
        if (const Status fine = takePinned(); !fine) return fine.error();
        const auto left = partsLeft({});
        if (!left) return left.error();
        if (left->empty() && !kept.empty()) return division(); // all of it is sewn
        if (const Status fine = cutWhatFitsNowhere(); !fine) return fine.error();
        auto planned = bestPlan();
        if (!planned) return planned.error();
        best = std::move(*planned);
        if (const auto error = impossible()) return *error;
        makeClampings();
        if (options.method == Method::chain && !chained())
            return cannotDo("the hoopings cannot be led from one to the next by marks that both "
                            "reach; 'datum' needs none of them");
        Division d = division();
        if (const auto error = tooMany(d)) return *error;
        return d;
    }

private:
    /// Clampings that were begun stay as they are, and so do the cuts of pieces of which they sew
    /// a part.
    void keepWhatIsSewn() {
        std::set<int> begun;
        for (const Hooping& h : job.hoopings)
            if (h.sewn > 0) begun.insert(h.clamping);
        for (const Hooping& h : job.hoopings) {
            if (!begun.contains(h.clamping)) continue;
            if (kept.empty() || h.clamping != lastKept) ++keptClampings;
            lastKept = h.clamping;
            kept.push_back(h);
            kept.back().clamping = keptClampings;
            for (const std::string& id : h.pieces) keptParts[id].insert(0);
            for (const PieceParts& p : h.parts) {
                keptParts[p.piece].erase(0);
                keptParts[p.piece].insert(p.numbers.begin(), p.numbers.end());
                apart.pieces.insert(p.piece);
            }
        }
        std::erase_if(job.cuts, [&](const Cut& c) { return !keptParts.contains(c.piece); });
        std::erase_if(job.hoopings, [&](const Hooping& h) { return begun.contains(h.clamping); });
    }

    /// What is still to be planned.
    Result<std::vector<Part>> partsLeft(Apart how) {
        how.pieces.insert(apart.pieces.begin(), apart.pieces.end());
        auto parts = partsOf(job, lists, how, stop);
        if (!parts) return parts;
        std::erase_if(*parts, [&](const Part& p) {
            const auto own = keptParts.find(p.piece);
            return own != keptParts.end() &&
                   (own->second.contains(0) || own->second.contains(p.number));
        });
        return parts;
    }

    /// Pinned clampings of the job, whose frames may be others than those asked for.
    Status takePinned() {
        for (const Hooping& h : job.hoopings) {
            if (!h.pinned) continue;
            const bool known = std::any_of(pinned.begin(), pinned.end(), [&](const auto& p) {
                return p.second == h.frame && hoops[p.first].id == h.hoop;
            });
            if (known) continue;
            const auto hoop = library.hoop(h.hoop);
            if (!hoop) return hoop.error();
            auto at = std::find_if(hoops.begin(), hoops.end(),
                                   [&](const Hoop& x) { return x.id == hoop->id; });
            if (at == hoops.end()) at = hoops.insert(hoops.end(), *hoop);
            pinned.emplace_back(static_cast<std::size_t>(at - hoops.begin()), h.frame);
        }
        return done();
    }

    /// Elements that no field takes whole get cuts; their pieces fall into parts.
    Status cutWhatFitsNowhere() {
        auto whole = partsLeft({});
        if (!whole) return whole.error();
        if (whole->size() > mostPieces)
            return cannotDo(fmt::format("the layout has {} pieces with its copies, the most that a "
                                        "division takes is {}; divide it part by part, or make a "
                                        "batch of one",
                                        whole->size(), mostPieces));
        std::vector<std::string> large;
        for (const Part& p : *whole)
            if (!fitsSomewhere(p, options.hoops, options.marginMm)) {
                if (!options.mayPart && !options.mayCut)
                    return fitsNowhere(job, p, options.hoops, library.hoops, options.marginMm);
                large.push_back(p.piece);
            }
        if (large.empty()) return done();
        apart.pieces.insert(large.begin(), large.end());
        const auto elements = partsLeft({});
        if (!elements) return elements.error();
        for (const Part& p : *elements) {
            if (!apart.pieces.contains(p.piece) ||
                fitsSomewhere(p, options.hoops, options.marginMm))
                continue;
            if (keptParts.contains(p.piece)) // another cut would number its parts anew
                return fitsNowhere(job, p, options.hoops, library.hoops, options.marginMm);
            const auto cuts = options.mayCut ? cutsFor(p, std::max(1, p.number), options.hoops,
                                                       options.marginMm, options.straightCuts)
                                             : std::vector<Cut>{};
            if (cuts.empty())
                return fitsNowhere(job, p, options.hoops, library.hoops, options.marginMm);
            job.cuts.insert(job.cuts.end(), cuts.begin(), cuts.end());
            if (stop.stop_requested()) return cancelled();
        }
        return done();
    }

    Result<Planned> planned(const Apart& how, double seconds) {
        Planned p;
        auto made = partsLeft(how);
        if (!made) return made.error();
        p.parts = std::move(*made);
        p.candidates = placings(hoops, p.parts, options.marginMm, stop);
        PlanLimits limits{seconds, {}};
        for (const auto& [hoop, frame] : pinned) {
            Candidate c = placingAt(hoops, hoop, frame, p.parts, options.marginMm);
            if (c.stands.empty()) continue;
            limits.forced.push_back(p.candidates.size());
            p.candidates.push_back(std::move(c));
        }
        if (stop.stop_requested()) return cancelled();
        PartSet reached(p.parts.size());
        for (const Candidate& c : p.candidates) reached.unite(c.all);
        for (std::size_t i = 0; i < p.parts.size(); ++i)
            if (!reached.has(i))
                return fitsNowhere(job, p.parts[i], hoops, library.hoops, options.marginMm);
        p.plan = planSewing(p.parts.size(), sewnBefore(p.parts), p.candidates, limits, stop);
        return p;
    }

    /// Pieces whole, if that takes no more clampings and hoopings than with parts.
    Result<Planned> bestPlan() {
        auto whole = planned(apart, 0.5 * options.seconds);
        if (!whole) return whole;
        lowerBoundClampings = whole->plan.leastClampings;
        lowerBound = leastHoopings(*whole);
        if (!options.mayPart || whole->plan.stands.size() <= 1) return whole;
        const auto apartParts = partsLeft({true, {}});
        if (!apartParts) return apartParts.error();
        if (apartParts->size() == whole->parts.size()) return whole;
        if (apartParts->size() > mostParts) {
            boundFromSome(*apartParts);
            return whole;
        }
        auto parted = planned({true, {}}, 0.5 * options.seconds);
        if (!parted) return parted;
        lowerBoundClampings = parted->plan.leastClampings;
        lowerBound = leastHoopings(*parted);
        const auto cost = [](const SewingPlan& p) {
            return std::pair{p.clampings, p.stands.size()};
        };
        if (cost(parted->plan) < cost(whole->plan)) return parted;
        whole->plan.leastClampings = parted->plan.leastClampings;
        whole->plan.leastHoopings = std::min(parted->plan.leastHoopings, whole->plan.leastHoopings);
        return whole;
    }

    /// Fewest fields that hold all parts, whatever the clampings.
    int leastHoopings(const Planned& p) const {
        const bool single =
            std::all_of(hoops.begin(), hoops.end(), [](const Hoop& h) { return h.isSingle(); });
        if (single) return p.plan.leastClampings;
        std::vector<PartSet> sets;
        for (const Candidate& c : p.candidates)
            for (const Stand& s : c.stands) {
                const bool known = std::any_of(sets.begin(), sets.end(),
                                               [&](const PartSet& o) { return s.holds.isIn(o); });
                if (!known) sets.push_back(s.holds);
            }
        return std::max(p.plan.leastClampings,
                        fewestSets(p.parts.size(), sets, 0.3 * options.seconds, stop));
    }

    void boundFromSome(std::vector<Part> parts) {
        std::stable_sort(parts.begin(), parts.end(), [](const Part& a, const Part& b) {
            return a.box.width() + a.box.height() > b.box.width() + b.box.height();
        });
        parts.resize(mostParts / 2);
        const auto candidates = placings(hoops, parts, options.marginMm, stop);
        std::vector<PartSet> sets;
        for (const Candidate& c : candidates) sets.push_back(c.all);
        lowerBoundClampings = lowerBound =
            fewestSets(parts.size(), sets, 0.3 * options.seconds, stop);
    }

    /// More hoopings than allowed, the ones that only lead a chain counted.
    std::optional<Error> tooMany(const Division& d) const {
        const int hoopings = static_cast<int>(d.hoopings.size());
        if (options.mostHoopings <= 0 || hoopings <= options.mostHoopings) return std::nullopt;
        if (d.lowerBound > options.mostHoopings)
            return cannotDo(fmt::format("it takes at least {} hoopings, at most {} may be",
                                        d.lowerBound, options.mostHoopings));
        return cannotDo(fmt::format("no plan with at most {} hoopings was found; one with {} was",
                                    options.mostHoopings, hoopings));
    }

    std::optional<Error> impossible() const {
        if (options.method == Method::turn && best.plan.clampings > 1) {
            const std::string frames =
                options.hoops.size() == 1 ? options.hoops[0].id : std::string("these frames");
            std::string reason =
                best.plan.leastClampings > 1
                    ? fmt::format("hooping once in {} does not do all of it: it takes {}", frames,
                                  best.plan.clampings)
                    : fmt::format(
                          "no way to do all of it by hooping once in {} was found; {} times do",
                          frames, best.plan.clampings);
            for (const Hoop& h : library.hoops) {
                const auto candidates = placings({h}, best.parts, options.marginMm);
                const bool all =
                    std::any_of(candidates.begin(), candidates.end(), [&](const Candidate& c) {
                        return c.all.count() == best.parts.size();
                    });
                if (!all) continue;
                return cannotDo(reason + fmt::format("; {} would do it in one", h.id));
            }
            return cannotDo(reason + "; 'datum' and 'chain' clamp it again");
        }
        return std::nullopt;
    }

    /// A piece that is in several hoopings although one of them could take all of it goes there, if
    /// the order allows it.
    void gatherPieces() {
        auto& stands = best.plan.stands;
        const auto before = sewnBefore(best.parts);
        std::vector<std::size_t> when(best.parts.size());
        for (std::size_t s = 0; s < stands.size(); ++s)
            stands[s].parts.each([&](std::size_t i) { when[i] = s; });
        std::map<std::string, PartSet> pieces;
        for (std::size_t i = 0; i < best.parts.size(); ++i)
            pieces.try_emplace(best.parts[i].piece, best.parts.size()).first->second.add(i);
        for (const auto& [id, all] : pieces)
            for (std::size_t s = 0; s < stands.size(); ++s) {
                if (!all.isIn(best.candidates[stands[s].candidate].stands[stands[s].stand].holds))
                    continue;
                bool allowed = true;
                for (std::size_t i = 0; i < best.parts.size() && allowed; ++i)
                    for (const std::size_t j : before[i]) {
                        const std::size_t a = all.has(j) ? s : when[j];
                        const std::size_t b = all.has(i) ? s : when[i];
                        allowed = allowed && a <= b;
                    }
                if (!allowed) continue;
                all.each([&](std::size_t i) {
                    stands[when[i]].parts.remove(i);
                    stands[s].parts.add(i);
                    when[i] = s;
                });
                break;
            }
        std::erase_if(stands, [](const PlannedStand& s) { return s.parts.empty(); });
    }

    void makeClampings() {
        gatherPieces();
        int number = 0;
        for (const PlannedStand& s : best.plan.stands) {
            if (clampings.empty() || s.clamping != number) {
                number = s.clamping;
                const Candidate& c = best.candidates[s.candidate];
                clampings.push_back(
                    {s.candidate,
                     {},
                     std::vector<PartSet>(c.stands.size(), PartSet(best.parts.size())),
                     c.frame});
            }
            auto& visits = clampings.back().visits;
            if (!visits.empty() && visits.back().stand == s.stand)
                visits.back().parts.unite(s.parts);
            else
                visits.push_back({s.stand, s.parts});
            clampings.back().wanted[s.stand].unite(s.parts);
        }
        for (Clamped& c : clampings) settle(c);
    }

    bool isPinned(const Clamped& c) const {
        if (c.bridge) return false;
        const Candidate& candidate = best.candidates[c.candidate];
        return std::any_of(pinned.begin(), pinned.end(), [&](const auto& p) {
            return p.first == candidate.hoop && p.second == c.frame;
        });
    }

    void settle(Clamped& c, std::optional<Vec2> towards = {}) {
        if (isPinned(c)) return;
        const Candidate& candidate = best.candidates[c.candidate];
        c.frame = settled(candidate, hoops[candidate.hoop], c.wanted, best.parts, job.cloth.box(),
                          options.marginMm, towards);
    }

    const Hoop& hoopOf(const Clamped& c) const {
        return hoops[c.bridge ? c.candidate : best.candidates[c.candidate].hoop];
    }

    Pose poseOf(const Clamped& c, std::size_t stand) const {
        const Hoop& hoop = hoopOf(c);
        if (c.bridge) return fieldPose(c.frame, hoop.positions[0]);
        const Stand& s = best.candidates[c.candidate].stands[stand];
        return fieldPose(c.frame, hoop.positions[static_cast<std::size_t>(s.position - 1)],
                         s.slideMm);
    }

    ClampedFields fieldsOf(const Clamped& c) const {
        ClampedFields fields{&hoopOf(c), {}};
        for (const auto& v : c.visits) fields.fields.push_back(poseOf(c, v.stand));
        return fields;
    }

    std::vector<ClampedFields> earlierFields(std::size_t n) const {
        std::vector<ClampedFields> fields;
        for (std::size_t k = 0; k < n; ++k) fields.push_back(fieldsOf(clampings[k]));
        return fields;
    }

    MarkGround ground() const {
        MarkGround g{job.cloth.box(), {}};
        for (const Part& p : best.parts) g.sewn.push_back(p.box.grown(1));
        return g;
    }

    bool hasMarks(const Clamped& c, std::size_t n) const {
        const auto earlier = earlierFields(n);
        return marksFor(fieldsOf(c), ground(), 1, &earlier).size() >= 2;
    }

    /// Makes every later clamping share marks with an earlier one: by where it stands within its
    /// room, by another order where nothing lies over another, and else by clampings between that
    /// sew only marks.
    bool chained() {
        const auto before = sewnBefore(best.parts);
        std::vector<Clamped> open = std::move(clampings);
        int bridges = 0;
        clampings = {open.front()};
        open.erase(open.begin());
        while (!open.empty()) {
            std::size_t taken = open.size();
            for (std::size_t k = 0; k < open.size() && taken == open.size(); ++k)
                if (mayFollow(open, k, before) && joins(open[k])) taken = k;
            if (taken == open.size()) {
                if (++bridges > mostBridges) return false;
                if (!bridgeTo(open[0])) return false;
                continue;
            }
            clampings.push_back(open[taken]);
            open.erase(open.begin() + static_cast<std::ptrdiff_t>(taken));
        }
        return true;
    }

    /// Nothing that is still open must be sewn before the k-th of them.
    bool mayFollow(const std::vector<Clamped>& open, std::size_t k,
                   const std::vector<std::vector<std::size_t>>& before) const {
        PartSet waiting(best.parts.size());
        for (std::size_t i = 0; i < open.size(); ++i)
            if (i != k)
                for (const PartSet& w : open[i].wanted) waiting.unite(w);
        bool may = true;
        for (const PartSet& w : open[k].wanted)
            w.each([&](std::size_t i) {
                for (const std::size_t j : before[i]) may = may && !waiting.has(j);
            });
        return may;
    }

    bool joins(Clamped& c) {
        if (hasMarks(c, clampings.size())) return true;
        const Pose was = c.frame;
        for (const Clamped& earlier : clampings) {
            settle(c, Vec2{earlier.frame.x, earlier.frame.y});
            if (hasMarks(c, clampings.size())) return true;
        }
        c.frame = was;
        return false;
    }

    /// A clamping between the nearest earlier one and `c`, as far towards it as marks can be
    /// shared.
    bool bridgeTo(const Clamped& c) {
        const Vec2 goal{c.frame.x, c.frame.y};
        const Clamped* nearest = &clampings.front();
        const auto away = [&](const Clamped& x) { return distance({x.frame.x, x.frame.y}, goal); };
        for (const Clamped& x : clampings)
            if (away(x) < away(*nearest)) nearest = &x;
        const Vec2 from{nearest->frame.x, nearest->frame.y};
        Clamped bridge{best.candidates[c.candidate].hoop, {{}}, {}, c.frame, true};
        for (double t = 1; t > 0.05; t -= 0.05) {
            const Vec2 at = lerp(from, goal, t);
            bridge.frame.x = std::round(at.x);
            bridge.frame.y = std::round(at.y);
            if (!hasMarks(bridge, clampings.size())) continue;
            clampings.push_back(bridge);
            return true;
        }
        return false;
    }

    std::vector<PieceParts> partsIn(const PartSet& some, std::vector<std::string>& pieces) const {
        std::vector<PieceParts> parts;
        some.each([&](std::size_t i) {
            const Part& p = best.parts[i];
            if (pieces.empty() || pieces.back() != p.piece) {
                pieces.push_back(p.piece);
                parts.push_back({p.piece, {}});
            }
            parts.back().numbers.push_back(p.number);
        });
        std::erase_if(parts, [&](const PieceParts& p) {
            int of = 1;
            for (const Part& part : best.parts)
                if (part.piece == p.piece) of = part.of;
            return static_cast<int>(p.numbers.size()) == of;
        });
        return parts;
    }

    /// Frames stand where their rings press on nothing, if they have the room.
    void clearOfRings(Division& d) {
        if (d.clampings == 1 && job.cloth.forbiddenZones.empty() && job.cloth.thickZones.empty())
            return;
        Job planned = plannedJob(d);
        const auto sewn = hoopingLists(planned, library, &cache, stop);
        if (!sewn) return;
        clearRings(planned, *sewn, library, options.marginMm);
        d.hoopings = planned.hoopings;
    }

    Job plannedJob(const Division& d) const {
        return setHoopings(d.hoopings, 0, d.cuts).change(job);
    }

    /// What holds of any plan. Where something is cut other cuts might serve better, and of some
    /// frames not all places are tried: then only what no field and no frame spans counts.
    void setBounds(Division& d) const {
        const int keptHoopings = static_cast<int>(kept.size());
        const int hoopings = static_cast<int>(d.hoopings.size()) - keptHoopings;
        const bool exact =
            job.cuts.empty() && std::all_of(hoops.begin(), hoops.end(), placesAreExact);
        if (exact) {
            d.lowerBoundClampings = lowerBoundClampings;
            d.lowerBound = std::max(lowerBound, lowerBoundClampings);
        } else {
            d.lowerBoundClampings = fewestApart(best.parts, hoops, Span::frame);
            d.lowerBound =
                std::max(fewestApart(best.parts, hoops, Span::field), d.lowerBoundClampings);
        }
        d.provenMinimal =
            d.clampings - keptClampings == d.lowerBoundClampings &&
            (hoopings == d.lowerBound || (exact && hoopings == best.plan.leastHoopings));
        d.lowerBoundClampings += keptClampings;
        d.lowerBound += keptHoopings;
    }

    Division division() {
        Division d;
        std::vector<std::vector<std::size_t>> sewn;
        for (std::size_t n = 0; n < clampings.size(); ++n) {
            const Clamped& c = clampings[n];
            for (const auto& [stand, parts] : c.visits) {
                Hooping h;
                h.hoop = hoopOf(c).id;
                h.clamping = keptClampings + static_cast<int>(n) + 1;
                h.frame = c.frame;
                h.pose = poseOf(c, stand);
                h.pinned = isPinned(c);
                auto& numbers = sewn.emplace_back();
                if (!c.bridge) {
                    h.position = best.candidates[c.candidate].stands[stand].position;
                    h.parts = partsIn(parts, h.pieces);
                    parts.each([&](std::size_t i) { numbers.push_back(i); });
                }
                d.hoopings.push_back(std::move(h));
            }
        }
        markPlan(d.hoopings, library, ground(), options.method == Method::chain);
        d.hoopings.insert(d.hoopings.begin(), kept.begin(), kept.end());
        d.cuts = job.cuts;
        d.clampings = keptClampings + static_cast<int>(clampings.size());
        if (options.method != Method::chain) clearOfRings(d);
        setBounds(d);
        d.noise = placingNoise(job, options.method, library);
        // The frame that positions of one clamping differ by is that of the plan.
        for (const Clamped& c : clampings)
            if (c.visits.size() > 1)
                d.noise.frameMm = std::max(d.noise.frameMm, hoopOf(c).frameSigmaMm);
        if (options.placingSigmaMm) d.noise.markMm = *options.placingSigmaMm;
        if (!kept.empty()) {
            if (auto joins = forecastPlan(plannedJob(d), library, cache, stop))
                d.joins = std::move(*joins);
            d.predictedJoinRmsMm = rmsOf(d.joins);
            return d;
        }
        d.joins = forecastJoins(d.hoopings, joinsOf(d.hoopings, best.parts, sewn), options.method,
                                d.noise);
        d.predictedJoinRmsMm = d.clampings == 1 ? 0 : rmsOf(d.joins);
        return d;
    }

    Job job;
    StitchCache& cache;
    PartCache lists{cache};
    const DivideOptions& options;
    const Library& library;
    const std::stop_token& stop;
    std::vector<Hoop> hoops;
    std::vector<std::pair<std::size_t, Pose>> pinned; ///< hoop and frame
    std::vector<Hooping> kept;                        ///< of clampings that were begun
    int keptClampings = 0, lastKept = 0;
    std::map<std::string, std::set<int>> keptParts; ///< by id; 0 for the whole piece
    Apart apart;                                    ///< what falls into parts in any case
    Planned best;
    std::vector<Clamped> clampings;
    int lowerBound = 0, lowerBoundClampings = 0;
};

} // namespace

std::vector<std::string> Division::cutPieces() const {
    std::vector<std::string> ids;
    for (const Cut& c : cuts)
        if (std::find(ids.begin(), ids.end(), c.piece) == ids.end()) ids.push_back(c.piece);
    return ids;
}

Result<Division> divideIntoHoopings(const Job& job, StitchCache& cache,
                                    const DivideOptions& options, const Library& library,
                                    std::stop_token stop) {
    return Divider(job, cache, options, library, stop).run();
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
