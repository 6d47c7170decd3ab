#include "divide/near_miss.h"

#include "divide/candidates.h"
#include "divide/frames.h"
#include "divide/sewing_plan.h"
#include "geometry/ways.h"
#include "job/hooping_name.h"
#include "place/sizing.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr double slacksMm[] = {2, 4, 7, 11, 17, 25};
constexpr double leastShrink = 0.92, mostTurnDeg = 6;
constexpr std::size_t mostMisses = 3, mostMoved = 2;
constexpr double trySeconds = 0.4;

class MissSeeker {
public:
    MissSeeker(const Job& j, StitchCache& c, const DivideOptions& o, const Library& l,
               const Division& d, const std::stop_token& s)
        : job(j), cache(c), options(o), library(l), now(d), stop(s) {}

    std::vector<NearMiss> run() {
        PartCache partCache(cache);
        const auto all = partsOf(job, partCache, {}, stop);
        if (!all || now.clampings < 2) return {};
        parts = *all;
        before = sewnBefore(parts);
        for (const double slack : slacksMm) {
            if (found.size() >= mostMisses || stop.stop_requested()) break;
            withMoreRoom(slack);
        }
        return std::move(found);
    }

private:
    /// What would do with fields that are larger by `slack` on every side, made to do with the
    /// fields as they are.
    void withMoreRoom(double slack) {
        std::vector<Hoop> larger = options.hoops;
        for (Hoop& h : larger) {
            h.widthMm += 2 * slack;
            h.heightMm += 2 * slack;
        }
        const auto candidates = placings(larger, parts, options.marginMm, stop);
        PartSet reached(parts.size());
        for (const Candidate& c : candidates) reached.unite(c.all);
        if (reached.count() < parts.size()) return;
        const SewingPlan plan =
            planSewing(parts.size(), before, candidates, {trySeconds, {}}, stop);
        if (plan.clampings >= now.clampings) return;
        Job changed = job;
        std::vector<Edit> edits;
        std::string words;
        for (const PlannedStand& s : plan.stands) {
            if (!bringIn(candidates[s.candidate], s, edits, words)) return;
            if (edits.size() > mostMoved) return;
        }
        if (edits.empty()) return;
        const Edit edit = together("Hoop once less", edits);
        prove(edit, words);
    }

    const Hoop& hoopOf(const Candidate& c) const { return options.hoops[c.hoop]; }

    /// Moves (or shrinks, or turns) what sticks out of the real field of one stand into it.
    bool bringIn(const Candidate& c, const PlannedStand& s, std::vector<Edit>& edits,
                 std::string& words) const {
        const Hoop& hoop = hoopOf(c);
        if (hoop.shape != Hoop::Shape::rect) return false;
        const FramePosition& position =
            hoop.positions[static_cast<std::size_t>(c.stands[s.stand].position - 1)];
        const double turn = c.frame.rotationDeg + position.turnDeg;
        const double w = hoop.widthMm - 2 * options.marginMm;
        const double h = hoop.heightMm - 2 * options.marginMm;
        std::vector<std::size_t> group;
        s.parts.each([&](std::size_t i) { group.push_back(i); });
        const auto seen = [&](std::size_t i) {
            Box box;
            for (const Vec2& v : parts[i].hull) box.add(turned(v, -turn));
            return box;
        };
        Box all;
        for (const std::size_t i : group) all.add(seen(i));
        if (all.width() <= w && all.height() <= h) return true;
        // The one that sticks out furthest by itself: without it the others need less room.
        std::optional<std::size_t> mover;
        Vec2 least{1e9, 1e9};
        for (const std::size_t i : group) {
            Box others;
            for (const std::size_t k : group)
                if (k != i) others.add(seen(k));
            const auto by =
                others.empty() ? std::optional<Vec2>() : moveInto(seen(i), others, w, h);
            if (!by || length(*by) >= length(least) || !movable(i)) continue;
            least = *by;
            mover = i;
        }
        if (!mover) return group.size() == 1 && shrinkOrTurn(group[0], w, h, turn, edits, words);
        const auto up = [](double v) { return std::copysign(std::ceil(std::abs(v) * 2) / 2, v); };
        const Vec2 by = turned(least, turn);
        const Vec2 rounded{std::abs(by.x) < 1e-9 ? 0 : up(by.x),
                           std::abs(by.y) < 1e-9 ? 0 : up(by.y)};
        if (length(rounded) > slacksMm[std::size(slacksMm) - 1] || crowds(*mover, rounded))
            return false;
        const Piece* piece = job.piece(parts[*mover].piece);
        edits.push_back(movePieces({piece->id}, rounded));
        say(words, fmt::format("move {} {}", piece->name, wayText(rounded)));
        return true;
    }

