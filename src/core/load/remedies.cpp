#include "load/remedies.h"

#include "job/edit_weigh.h"
#include "thread/measures.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

// Moving farther than this is a new layout, not a remedy.
constexpr double farthestMoveMm = 60;
constexpr double moveStepMm = 0.5;
constexpr std::size_t mostRemedies = 4;
// A remedy that leaves more than this share of the load does not help.
constexpr double mostLeft = 0.8;
// Wider rows than this show the cloth.
constexpr double widestSpacingMm = 0.6;

struct Candidate {
    std::string label;
    Edit edit;
};

double scaleOf(const Piece& piece) {
    return std::sqrt(std::abs(piece.pose.scaleX * piece.pose.scaleY));
}

class RemedyFinder {
public:
    RemedyFinder(const WeighedJob& w, const OverloadedPatch& p, LoadKind k, const LoadLimits& l,
                 const std::vector<Contribution>& c, StitchCache* known, std::stop_token t)
        : weighed(w), job(w.job), patch(p), kind(k), limits(l), parts(c),
          cache(known ? *known : own), stop(std::move(t)) {}

    std::vector<Remedy> run() {
        addRespacing();
        addRelief();
        addSpacing();
        addMoves();
        addRuns();
        addEnlarging();
        std::vector<Remedy> remedies, helping;
        for (Candidate& c : candidates) {
            if (stop.stop_requested() || remedies.size() >= mostRemedies) break;
            // One move and one size are enough.
            const std::string sort = c.label.substr(0, c.label.find(' '));
            if (std::any_of(remedies.begin(), remedies.end(),
                            [&](const Remedy& r) { return r.label.starts_with(sort + " "); }))
                continue;
            auto tried = tryOut(c.edit);
            if (!tried) continue;
            const bool mends = tried->peak <= patch.limit;
            (mends ? remedies : helping).push_back({c.label, tried->effect, std::move(c.edit)});
        }
        // What only helps is offered where nothing mends.
        if (remedies.empty() && !helping.empty()) remedies.push_back(std::move(helping.front()));
        return remedies;
    }

private:
    const Piece* densest() const { return job.piece(parts[0].piece); }

    /// Thinning one piece helps where that piece alone brings most of the thread.
    bool oneBringsMost() const {
        double sum = 0;
        for (const Contribution& c : parts) sum += c.layers;
        return parts[0].layers > 0.6 * sum;
    }

    void addRespacing() {
        for (const Contribution& c : parts) {
            const Piece* piece = job.piece(c.piece);
            if (!piece || piece->locked) continue;
            const bool resized = piece->pose.scaleX != 1 || piece->pose.scaleY != 1;
            const bool kept = piece->keep == Keep::stitches || piece->respacing.spacingShare < 1 ||
                              piece->respacing.spacingMm;
            if (resized && kept)
                candidates.push_back({fmt::format("Respace {}", piece->name),
                                      setRespacing({piece->id}, RespaceOptions{})});
        }
    }

    /// What lies below the uppermost of the pieces here gives way.
    void addRelief() {
        std::vector<std::string> below;
        std::string names, top;
        for (const Piece& piece : job.pieces) {
            const bool here = std::any_of(parts.begin(), parts.end(), [&](const Contribution& c) {
                return c.piece == piece.id;
            });
            if (!here) continue;
            top = piece.name;
            if (!piece.relief && !piece.locked) below.push_back(piece.id);
        }
        if (parts.size() < 2 || below.empty()) return;
        for (const std::string& id : below) {
            const std::string& name = job.piece(id)->name;
            if (name != top) names += (names.empty() ? "" : " and ") + name;
        }
        if (names.empty()) return;
        Relief relief;
        relief.tuckMm = weighed.fabric.tuckMm;
        candidates.push_back(
            {fmt::format("Relieve {} below {}", names, top), setRelief(below, relief)});
    }

    void addSpacing() {
        const Piece* piece = densest();
        if (!piece || piece->locked || !oneBringsMost()) return;
        const double ratio = patch.peak / patch.limit;
        if (std::holds_alternative<ShapeContent>(piece->content)) {
            candidates.push_back({fmt::format("Open the spacing of {}", piece->name),
                                  openSpacing(piece->id, 1.05 * ratio)});
            return;
        }
        if (!std::holds_alternative<DesignContent>(piece->content)) return;
        for (const PieceFacts& facts : weighed.facts) {
            if (facts.piece != piece->id || !facts.spacingNowMm) continue;
            for (const double more : {1.05, 1.3}) {
                RespaceOptions options = piece->respacing;
                options.spacingMm = std::ceil(*facts.spacingNowMm * ratio * more * 100) / 100;
                options.spacingShare = 1;
                if (*options.spacingMm > widestSpacingMm) break;
                candidates.push_back(
                    {fmt::format("Lay {} at {:.2f} mm", piece->name, *options.spacingMm),
                     setRespacing({piece->id}, options)});
            }
        }
    }

