// Other spacings and lengths for findings about single stitches and lines of needle points.

#include "job/edit_weigh.h"
#include "load/perforation.h"
#include "load/remedies.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

// Wider rows than this show the cloth, but may be better than a tear.
constexpr double widestSpacingMm = 0.9;

/// The stitches of the piece laid with other options.
Result<std::shared_ptr<const StitchList>> laidWith(const Piece& piece,
                                                   const RespaceOptions& options) {
    Piece tried = piece;
    tried.keep = Keep::spacing;
    tried.respacing = options;
    return stitchPiece(tried);
}

Remedy respacing(RemedyKind kind, std::string label, std::string effect, const Piece& piece,
                 const RespaceOptions& options, double before, double after) {
    return {kind, std::move(label), std::move(effect), setRespacing({piece.id}, options), before,
            after};
}

std::vector<Remedy> dividing(const Piece& piece, const Finding& finding, double longest) {
    if (!std::holds_alternative<DesignContent>(piece.content)) return {};
    RespaceOptions divided = piece.respacing;
    divided.longestMm = longest;
    const auto after = laidWith(piece, divided);
    if (!after) return {};
    const double left = measure(**after).longestMm;
    if (left > longest + 0.01) return {};
    return {respacing(RemedyKind::spacing,
                      fmt::format("Divide the long stitches of {}", piece.name),
                      fmt::format("{:.1f} → {:.1f} mm", *finding.value, left), piece, divided,
                      *finding.value, left)};
}

std::vector<Remedy> fewerShort(const Piece& piece, const Finding& finding) {
    const bool resized = piece.pose.scaleX != 1 || piece.pose.scaleY != 1;
    if (piece.keep != Keep::stitches || !resized) return {};
    const auto after = laidWith(piece, {});
    const Measures m = after ? measure(**after) : Measures{};
    if (m.stitches == 0) return {};
    const double left = 100 * static_cast<double>(crowdedShortStitches(**after).count) /
                        static_cast<double>(m.stitches);
    if (left >= *finding.value) return {};
    return {respacing(RemedyKind::respace, fmt::format("Respace {}", piece.name),
                      fmt::format("{:.0f} → {:.0f} % short stitches", *finding.value, left), piece,
                      {}, *finding.value, left)};
}

std::vector<Remedy> closerRows(const WeighedJob& weighed, const Piece& piece,
                               const Finding& finding) {
    for (const PieceFacts& facts : weighed.facts) {
        if (facts.piece != piece.id || !facts.spacingThenMm) continue;
        const auto after = laidWith(piece, {});
        const Measures m = after ? measure(**after) : Measures{};
        if (m.stitches <= facts.stitches) return {};
        return {respacing(RemedyKind::respace, fmt::format("Respace {}", piece.name),
                          fmt::format("{:.2f} → {:.2f} mm, {} stitches more", *finding.value,
                                      *facts.spacingThenMm, m.stitches - facts.stitches),
                          piece, {}, *finding.value, *facts.spacingThenMm)};
    }
    return {};
}

/// A wider spacing of the piece if that brings the line under the limit.
std::vector<Remedy> openLine(const Piece& piece, const Finding& finding) {
    const auto list = stitchPiece(piece);
    const auto spacing = list ? medianRowSpacing(**list) : std::nullopt;
    if (!spacing) return {};
    RespaceOptions options = piece.respacing;
    options.spacingMm = std::ceil(*spacing * *finding.value / *finding.limit * 105) / 100;
    options.spacingShare = 1;
    if (*options.spacingMm > widestSpacingMm) return {};
    const auto after = laidWith(piece, options);
    if (!after) return {};
    const auto lines = perforatedLines(**after, *finding.limit);
    const double left = lines.empty() ? *finding.limit : lines[0].hitsPerMm;
    if (!lines.empty() && left >= *finding.value) return {};
    return {respacing(
        RemedyKind::spacing, fmt::format("Lay {} at {:.2f} mm", piece.name, *options.spacingMm),
        lines.empty() ? "no perforated line left"
                      : fmt::format("{:.1f} → {:.1f} needle points per mm", *finding.value, left),
        piece, options, *finding.value, left)};
}

} // namespace

std::vector<Remedy> stitchRemedies(const WeighedJob& weighed, const Finding& finding) {
    const Piece* piece = finding.pieces.empty() ? nullptr : weighed.job.piece(finding.pieces[0]);
    if (!piece || piece->locked || !finding.value || !finding.limit) return {};
    if (finding.kind == "long-stitches") return dividing(*piece, finding, snagStitchMm);
    if (finding.kind == "column-wide")
        return dividing(*piece, finding, std::max(1.0, weighed.fabric.mostColumnMm));
    if (finding.kind == "short-stitches") return fewerShort(*piece, finding);
    if (finding.kind == "gaping") return closerRows(weighed, *piece, finding);
    if (finding.kind == "perforated") return openLine(*piece, finding);
    return {};
}

} // namespace rapt