    bool movable(std::size_t i) const {
        const Piece* p = job.piece(parts[i].piece);
        return p && p->id == parts[i].piece && !p->locked && !p->outline && !job.repeatOf(p->id);
    }

    /// The least move of a box so that it and the others go into one field.
    static std::optional<Vec2> moveInto(const Box& box, const Box& others, double w, double h) {
        const auto along = [](double low, double high, double otherLow, double otherHigh,
                              double size) -> std::optional<double> {
            if (otherHigh - otherLow > size || high - low > size) return std::nullopt;
            if (high - otherLow > size) return otherLow + size - high;
            if (otherHigh - low > size) return otherHigh - size - low;
            return 0.0;
        };
        const auto x = along(box.minX, box.maxX, others.minX, others.maxX, w);
        const auto y = along(box.minY, box.maxY, others.minY, others.maxY, h);
        if (!x || !y) return std::nullopt;
        return Vec2{*x, *y};
    }

    bool crowds(std::size_t i, Vec2 by) const {
        const Box& b = parts[i].box;
        const Box moved{b.minX + by.x, b.minY + by.y, b.maxX + by.x, b.maxY + by.y};
        for (std::size_t k = 0; k < parts.size(); ++k)
            if (k != i && parts[k].box.grown(0.5).overlaps(moved) && !parts[k].box.overlaps(b))
                return true;
        const Box cloth = job.cloth.box();
        return moved.minX < cloth.minX || moved.maxX > cloth.maxX || moved.minY < cloth.minY ||
               moved.maxY > cloth.maxY;
    }

    bool shrinkOrTurn(std::size_t i, double w, double h, double turn, std::vector<Edit>& edits,
                      std::string& words) const {
        if (!movable(i)) return false;
        const Piece* piece = job.piece(parts[i].piece);
        for (double degrees = 1; degrees <= mostTurnDeg; degrees += 1)
            for (const double way : {degrees, -degrees}) {
                Box box;
                for (const Vec2& v : parts[i].hull) box.add(turned(v, way - turn));
                if (box.width() > w || box.height() > h) continue;
                edits.push_back(turnPieces({piece->id}, way, parts[i].box.centre()));
                say(words, fmt::format("turn {} by {:g}°", piece->name, way));
                return true;
            }
        Box box;
        for (const Vec2& v : parts[i].hull) box.add(turned(v, -turn));
        const double k =
            std::floor(1000 * std::min(w / box.width(), h / box.height()) * 0.999) / 1000;
        if (k < leastShrink || k >= 1) return false;
        edits.push_back(scalePieces({piece->id}, k, parts[i].box.centre(), "Shrink it a little"));
        say(words, fmt::format("shrink {} to {:.1f} %", piece->name, 100 * k));
        return true;
    }

    static void say(std::string& words, const std::string& more) {
        words += words.empty() ? more : " and " + more;
    }

    void prove(const Edit& edit, const std::string& words) {
        DivideOptions quick = options;
        quick.seconds = 2 * trySeconds;
        const auto after = divideIntoHoopings(edit.change(job), cache, quick, library, stop);
        if (!after || after->clampings >= now.clampings) return;
        for (const NearMiss& m : found)
            if (m.clampings <= after->clampings) return;
        found.push_back({fmt::format("{}: hooped {} instead of {}", sentence(words),
                                     timesText(after->clampings), timesText(now.clampings)),
                         {words, edit.change},
                         after->clampings});
    }

    const Job& job;
    StitchCache& cache;
    const DivideOptions& options;
    const Library& library;
    const Division& now;
    const std::stop_token& stop;
    std::vector<Part> parts;
    std::vector<std::vector<std::size_t>> before;
    std::vector<NearMiss> found;
};

} // namespace

std::vector<NearMiss> nearMisses(const Job& job, StitchCache& cache, const DivideOptions& options,
                                 const Library& library, const Division& division,
                                 std::stop_token stop) {
    return MissSeeker(job, cache, options, library, division, stop).run();
}

} // namespace rapt