    /// Moves of the uppermost piece that bring its box off the patch, least first.
    void addMoves() {
        if (parts.size() < 2) return;
        for (auto it = job.pieces.rbegin(); it != job.pieces.rend(); ++it) {
            const bool here = std::any_of(parts.begin(), parts.end(),
                                          [&](const Contribution& c) { return c.piece == it->id; });
            if (!here) continue;
            if (it->locked) return;
            for (const PieceSpan& span : weighed.stitched.spans)
                if (span.source == it->id && span.copy == 1 && !span.outline)
                    addMovesOf(*it, span.extents);
            return;
        }
    }

    void addMovesOf(const Piece& top, const Box& extents) {
        const Box clear = patch.box.grown(windowMm / 2);
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
            candidates.push_back({fmt::format("Move {} {:.1f} mm {}", top.name, mm, way.word),
                                  movePieces({top.id}, way.by * mm)});
        }
    }

    /// The thread run that brings most, of a design that has several.
    void addRuns() {
        for (const Contribution& c : parts) {
            const Piece* piece = job.piece(c.piece);
            if (!piece || piece->locked || !std::holds_alternative<DesignContent>(piece->content))
                continue;
            const auto runs = runContributionsAt(weighed.stitched, c.piece, patch.at);
            if (runs.size() < 2 || !piece->leftOutRuns.empty()) continue;
            const Thread* thread = weighed.stitched.list.find(runs[0].thread);
            candidates.push_back(
                {fmt::format("Leave out {} of {}", thread ? thread->name : "a thread", piece->name),
                 leaveOutRun(c.piece, runs[0].run, true)});
        }
    }

    /// Larger again where a design was shrunk and its stitches are to be kept.
    void addEnlarging() {
        const Piece* piece = densest();
        if (!piece || piece->locked || !oneBringsMost() || piece->keep != Keep::stitches) return;
        const double scale = scaleOf(*piece), ratio = patch.peak / patch.limit;
        if (scale >= 0.995) return;
        // Columns and overlaps thin out more slowly than single rows: larger steps are tried too.
        for (const double power : {1.0, 1.5, 2.0, 3.0}) {
            const double factor = std::min(1.02 * std::pow(ratio, power), 1 / scale);
            Pose larger = piece->pose;
            larger.scaleX *= factor;
            larger.scaleY *= factor;
            candidates.push_back(
                {fmt::format("Enlarge {} to {:.0f} %", piece->name, 100 * scale * factor),
                 setPose(piece->id, larger, "Enlarge " + piece->name)});
            if (factor * scale >= 1) break;
        }
    }

    double peakOf(const LoadMap& map, Cell c) const {
        return kind == LoadKind::layers ? map.layers(c) : map.hits(c);
    }

    /// Worst share of the limit among the pieces that touch a region.
    std::optional<LoadMap> mapOver(const StitchedJob& stitched, const Box& region) const {
        StitchList list;
        list.threads = stitched.list.threads;
        for (const PieceSpan& span : stitched.spans)
            if (span.extents.overlaps(region))
                list.stitches.insert(
                    list.stitches.end(),
                    stitched.list.stitches.begin() + static_cast<std::ptrdiff_t>(span.first),
                    stitched.list.stitches.begin() + static_cast<std::ptrdiff_t>(span.last));
        auto map = LoadMap::measure(list, stop);
        if (!map) return std::nullopt;
        return std::move(*map);
    }

    /// Where the edit changed anything.
    Box changedBox(const StitchedJob& after) const {
        Box region = patch.box;
        const auto differs = [](const StitchedJob& a, const PieceSpan& x, const StitchedJob& b,
                                const PieceSpan& y) {
            return x.last - x.first != y.last - y.first || !(x.extents == y.extents) ||
                   !std::equal(a.list.stitches.begin() + static_cast<std::ptrdiff_t>(x.first),
                               a.list.stitches.begin() + static_cast<std::ptrdiff_t>(x.last),
                               b.list.stitches.begin() + static_cast<std::ptrdiff_t>(y.first),
                               [](const Stitch& s, const Stitch& t) {
                                   return s.x == t.x && s.y == t.y && s.op == t.op;
                               });
        };
        for (const PieceSpan& now : after.spans)
            for (const PieceSpan& was : weighed.stitched.spans)
                if (was.id == now.id && differs(weighed.stitched, was, after, now)) {
                    region.add(was.extents);
                    region.add(now.extents);
                }
        return region.grown(windowMm);
    }

    double worstShare(const LoadMap& map, const Box& region) const {
        double worst = 0;
        for (const OverloadedPatch& p : overloadedPatches(map, kind, limits))
            if (p.box.overlaps(region)) worst = std::max(worst, p.peak / p.limit);
        return worst;
    }

    struct Tried {
        double peak = 0; ///< left at the patch
        std::string effect;
    };

    /// What an edit brings, in words and numbers; nothing if it hardly helps.
    std::optional<Tried> tryOut(const Edit& edit) {
        const Job changed = edit.change(job);
        const auto after = stitchJob(changed, &cache, stop);
        if (!after) return std::nullopt;
        const Box region = changedBox(*after);
        const auto map = mapOver(*after, region);
        if (!map) return std::nullopt;
        const Cell low = cellAt({patch.box.minX, patch.box.minY});
        const Cell high = cellAt({patch.box.maxX, patch.box.maxY});
        double here = 0;
        for (int j = low.j; j <= high.j; ++j)
            for (int i = low.i; i <= high.i; ++i) here = std::max(here, peakOf(*map, {i, j}));
        if (here > patch.limit && here > mostLeft * patch.peak) return std::nullopt;
        if (worstShare(*map, region) > std::max(1.0, worstShare(weighed.map, region)) + 1e-6)
            return std::nullopt;
        return Tried{here, effectText(here, *after)};
    }

    std::string effectText(double here, const StitchedJob& after) const {
        std::string text = kind == LoadKind::layers
                               ? fmt::format("{:.1f} → {:.1f} layers", patch.peak, here)
                               : fmt::format("{:.1f} → {:.1f} hits per mm²", patch.peak, here);
        const auto was = static_cast<long long>(measure(weighed.stitched.list).stitches);
        const auto is = static_cast<long long>(measure(after.list).stitches);
        if (was != is)
            text +=
                fmt::format(", {} stitches {}", std::abs(was - is), is < was ? "fewer" : "more");
        return text;
    }

    const WeighedJob& weighed;
    const Job& job;
    const OverloadedPatch& patch;
    LoadKind kind;
    const LoadLimits& limits;
    const std::vector<Contribution>& parts;
    StitchCache own;
    StitchCache& cache;
    std::stop_token stop;
    std::vector<Candidate> candidates;
};

} // namespace

