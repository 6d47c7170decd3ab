// How the stitches of single pieces came out.

#include "load/load_findings.h"

#include "job/edit_weigh.h"
#include "job/stitching.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

// More short stitches than this share are worth a word.
constexpr double shortShare = 0.02;
// Rows farther apart than this many thread widths let the cloth be seen.
constexpr double gapeShare = 1.25;
// Of a satin, whose threads lie half a pitch apart, the pitch; the open triangles at its edges show
// before its middle does.
constexpr double satinGapeShare = 1.75;

/// With another decimal where both would read alike.
std::string widthText(double mm, double other) {
    return fmt::format("{:.{}f}", mm, std::abs(mm - other) < 0.1 ? 2 : 1);
}

class StitchJudge {
public:
    explicit StitchJudge(const WeighedJob& w) : weighed(w) {}

    std::vector<Finding> run() {
        for (const PieceFacts& facts : weighed.facts) {
            const Piece* piece = weighed.job.piece(facts.piece);
            if (!piece) continue;
            judgeLong(*piece, facts);
            judgeShort(*piece, facts);
            judgeGaping(*piece, facts);
            judgeColumns(*piece, facts);
            judgeRecognition(*piece);
        }
        return std::move(findings);
    }

private:
    Finding& add(Severity severity, const char* kind, const Piece& piece, Vec2 at, double value,
                 double limit, std::string text) {
        Finding f;
        f.severity = severity;
        f.kind = kind;
        f.at = at;
        f.value = value;
        f.limit = limit;
        f.text = std::move(text);
        f.pieces = {piece.id};
        findings.push_back(std::move(f));
        return findings.back();
    }

    static bool isResized(const Piece& piece) {
        return piece.pose.scaleX != 1 || piece.pose.scaleY != 1;
    }

    /// A satin of its own is too wide for the cloth.
    bool isWide(const Piece& piece, const PieceFacts& facts) const {
        return facts.columns && !std::holds_alternative<LetteringContent>(piece.content) &&
               facts.columns->most > weighed.fabric.mostColumnMm;
    }

    void judgeLong(const Piece& piece, const PieceFacts& facts) {
        if (facts.longStitches == 0) return;
        const bool unsewable = facts.longestMm > maxStitchMm;
        // That a satin is wide is said of the satin.
        if (!unsewable && isWide(piece, facts) && facts.longestMm < 1.3 * facts.columns->most)
            return;
        Finding& f = add(
            unsewable ? Severity::stop : Severity::caution, "long-stitches", piece, facts.longAt,
            facts.longestMm, unsewable ? maxStitchMm : snagStitchMm,
            unsewable ? fmt::format("{}: a stitch of {:.1f} mm cannot be sewn; the most is {} mm",
                                    piece.name, facts.longestMm, maxStitchMm)
                      : fmt::format("{}: {} stitches are longer than {:.1f} mm and may snag; the "
                                    "longest is {:.1f} mm",
                                    piece.name, facts.longStitches, snagStitchMm, facts.longestMm));
        if (isResized(piece) && facts.scaleX * facts.scaleY > 1 && piece.keep == Keep::stitches)
            f.cause = "It is enlarged with its stitches kept.";
        f.remediesOpen = true;
    }

    void judgeShort(const Piece& piece, const PieceFacts& facts) {
        const double share = facts.stitches ? static_cast<double>(facts.crowded.count) /
                                                  static_cast<double>(facts.stitches)
                                            : 0;
        if (share <= shortShare) return;
        Finding& f =
            add(Severity::caution, "short-stitches", piece, facts.crowded.at, share * 100,
                shortShare * 100,
                fmt::format("{}: {:.0f} % of the stitches are shorter than {:.1f} mm and may break "
                            "the thread",
                            piece.name, share * 100, shortStitchMm));
        f.advice = "Sew it larger or with a thinner thread, slowly, or lay those places "
                   "with longer stitches.";
        if (piece.keep != Keep::stitches || !isResized(piece)) return;
        f.cause = shrunkCause(piece);
        f.remediesOpen = true;
    }

