// Places of the cloth that want care, and moves of the needle.

#include "load/load_findings.h"

#include "geometry/ways.h"
#include "job/edit_weigh.h"
#include "job/span_list.h"
#include "relieve/cover.h"
#include "relieve/region.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

// A cover over a seam is judged from this length and density on.
constexpr double leastSeamMm = 4, seamLayers = 0.7;
// Loose thread between two stitches is worth a word from this length on.
constexpr double looseMm = 12;
// What the order sets where nothing else is asked for.
constexpr double usualTrimMm = 3;
constexpr double clearMm = 1;
constexpr double farthestMoveMm = 80;

class ClothJudge {
public:
    explicit ClothJudge(const WeighedJob& w) : weighed(w) {}

    std::vector<Finding> run() {
        for (const ForbiddenZone& zone : weighed.job.cloth.forbiddenZones) judgeForbidden(zone);
        for (const ThickZone& zone : weighed.job.cloth.thickZones) judgeThick(zone);
        for (const GuideLine& guide : weighed.job.cloth.guides)
            if (guide.seam) judgeSeam(guide);
        judgeJumps();
        return std::move(findings);
    }

private:
    /// How many penetrations of a span lie in a zone, and the first.
    std::pair<std::size_t, Vec2> hitsIn(const PieceSpan& span, const ClothZone& zone) const {
        std::size_t hits = 0;
        Vec2 at;
        if (!span.extents.overlaps(zone.box())) return {0, at};
        for (std::size_t i = span.first; i < span.last; ++i) {
            const Stitch& s = weighed.stitched.list.stitches[i];
            if (s.op == Op::stitch && zone.contains(s.at()) && hits++ == 0) at = s.at();
        }
        return {hits, at};
    }

    /// Where thread of a span lies across a zone without a needle point in it; nothing if none
    /// does.
    std::optional<Vec2> threadAcross(const PieceSpan& span, const ClothZone& zone) const {
        constexpr double stepMm = 0.25;
        const Box box = zone.box();
        if (!span.extents.overlaps(box)) return {};
        const Stitch* last = nullptr;
        for (std::size_t i = span.first; i < span.last; ++i) {
            const Stitch& s = weighed.stitched.list.stitches[i];
            if (s.op == Op::trim) last = nullptr;
            if (s.op != Op::stitch) continue;
            if (const Stitch* from = std::exchange(last, &s)) {
                const Vec2 a = from->at(), b = s.at();
                Box way;
                way.add(a);
                way.add(b);
                if (!way.overlaps(box)) continue;
                const int steps = static_cast<int>(distance(a, b) / stepMm) + 1;
                for (int k = 1; k < steps; ++k)
                    if (const Vec2 p = lerp(a, b, double(k) / steps); zone.contains(p)) return p;
            }
        }
        return {};
    }

    std::string nameOf(const PieceSpan& span) const {
        const Piece* p = weighed.job.piece(span.source);
        std::string name = p ? p->name : span.source;
        if (span.copy > 1) name += fmt::format(", copy {}", span.copy);
        return name;
    }

    Finding begin(Severity severity, const char* kind, const PieceSpan& span, Vec2 at) const {
        Finding f;
        f.severity = severity;
        f.kind = kind;
        f.at = at;
        f.pieces = {span.source};
        return f;
    }

    /// Every place that a moved piece should be off.
    std::vector<Box> obstacles() const {
        std::vector<Box> boxes;
        for (const ForbiddenZone& z : weighed.job.cloth.forbiddenZones) boxes.push_back(z.box());
        for (const ThickZone& z : weighed.job.cloth.thickZones) boxes.push_back(z.box());
        for (const GuideLine& g : weighed.job.cloth.guides)
            if (g.seam) boxes.push_back(boundsOf(g.line));
        return boxes;
    }

    /// The moves along the cloth's edges, and both together, that may clear a box of obstacles, the
    /// shortest first; rounded up to half millimetres.
    static std::vector<Vec2> waysOff(const Box& e, const std::vector<Box>& boxes) {
        std::vector<double> xs{0}, ys{0};
        const auto add = [](std::vector<double>& list, double mm) {
            list.push_back(std::copysign(std::ceil(std::abs(mm) * 2) / 2, mm));
        };
        for (const Box& box : boxes) {
            const Box clear = box.grown(clearMm);
            if (!clear.overlaps(e)) continue;
            add(xs, clear.maxX - e.minX);
            add(xs, clear.minX - e.maxX);
            add(ys, clear.maxY - e.minY);
            add(ys, clear.minY - e.maxY);
        }
        std::vector<Vec2> ways;
        for (const double x : xs)
            for (const double y : ys)
                if (x != 0 || y != 0) ways.push_back({x, y});
        std::sort(ways.begin(), ways.end(), [](Vec2 a, Vec2 b) { return length(a) < length(b); });
        return ways;
    }

