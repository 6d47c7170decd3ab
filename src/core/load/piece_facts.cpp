#include "load/piece_facts.h"

#include "job/span_list.h"
#include "respace/stretches.h"
#include "thread/measures.h"

#include <algorithm>

namespace rapt {
namespace {

// Shorter columns say nothing of the width that a design has.
constexpr std::size_t leastCrossings = 8;

/// Bare stitches as they came, neither resized nor thinned.
bool isAsMade(const Piece& piece) {
    return std::holds_alternative<DesignContent>(piece.content) && piece.pose.scaleX == 1 &&
           piece.pose.scaleY == 1 && piece.respacing == RespaceOptions{} &&
           piece.leftOutRuns.empty() && !piece.relief;
}

/// Row spacing of a piece as it was made.
std::optional<double> madeSpacing(const Piece& piece) {
    if (const auto* design = std::get_if<DesignContent>(&piece.content))
        return medianRowSpacing(*design->list);
    Piece asMade = piece;
    asMade.pose.scaleX = asMade.pose.scaleY = 1;
    asMade.respacing = {};
    const auto list = stitchPiece(asMade);
    return list ? medianRowSpacing(**list) : std::nullopt;
}

void addPeak(const StitchList& own, const LoadMap& all, PieceFacts& facts) {
    const auto map = LoadMap::measure(own);
    if (!map) return;
    for (const LoadMap::Tile& tile : map->tiles())
        for (std::size_t k = 0; k < tile.layers.size(); ++k) {
            if (tile.layers[k] < 0.05f) continue;
            const Cell cell{tile.first.i + static_cast<int>(k % LoadMap::tileCells),
                            tile.first.j + static_cast<int>(k / LoadMap::tileCells)};
            const double here = all.layers(cell);
            if (here <= facts.peakLayers) continue;
            facts.peakLayers = here;
            facts.peakAt = cell.centre();
        }
}

void addLengths(const StitchList& list, PieceFacts& facts) {
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        ++facts.stitches;
        const Stitch& s = list.stitches[i];
        if (!from) return;
        const double size = spanMm(*from, s);
        facts.shortStitches += size > 0 && size < shortStitchMm;
        facts.longStitches += size > snagStitchMm;
        if (size <= facts.longestMm) return;
        facts.longestMm = size;
        facts.longAt = lerp(from->at(), s.at(), 0.5);
    });
}

/// Of chains that were recognised already.
std::optional<ColumnWidths> columnsOf(const std::vector<SewnChain>& chains) {
    std::optional<ColumnWidths> widths;
    for (const SewnChain& chain : chains)
        for (const SewnStretch& s : chain.stretches) {
            if (s.kind != StretchKind::satin || s.under || s.rows.size() < leastCrossings) continue;
            std::vector<double> sizes;
            for (const SewnRow& row : s.rows)
                sizes.push_back(distance(chain.rowFrom(row), chain.rowTo(row)));
            const auto middle = sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2);
            std::nth_element(sizes.begin(), middle, sizes.end());
            const SewnRow& row = s.rows[s.rows.size() / 2];
            const Vec2 at = lerp(chain.rowFrom(row), chain.rowTo(row), 0.5);
            if (!widths) widths = ColumnWidths{*middle, *middle, at, at};
            if (*middle < widths->least) {
                widths->least = *middle;
                widths->leastAt = at;
            }
            if (*middle > widths->most) {
                widths->most = *middle;
                widths->mostAt = at;
            }
        }
    return widths;
}

MostlyLaid mostlyLaid(const std::vector<SewnChain>& chains) {
    std::array<double, 3> thread{};
    for (const SewnChain& chain : chains)
        for (const SewnStretch& s : chain.stretches) {
            if (s.under) continue;
            const MostlyLaid kind = s.kind == StretchKind::satin  ? MostlyLaid::satins
                                    : s.kind == StretchKind::fill ? MostlyLaid::fills
                                                                  : MostlyLaid::runs;
            for (std::size_t i = s.first + 1; i <= s.last; ++i)
                thread[static_cast<std::size_t>(kind)] +=
                    distance(chain.points[i - 1], chain.points[i]);
        }
    return static_cast<MostlyLaid>(std::max_element(thread.begin(), thread.end()) - thread.begin());
}

} // namespace

CrowdedStitches crowdedShortStitches(const StitchList& list) {
    constexpr double harmlessMm = 0.25; // under it needle points fall together
    CrowdedStitches crowded;
    bool before = false; // the stitch before is short and waits for one beside it
    bool counted = false;
    Vec2 waiting;
    const auto count = [&](Vec2 at) {
        if (crowded.count++ == 0) crowded.at = at;
    };
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        const Stitch& s = list.stitches[i];
        const double size = from ? spanMm(*from, s) : 0;
        const bool isShort = size > 0 && size < shortStitchMm;
        if (isShort) {
            const bool alone = !before && size >= harmlessMm;
            if (before && !counted) count(waiting);
            if (!alone) count(s.at());
            counted = !alone;
            waiting = s.at();
        }
        before = isShort;
    });
    return crowded;
}

std::optional<ColumnWidths> columnsOf(const StitchList& list) {
    return columnsOf(recogniseStretches(list));
}

std::vector<PieceFacts> pieceFacts(const Job& job, const StitchedJob& stitched, const LoadMap& map,
                                   std::stop_token stop) {
    std::vector<PieceFacts> all;
    for (const PieceSpan& span : stitched.spans) {
        if (stop.stop_requested()) return {};
        if (span.outline || span.copy != 1) continue;
        const Piece* piece = job.piece(span.source);
        if (!piece) continue;
        // A job of one piece is not copied, and its peak is known.
        const bool alone = stitched.spans.size() == 1;
        const StitchList own = alone ? StitchList{} : listOf(stitched, span);
        const StitchList& list = alone ? stitched.list : own;
        PieceFacts facts;
        facts.piece = piece->id;
        facts.widthMm = span.extents.width();
        facts.heightMm = span.extents.height();
        facts.scaleX = std::abs(piece->pose.scaleX);
        facts.scaleY = std::abs(piece->pose.scaleY);
        facts.spacingNowMm = medianRowSpacing(list);
        facts.spacingThenMm = isAsMade(*piece) ? facts.spacingNowMm : madeSpacing(*piece);
        const std::vector<SewnChain> chains = recogniseStretches(list);
        facts.columns = columnsOf(chains);
        facts.mostly = mostlyLaid(chains);
        facts.crowded = crowdedShortStitches(list);
        addLengths(list, facts);
        if (alone) {
            facts.peakLayers = map.summary().peakLayers;
            facts.peakAt = map.summary().peakLayersAt;
        } else {
            addPeak(list, map, facts);
        }
        all.push_back(std::move(facts));
    }
    return all;
}

} // namespace rapt
