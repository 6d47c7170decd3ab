#include "load/remedies.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

// Moving farther than this is a new layout, not a remedy.
constexpr double farthestMoveMm = 60;
constexpr double moveStepMm = 0.5;

struct Candidate {
    std::string label;
    Edit edit;
};

/// The highest load of the changed job inside a box, and in all, against the limits.
struct Outcome {
    double here = 0;
    double worstRatio = 0;
};

std::optional<Outcome> tryOut(const Job& changed, const Box& box, const LoadLimits& limits,
                              std::stop_token stop) {
    const auto stitched = stitchJob(changed, nullptr, stop);
    if (!stitched) return std::nullopt;
    const auto map = LoadMap::measure(stitched->list, stop);
    if (!map) return std::nullopt;
    Outcome outcome;
    const Cell low = cellAt({box.minX, box.minY});
    const Cell high = cellAt({box.maxX, box.maxY});
    for (int j = low.j; j <= high.j; ++j)
        for (int i = low.i; i <= high.i; ++i)
            outcome.here = std::max(outcome.here, map->layers({i, j}));
    const auto patches = overloadedPatches(*map, LoadKind::layers, limits);
    if (!patches.empty()) outcome.worstRatio = patches[0].peak / patches[0].limit;
    return outcome;
}

void addScaleCandidates(const Piece& piece, double ratio, std::vector<Candidate>& list) {
    if (std::holds_alternative<ShapeContent>(piece.content)) {
        const bool resized = piece.pose.scaleX != 1 || piece.pose.scaleY != 1;
        if (piece.keep == Keep::stitches && resized)
            list.push_back(
                {fmt::format("Respace {}", piece.name), setKeep(piece.id, Keep::spacing)});
        list.push_back({fmt::format("Open the spacing of {}", piece.name),
                        openSpacing(piece.id, 1.05 * ratio)});
        return;
    }
    const double scale = std::sqrt(std::abs(piece.pose.scaleX * piece.pose.scaleY));
    if (scale >= 0.995) return;
    // Columns and overlaps thin out more slowly than single rows, so larger steps are tried too.
    for (const double power : {1.0, 1.5, 2.0, 3.0}) {
        const double factor = std::min(1.02 * std::pow(ratio, power), 1 / scale);
        Pose larger = piece.pose;
        larger.scaleX *= factor;
        larger.scaleY *= factor;
        list.push_back({fmt::format("Enlarge {} to {:.0f} %", piece.name, 100 * scale * factor),
                        setPose(piece.id, larger, "Enlarge " + piece.name)});
        if (factor * scale >= 1) break;
    }
}

/// Moves of the uppermost piece that bring its box off the patch, least first.
void addMoves(const Piece& top, const Box& extents, const Box& patch,
              std::vector<Candidate>& list) {
    const Box clear = patch.grown(windowMm / 2);
    struct Way {
        double mm;
        Vec2 by;
        const char* word;
    };
    std::vector<Way> ways{{clear.maxX - extents.minX, {1, 0}, "right"},
                          {extents.maxX - clear.minX, {-1, 0}, "left"},
                          {clear.maxY - extents.minY, {0, 1}, "towards you"},
                          {extents.maxY - clear.minY, {0, -1}, "away from you"}};
    std::sort(ways.begin(), ways.end(), [](const Way& a, const Way& b) { return a.mm < b.mm; });
    for (const Way& way : ways) {
        if (way.mm > farthestMoveMm) break;
        const double mm = std::ceil(way.mm / moveStepMm) * moveStepMm;
        list.push_back({fmt::format("Move {} {:.1f} mm {}", top.name, mm, way.word),
                        movePieces({top.id}, way.by * mm)});
    }
}

std::vector<Candidate> candidates(const Job& job, const OverloadedPatch& patch,
                                  const std::vector<Contribution>& parts) {
    std::vector<Candidate> list;
    const Piece* densest = job.piece(parts[0].piece);
    const double ratio = patch.peak / patch.limit;
    // Thinning one piece helps where that piece alone brings most of the thread.
    if (densest && parts[0].layers > 0.6 * patch.peak) addScaleCandidates(*densest, ratio, list);
    if (parts.size() < 2) return list;
    for (auto it = job.pieces.rbegin(); it != job.pieces.rend(); ++it) {
        const bool here = std::any_of(parts.begin(), parts.end(),
                                      [&](const Contribution& c) { return c.piece == it->id; });
        if (!here) continue;
        const auto alone = stitchPieces({&*it}, Affine{});
        if (alone) addMoves(*it, alone->spans[0].extents, patch.box, list);
        break;
    }
    return list;
}

} // namespace

std::optional<Remedy> findRemedy(const Job& job, const OverloadedPatch& patch,
                                 const LoadLimits& limits, const std::vector<Contribution>& parts,
                                 std::stop_token stop) {
    if (parts.empty()) return std::nullopt;
    const double before = patch.peak / patch.limit;
    for (Candidate& c : candidates(job, patch, parts)) {
        if (stop.stop_requested()) break;
        const auto outcome = tryOut(c.edit.change(job), patch.box, limits, stop);
        if (!outcome || outcome->here > patch.limit || outcome->worstRatio > before + 1e-6)
            continue;
        return Remedy{c.label, fmt::format("{:.1f} → {:.1f} layers", patch.peak, outcome->here),
                      std::move(c.edit)};
    }
    return std::nullopt;
}

} // namespace rapt