    /// The shortest move on the cloth that brings a piece off a place and off every other one; if
    /// there is none, off that place alone.
    std::vector<Remedy> moveOff(const PieceSpan& span, const Box& place) const {
        const Piece* piece = weighed.job.piece(span.source);
        if (!piece || piece->locked || weighed.job.repeatOf(span.source) || span.outline) return {};
        const Box& e = span.extents;
        const Box cloth = weighed.job.cloth.box();
        for (const auto& [boxes, effect] : {std::pair{obstacles(), "off every such place"},
                                            std::pair{std::vector<Box>{place}, "off that place"}})
            for (const Vec2 by : waysOff(e, boxes)) {
                const Box moved{e.minX + by.x, e.minY + by.y, e.maxX + by.x, e.maxY + by.y};
                const bool onCloth = moved.minX >= cloth.minX && moved.maxX <= cloth.maxX &&
                                     moved.minY >= cloth.minY && moved.maxY <= cloth.maxY;
                const bool clear = std::none_of(boxes.begin(), boxes.end(),
                                                [&](const Box& b) { return b.overlaps(moved); });
                if (!onCloth || !clear || place.overlaps(moved) || length(by) > farthestMoveMm)
                    continue;
                return {{RemedyKind::move, fmt::format("Move {} {}", piece->name, wayText(by)),
                         effect, movePieces({piece->id}, by)}};
            }
        return {};
    }

    void judgeForbidden(const ForbiddenZone& zone) {
        for (const PieceSpan& span : weighed.stitched.spans) {
            const std::string place = zone.name.empty() ? "a forbidden place" : zone.name;
            const auto [hits, at] = hitsIn(span, zone);
            if (hits == 0) {
                if (const auto across = threadAcross(span, zone)) {
                    Finding f = begin(Severity::caution, "thread-across", span, *across);
                    f.text = fmt::format("{}: thread lies across {}, where nothing may be sewn",
                                         nameOf(span), place);
                    f.cause = "It holds shut what should open, and is cut by it.";
                    f.remedies = moveOff(span, zone.box());
                    findings.push_back(std::move(f));
                }
                continue;
            }
            Finding f = begin(Severity::stop, "forbidden-zone", span, at);
            f.value = static_cast<double>(hits);
            f.limit = 0;
            f.text = fmt::format("{}: {} needle points on {}, where nothing may be sewn",
                                 nameOf(span), hits, place);
            f.cause = "A needle that hits something hard breaks; pieces of it can fly: wear eye "
                      "protection.";
            f.remedies = moveOff(span, zone.box());
            findings.push_back(std::move(f));
        }
    }

    void judgeThick(const ThickZone& zone) {
        for (const PieceSpan& span : weighed.stitched.spans) {
            const auto [hits, at] = hitsIn(span, zone);
            if (hits == 0) continue;
            Finding f = begin(Severity::caution, "thick-zone", span, at);
            f.value = zone.limitFactor;
            f.text = fmt::format("{} lies on a thick place: it takes {:.1f} layers there",
                                 nameOf(span), weighed.fabric.maxLayers * zone.limitFactor);
            f.cause = "Sew slowly there, with a stronger needle, as the maker's instructions say.";
            f.remedies = moveOff(span, zone.box());
            findings.push_back(std::move(f));
        }
    }

    void judgeSeam(const GuideLine& seam) {
        const Box box = boundsOf(seam.line);
        for (const PieceSpan& span : weighed.stitched.spans) {
            if (!span.extents.grown(0.1).overlaps(box)) continue;
            const StitchList list = listOf(weighed.stitched, span);
            const Region cover(denseCover(list, seamLayers));
            double covered = 0;
            Vec2 at;
            Box over;
            for (std::size_t i = 1; i < seam.line.size(); ++i) {
                const double inside = cover.insideMm(seam.line[i - 1], seam.line[i]);
                if (inside <= 0) continue;
                covered += inside;
                at = lerp(seam.line[i - 1], seam.line[i], 0.5);
                over.add(seam.line[i - 1]);
                over.add(seam.line[i]);
            }
            if (covered < leastSeamMm) continue;
            Finding f = begin(Severity::caution, "seam-cover", span, span.extents.nearest(at));
            f.value = covered;
            f.limit = leastSeamMm;
            f.text = fmt::format("{} covers {:.0f} mm of {}", nameOf(span), covered,
                                 seam.name.empty() ? "a seam" : seam.name);
            f.cause = "Dense cover over the step of a seam pulls sideways and breaks needles.";
            f.remedies = moveOff(span, over);
            findings.push_back(std::move(f));
        }
    }

    void judgeJumps() {
        const double limit = weighed.job.trimOverMm.value_or(looseMm);
        const Stitch* needle = nullptr;
        bool cut = true;
        std::size_t count = 0;
        double longest = 0;
        Vec2 at;
        for (const Stitch& s : weighed.stitched.list.stitches) {
            if (s.op == Op::trim) cut = true;
            if (s.op == Op::jump && needle && !cut) {
                const double size = spanMm(*needle, s);
                count += size > limit;
                if (size > longest) {
                    longest = size;
                    at = lerp(needle->at(), s.at(), 0.5);
                }
            }
            if (s.op == Op::stitch) cut = false;
            if (s.op == Op::jump || s.op == Op::stitch) needle = &s;
        }
        if (count == 0) return;
        Finding f;
        f.severity = Severity::caution;
        f.kind = "long-jumps";
        f.at = at;
        f.value = longest;
        f.limit = limit;
        f.text =
            fmt::format("{} without a trim; the longest leaves {:.0f} mm of loose thread",
                        count == 1 ? "One jump is" : fmt::format("{} jumps are", count), longest);
        f.remedies = {{RemedyKind::trim, fmt::format("Trim moves over {:.0f} mm", usualTrimMm),
                       fmt::format("{} loose threads fewer", count), setTrimOver(usualTrimMm)}};
        findings.push_back(std::move(f));
    }

    const WeighedJob& weighed;
    std::vector<Finding> findings;
};

} // namespace

std::vector<Finding> clothFindings(const WeighedJob& weighed) { return ClothJudge(weighed).run(); }

} // namespace rapt
