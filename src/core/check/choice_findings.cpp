#include "check/choice_findings.h"

#include "estimate/work.h"
#include "job/span_list.h"
#include "letter/spelling.h"
#include "relieve/cover.h"
#include "relieve/region.h"
#include "thread/measures.h"
#include "thread/palette.h"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace rapt {
namespace {

// CIEDE2000: thread and cloth that differ by less look alike at arm's length.
constexpr double alike = 5;
constexpr double hidingLayers = 0.7;
// So much of it must lie on bare cloth to be worth a word.
constexpr double leastBareMm = 30, leastBareShare = 0.3;
// A needle's blade by the thread's apparent width: less, and the thread frays in the eye; more, and
// the hole stays open beside it.
constexpr double thinBlade = 1.5, thickBlade = 3.3;
// Cloth that gives by so many percent is drawn together without a stabilizer; into pile of such a
// thickness stitches sink without a topper.
constexpr double givingPercent = 2, pileMm = 2;

std::string nameOf(const Job& job, const std::string& id) {
    const Piece* p = job.piece(id);
    return p ? p->name : id;
}

/// Names, three at most.
std::string namesOf(const Job& job, const std::vector<std::string>& ids) {
    std::vector<std::string> names;
    for (std::size_t i = 0; i < ids.size() && i < 3; ++i) names.push_back(nameOf(job, ids[i]));
    return fmt::format("{}{}", fmt::join(names, ", "), ids.size() > 3 ? ", …" : "");
}

class ChoiceJudge {
public:
    ChoiceJudge(const WeighedJob& w, StitchCache& c) : weighed(w), job(w.job), cache(c) {}

    std::vector<Finding> run() {
        judgeColours();
        const bool anyMirrored = std::any_of(job.pieces.begin(), job.pieces.end(), isMirrored);
        for (const Piece& p : job.pieces) {
            if (p.hidden || !anyMirrored) continue;
            if (std::holds_alternative<LetteringContent>(p.content))
                judgeBackwards(p);
            else
                judgeMirrored(p);
        }
        judgeSpelling();
        judgeNeedle();
        judgeLayers();
        return std::move(findings);
    }

private:
    void add(const char* kind, std::vector<std::string> pieces, std::string text, std::string cause,
             std::string advice, std::vector<Remedy> remedies = {}) {
        Finding f;
        f.severity = Severity::caution;
        f.kind = kind;
        f.text = std::move(text);
        f.cause = std::move(cause);
        f.advice = std::move(advice);
        f.pieces = std::move(pieces);
        f.remedies = std::move(remedies);
        for (const PieceSpan& span : weighed.stitched.spans)
            if (!f.at && !f.pieces.empty() && span.source == f.pieces.front() &&
                !span.extents.empty())
                f.at = span.extents.centre();
        findings.push_back(std::move(f));
    }

    bool isFaint(std::uint8_t thread) const {
        const Thread* t = weighed.stitched.list.find(thread);
        return t && colourDifference(t->color, job.cloth.color) < alike;
    }

    /// Thread of the cloth's colour where nothing else lies below or above it.
    void judgeColours() {
        for (const Thread& thread : weighed.stitched.list.threads) {
            if (!isFaint(thread.index)) continue;
            std::vector<std::string> pieces;
            double bare = 0;
            for (const PieceSpan& span : weighed.stitched.spans) {
                if (span.outline) continue; // to cut or to hold by, not to be seen
                const double mm = bareMm(span, thread.index);
                bare += mm;
                if (mm > 0 && (pieces.empty() || pieces.back() != span.source))
                    pieces.push_back(span.source);
            }
            if (bare < leastBareMm) continue;
            const double difference = colourDifference(thread.color, job.cloth.color);
            add("thread-hidden", pieces,
                fmt::format("{}: {} will hardly show on this cloth, its colour is {} away",
                            namesOf(job, pieces), thread.name.empty() ? "the thread" : thread.name,
                            difference < 1 ? "less than a step"
                                           : fmt::format("{:.0f} steps", difference)),
                "Such threads show by their sheen alone.",
                "Choose another thread, or leave it so if it is meant tone on tone.");
            findings.back().value = difference;
            findings.back().limit = alike;
        }
    }

    /// Of a thread in a span what lies on bare cloth; nothing where most of it does not.
    double bareMm(const PieceSpan& span, std::uint8_t thread) {
        std::vector<const Region*> around;
        bool looked = false;
        double all = 0, bare = 0;
        const StitchList part = listOf(weighed.stitched, span);
        walkStitches(part.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = part.stitches[i];
            if (s.thread != thread || !from) return;
            if (!std::exchange(looked, true)) around = coversAt(span);
            const double mm = spanMm(*from, s);
            const Vec2 middle = lerp(from->at(), s.at(), 0.5);
            all += mm;
            if (std::none_of(around.begin(), around.end(),
                             [&](const Region* r) { return r->contains(middle); }))
                bare += mm;
        });
        return bare >= leastBareShare * all ? bare : 0;
    }