std::vector<Remedy> findRemedies(const WeighedJob& weighed, const OverloadedPatch& patch,
                                 LoadKind kind, const LoadLimits& limits,
                                 const std::vector<Contribution>& parts, StitchCache* cache,
                                 std::stop_token stop) {
    if (parts.empty()) return {};
    return RemedyFinder(weighed, patch, kind, limits, parts, cache, std::move(stop)).run();
}

void addPerforationRemedy(const Job& job, const PerforatedLine& line, double limit,
                          const std::string& pieceId, Finding& finding) {
    const Piece* piece = job.piece(pieceId);
    if (!piece || piece->locked) return;
    const auto list = stitchPiece(*piece);
    const auto spacing = list ? medianRowSpacing(**list) : std::nullopt;
    if (!spacing) return;
    RespaceOptions options = piece->respacing;
    options.spacingMm = std::ceil(*spacing * line.hitsPerMm / limit * 105) / 100;
    options.spacingShare = 1;
    if (*options.spacingMm > 1.5 * widestSpacingMm) return;
    Piece tried = *piece;
    tried.respacing = options;
    tried.keep = Keep::spacing;
    const auto after = stitchPiece(tried);
    if (!after) return;
    const auto left = perforatedLines(**after, limit);
    if (!left.empty() && left[0].hitsPerMm >= line.hitsPerMm) return;
    finding.remedy = Remedy{fmt::format("Lay {} at {:.2f} mm", piece->name, *options.spacingMm),
                            left.empty() ? "no perforated line left"
                                         : fmt::format("{:.1f} → {:.1f} needle points per mm",
                                                       line.hitsPerMm, left[0].hitsPerMm),
                            setRespacing({piece->id}, options)};
}

} // namespace rapt