    /// Open rows may be meant so; they are not if the scale made them.
    void judgeGaping(const Piece& piece, const PieceFacts& facts) {
        if (!facts.spacingNowMm || !facts.spacingThenMm || facts.mostly == MostlyLaid::runs) return;
        double width = 0.4;
        for (const PieceSpan& span : weighed.stitched.spans)
            if (span.source == piece.id && span.first < span.last)
                if (const Thread* t = weighed.stitched.list.find(
                        weighed.stitched.list.stitches[span.first].thread))
                    width = apparentWidthMm(t->weight);
        const bool satins = facts.mostly == MostlyLaid::satins;
        const double limit = (satins ? satinGapeShare : gapeShare) * width;
        const double k = *facts.spacingNowMm / *facts.spacingThenMm;
        if (*facts.spacingNowMm <= limit || k <= 1.05 || *facts.spacingThenMm > limit) return;
        Finding& f =
            add(Severity::caution, "gaping", piece,
                facts.peakAt.value_or(Vec2{piece.pose.x, piece.pose.y}), *facts.spacingNowMm, limit,
                fmt::format("{}: {} {:.2f} mm apart; over {:.2f} mm the cloth shows", piece.name,
                            satins ? "a satin's needle points on one side lie" : "rows lie",
                            *facts.spacingNowMm, limit));
        const double scale = std::sqrt(facts.scaleX * facts.scaleY);
        f.cause =
            piece.respacing.spacingMm || scale <= 1.005
                ? "It is laid with a wide row spacing."
                : fmt::format("It is enlarged to {:.0f} % and its rows went along.", 100 * scale);
        f.remediesOpen = true;
    }

    void judgeColumns(const Piece& piece, const PieceFacts& facts) {
        // Letters have findings of their own.
        if (!facts.columns || std::holds_alternative<LetteringContent>(piece.content)) return;
        const Fabric& fabric = weighed.fabric;
        const ColumnWidths& c = *facts.columns;
        constexpr double same = 0.97; // as measured
        if (c.least < same * fabric.leastColumnMm) {
            // A hair under the limit nobody sees; the limits are not that sharp.
            constexpr double hair = 0.92;
            const bool plainly = c.least < hair * fabric.leastColumnMm;
            Finding& f = add(plainly ? Severity::caution : Severity::note, "column-thin", piece,
                             c.leastAt, c.least, fabric.leastColumnMm,
                             fmt::format("{}: a satin is only {} mm wide; {} wants {} mm",
                                         piece.name, widthText(c.least, fabric.leastColumnMm),
                                         fabric.name, widthText(fabric.leastColumnMm, c.least)));
            f.cause = "Narrow columns sink into the cloth.";
            f.advice = "Sew that part as a run, draw it wider, or put a topper on the cloth.";
            const double factor = fabric.leastColumnMm / c.least * 1.01;
            if (factor < 2 && !piece.locked) {
                Pose larger = piece.pose;
                larger.scaleX *= factor;
                larger.scaleY *= factor;
                // Slanted crossings and what is sewn at a fixed width do not grow with it.
                Piece grown = piece;
                grown.pose = larger;
                const auto sewn = stitchPiece(grown);
                const auto now = sewn ? columnsOf(**sewn) : std::nullopt;
                if (now && now->least >= fabric.leastColumnMm)
                    f.remedies = {
                        {RemedyKind::size,
                         fmt::format("Enlarge {} to {:.0f} %", piece.name,
                                     100 * factor * std::sqrt(facts.scaleX * facts.scaleY)),
                         fmt::format("{:.2f} → {:.2f} mm", c.least, now->least),
                         setPose(piece.id, larger, "Enlarge " + piece.name), c.least, now->least}};
            }
        }
        if (isWide(piece, facts) && facts.longestMm <= maxStitchMm) {
            Finding& f =
                add(Severity::caution, "column-wide", piece, c.mostAt, c.most, fabric.mostColumnMm,
                    fmt::format("{}: a satin is {:.1f} mm wide; on {} over {:.1f} mm may "
                                "snag",
                                piece.name, c.most, fabric.name, fabric.mostColumnMm));
            f.cause = "Long loose stitches catch.";
            f.advice = "Sew it as a fill, or divide it along its length.";
            f.remediesOpen = true;
        }
    }

    void judgeRecognition(const Piece& piece) {
        const auto unknown = unrecognisedIn(piece);
        if (!unknown) return;
        Finding& f = add(
            Severity::note, "unrecognised", piece, piece.pose.unscaled().affine()(unknown->at),
            static_cast<double>(unknown->stitches), 0,
            fmt::format("{}: {} stitches in {} could not be recognised and were "
                        "scaled as they are",
                        piece.name, unknown->stitches,
                        unknown->stretches == 1 ? "one stretch"
                                                : fmt::format("{} stretches", unknown->stretches)));
        f.cause = "They are neither satin nor fill nor a run.";
    }

    const WeighedJob& weighed;
    std::vector<Finding> findings;
};

} // namespace

std::vector<Finding> stitchFindings(const WeighedJob& weighed) {
    return StitchJudge(weighed).run();
}

} // namespace rapt