    /// What covers the cloth in colours that show, where a span lies; each span's worked out once.
    std::vector<const Region*> coversAt(const PieceSpan& span) {
        const auto& spans = weighed.stitched.spans;
        covers.resize(spans.size());
        std::vector<const Region*> found;
        for (std::size_t k = 0; k < spans.size(); ++k) {
            if (!spans[k].extents.overlaps(span.extents)) continue;
            if (!covers[k]) {
                StitchList list = listOf(weighed.stitched, spans[k]);
                std::erase_if(list.stitches, [&](const Stitch& s) { return isFaint(s.thread); });
                covers[k] = std::make_unique<const Region>(
                    list.stitches.empty() ? Contours() : denseCover(list, hidingLayers));
            }
            if (!covers[k]->empty()) found.push_back(covers[k].get());
        }
        return found;
    }

    /// The piece the right way round, its middle and its turn kept.
    Edit turnedOver(const Piece& piece) const {
        Pose pose = piece.pose;
        if (pose.mirror)
            pose.mirror = false;
        else if (pose.scaleX < 0 || pose.scaleY < 0)
            (pose.scaleX < 0 ? pose.scaleX : pose.scaleY) *= -1;
        else
            pose.mirror = true;
        if (const auto list = cache.stitch(piece)) {
            const Vec2 middle = extentsOf(**list).centre();
            const Vec2 by =
                piece.pose.unscaled().affine()(middle) - pose.unscaled().affine()(middle);
            pose.x += by.x;
            pose.y += by.y;
        }
        return setPose(piece.id, pose, "The right way round");
    }

    static bool isMirrored(const Piece& p) { return p.pose.affine().determinant() < 0; }

    void judgeBackwards(const Piece& p) {
        if (!isMirrored(p)) return;
        add("backwards", {p.id}, p.name + " is mirrored: its words read backwards", {}, {},
            {{RemedyKind::face, "Set it the right way round", "reads forwards", turnedOver(p)}});
    }

    /// The same stitches at the same size.
    bool sameDesign(const Piece& a, const Piece& b) const {
        const auto x = cache.stitch(a), y = cache.stitch(b);
        return x && y && (*x == *y || (*x)->stitches == (*y)->stitches);
    }

    /// One of several alike that lies the other way. Two that face each other are a pair, and where
    /// as many lie this way as that it is a pattern.
    void judgeMirrored(const Piece& p) {
        if (job.repeatOf(p.id)) return;
        std::size_t others = 0;
        for (const Piece& q : job.pieces) {
            if (&q == &p || q.hidden || q.content.index() != p.content.index() || !sameDesign(p, q))
                continue;
            if (isMirrored(q) == isMirrored(p) || job.repeatOf(q.id)) return;
            ++others;
        }
        if (others < 2) return;
        add("mirrored-copy", {p.id},
            fmt::format("{} is mirrored, unlike {} others of the same design", p.name, others), {},
            "Leave it so if it is meant.",
            {{RemedyKind::face, "Set it as the others", "as the others", turnedOver(p)}});
    }

    void judgeSpelling() {
        std::vector<std::string> words, ids;
        for (const Piece& p : job.pieces)
            if (const auto* l = std::get_if<LetteringContent>(&p.content); l && !p.hidden) {
                words.push_back(l->lettering->text);
                ids.push_back(p.id);
            }
        for (const auto& [a, b] : spelledTwoWays(words))
            add("spelling", {ids[b], ids[a]},
                fmt::format("“{}” and “{}” look like one name in two spellings", words[a],
                            words[b]),
                {}, "Ask which one is right, or leave both if they are two.");
    }

    void judgeNeedle() {
        const std::string& needle = weighed.fabric.needle;
        int hundredths = 0;
        const auto read = std::from_chars(needle.data(), needle.data() + needle.size(), hundredths);
        if (read.ec != std::errc() || hundredths < 30 || hundredths > 200) return;
        const double blade = hundredths / 100.0;
        for (const bool thin : {true, false}) {
            std::vector<std::string> names;
            double wanted = 0;
            for (const Thread& t : weighed.stitched.list.threads) {
                const double width = apparentWidthMm(t.weight);
                if (thin ? blade >= thinBlade * width - 1e-9 : blade <= thickBlade * width)
                    continue;
                names.push_back(fmt::format("{} (No. {:g})", t.name, t.weight));
                wanted = std::max(wanted, width);
            }
            if (names.empty()) continue;
            if (names.size() > 3) names.resize(3);
            add(thin ? "needle-thin" : "needle-thick", {},
                fmt::format("A needle {} is too {} for {}", needle, thin ? "thin" : "thick",
                            fmt::join(names, ", ")),
                thin ? "The thread frays and breaks in a narrow eye."
                     : "The holes stay open beside so thin a thread.",
                fmt::format("Take one of about {:.0f}, as the makers of thread and machine say.",
                            std::round((thin ? thinBlade : 2.4) * wanted * 20) * 5));
            findings.back().value = blade;
            findings.back().limit = (thin ? thinBlade : thickBlade) * wanted;
        }
    }

    void judgeLayers() {
        const Fabric& cloth = weighed.fabric;
        if (weighed.stitched.list.stitches.empty()) return;
        if (cloth.stabilizer.empty() && cloth.usualStretchPercent >= givingPercent)
            add("stabilizer-missing", {},
                fmt::format("{} gives by {:g} % and no stabilizer is named for it", cloth.name,
                            cloth.usualStretchPercent),
                "Stitches draw such cloth together.",
                "Name one in its record, a cut-away as a rule.");
        const bool top = !cloth.topper.empty() ||
                         cloth.stabilizer.find("top") != std::string::npos ||
                         cloth.stabilizer.find("film") != std::string::npos;
        if (!top && cloth.thicknessMm >= pileMm)
            add("topper-missing", {},
                fmt::format("{} is {:g} mm thick and no topper is named for it", cloth.name,
                            cloth.thicknessMm),
                "Stitches sink into pile.",
                "Name one in its record, a water-soluble film as a rule.");
    }

    const WeighedJob& weighed;
    const Job& job;
    StitchCache& cache;
    std::vector<std::unique_ptr<const Region>> covers; ///< by span; null until asked for
    std::vector<Finding> findings;
};

/// Bobbin thread from the bobbin that is in.
class Bobbin {
public:
    explicit Bobbin(double fullMm) : full(fullMm) {}
    double leftMm() const { return full - used; }
    void renew() { used = 0; }

    /// Sews a list; gives the stitch (from 1) at which it is empty, 0 if it lasts. A planned stop
    /// is where it is changed.
    std::size_t sew(const StitchList& list) {
        std::size_t count = 0, empty = 0;
        const Stitch* last = nullptr;
        bool cut = true;
        for (const Stitch& s : list.stitches) {
            if (s.op == Op::stop) renew();
            if (s.op == Op::trim) cut = true;
            if (s.op != Op::stitch) continue;
            const bool begins = cut || !last || last->thread != s.thread;
            used += begins ? 2 * threadEndMm : spanMm(*last, s);
            cut = false;
            last = &s;
            ++count;
            if (used > full && empty == 0) empty = count;
        }
        return empty;
    }

private:
    double full, used = 0;
};

} // namespace

std::vector<Finding> choiceFindings(const WeighedJob& weighed, StitchCache& cache) {
    return ChoiceJudge(weighed, cache).run();
}

std::vector<Finding> bobbinFindings(const Job& job, const std::vector<HoopingList>& lists,
                                    const Machine& machine) {
    std::vector<Finding> findings;
    std::vector<std::string> before;
    Bobbin bobbin(machine.bobbinM * 1000);
    for (std::size_t i = 0; i < lists.size() && i < job.hoopings.size(); ++i) {
        Bobbin trial = bobbin;
        std::size_t empty = trial.sew(lists[i].list);
        if (empty > 0 && i > 0) {
            before.push_back(std::to_string(i + 1));
            bobbin.renew();
            trial = bobbin;
            empty = trial.sew(lists[i].list);
        }
        if (empty > 0) {
            Finding f;
            f.severity = Severity::caution;
            f.kind = "bobbin-short";
            f.pieces = job.hoopings[i].pieces;
            f.text =
                fmt::format("Hooping {} takes more than a full bobbin of {:g} m: it is empty at "
                            "about stitch {} of {}",
                            i + 1, machine.bobbinM, empty, lists[i].stitches);
            f.advice = "Plan a stop before it and have a full bobbin ready.";
            f.value = static_cast<double>(empty);
            findings.push_back(std::move(f));
            trial = Bobbin(machine.bobbinM * 1000);
        }
        bobbin = trial;
    }
    if (!before.empty()) {
        Finding f;
        f.kind = "bobbin-change";
        f.text = fmt::format("Put a full bobbin in before hooping{} {}: what is left on it would "
                             "not last",
                             before.size() == 1 ? "" : "s", fmt::join(before, ", "));
        findings.push_back(std::move(f));
    }
    return findings;
}

} // namespace rapt
