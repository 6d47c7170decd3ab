#include "load/remedy_candidates.h"

#include "job/edit_lettering.h"
#include "job/edit_weigh.h"
#include "letter/faces.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

// Moving farther than this is a new layout, not a remedy.
constexpr double farthestMoveMm = 60;
constexpr double moveStepMm = 0.5;
// Wider rows than this show the cloth.
constexpr double widestSpacingMm = 0.6;
// Sizes and faces that are tried for words.
constexpr double largerWords[] = {1.15, 1.3, 1.6, 2.0};
constexpr std::size_t mostFaces = 3;

class Candidates {
public:
    Candidates(const WeighedJob& w, const OverloadedPlace& p)
        : weighed(w), job(w.job), place(p), parts(p.parts) {}

    std::vector<RemedyCandidate> find() {
        addRespacing();
        addRelief();
        addThinnerWords();
        addSpacing();
        addMoves();
        addRuns();
        addEnlarging();
        addOtherWords();
        return std::move(candidates);
    }

private:
    /// Words that bring a good part of the load.
    template<class Visit>
    void eachWords(Visit visit) const {
        for (const Contribution& c : parts) {
            const Piece* piece = job.piece(c.piece);
            const Lettering* words = piece ? letteringOf(job, piece->id) : nullptr;
            if (words && !piece->locked && c.layers > 0.4 * place.peak) visit(*piece, *words);
        }
    }
    /// Less below the letters, and less where their strokes meet.
    void addThinnerWords() {
        const double most = weighed.fabric.maxLayers;
        eachWords([&](const Piece& piece, const Lettering& words) {
            if (words.underlay)
                candidates.push_back({RemedyKind::thinWords,
                                      fmt::format("Lighter underlay in {}", piece.name),
                                      changeLettering(piece.id, "Lighter underlay",
                                                      [](Lettering& l) { l.underlay = false; })});
            if (words.mostLayers == 0 || words.mostLayers > most - 0.3)
                candidates.push_back(
                    {RemedyKind::thinWords,
                     fmt::format("Less overlap where strokes of {} meet", piece.name),
                     changeLettering(piece.id, "Less overlap of strokes", [most](Lettering& l) {
                         l.underlay = false;
                         l.mostLayers = std::max(2.0, most - 0.4);
                     })});
        });
    }
    /// A size or a face from which they are good.
    void addOtherWords() {
        eachWords([&](const Piece& piece, const Lettering& words) {
            const double k = sizeFactor(piece);
            for (const double larger : largerWords) {
                const double cap = std::ceil(words.capHeightMm * larger * k * 2) / 2;
                candidates.push_back(
                    {RemedyKind::size, fmt::format("Letter {} {:.1f} mm high", piece.name, cap),
                     changeLettering(piece.id, "Letter it larger",
                                     [cap, k](Lettering& l) { l.capHeightMm = cap / k; })});
            }
            std::size_t tried = 0;
            for (const FaceRecord& face : faceShelf().faces) {
                if (face.id == words.face || face.joined != isJoined(words.face)) continue;
                if (tried++ == mostFaces) break;
                candidates.push_back(
                    {RemedyKind::face, fmt::format("Set {} in {}", piece.name, face.name),
                     changeLettering(piece.id, "Another face",
                                     [id = face.id](Lettering& l) { l.face = id; })});
            }
        });
    }

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
                candidates.push_back({RemedyKind::respace, fmt::format("Respace {}", piece->name),
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
        candidates.push_back({RemedyKind::relieve, fmt::format("Relieve {} below {}", names, top),
                              setRelief(below, relief)});
    }

    void addSpacing() {
        const Piece* piece = densest();
        if (!piece || piece->locked || !oneBringsMost()) return;
        const double ratio = place.peak / place.limit;
        if (std::holds_alternative<ShapeContent>(piece->content)) {
            candidates.push_back({RemedyKind::spacing,
                                  fmt::format("Open the spacing of {}", piece->name),
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
                    {RemedyKind::spacing,
                     fmt::format("Lay {} at {:.2f} mm", piece->name, *options.spacingMm),
                     setRespacing({piece->id}, options)});
            }
        }
    }

    /// Moves of the uppermost piece that bring its box off the patch, then off all that lies there,
    /// least first.
    void addMoves() {
        if (parts.size() < 2) return;
        for (auto it = job.pieces.rbegin(); it != job.pieces.rend(); ++it) {
            const bool here = std::any_of(parts.begin(), parts.end(),
                                          [&](const Contribution& c) { return c.piece == it->id; });
            if (!here) continue;
            if (it->locked) return;
            Box others;
            for (const PieceSpan& span : weighed.stitched.spans)
                if (span.source != it->id && span.extents.overlaps(place.box))
                    others.add(span.extents);
            for (const PieceSpan& span : weighed.stitched.spans)
                if (span.source == it->id && span.copy == 1 && !span.outline) {
                    addMovesOf(*it, span.extents, place.box);
                    addMovesOf(*it, span.extents, others);
                }
            return;
        }
    }

    void addMovesOf(const Piece& top, const Box& extents, const Box& off) {
        const Box clear = off.grown(windowMm / 2);
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
            candidates.push_back({RemedyKind::move,
                                  fmt::format("Move {} {:.1f} mm {}", top.name, mm, way.word),
                                  movePieces({top.id}, way.by * mm)});
        }
    }

    /// The thread run that brings most, of a design that has several.
    void addRuns() {
        for (const Contribution& c : parts) {
            const Piece* piece = job.piece(c.piece);
            if (!piece || piece->locked || !std::holds_alternative<DesignContent>(piece->content))
                continue;
            const auto runs = runContributionsAt(weighed.stitched, c.piece, place.at);
            if (runs.size() < 2 || runs[0].run == 0) continue;
            const Thread* thread = weighed.stitched.list.find(runs[0].thread);
            candidates.push_back(
                {RemedyKind::leaveOutRun,
                 fmt::format("Leave out {} of {}", thread ? thread->name : "a thread", piece->name),
                 leaveOutRun(c.piece, runs[0].run, true)});
        }
    }

    /// Larger again where a design was shrunk and its stitches are to be kept.
    void addEnlarging() {
        const Piece* piece = densest();
        if (!piece || piece->locked || !oneBringsMost() || piece->keep != Keep::stitches) return;
        const double scale = piece->pose.meanScale(), ratio = place.peak / place.limit;
        if (scale >= 0.995) return;
        // Columns and overlaps thin out more slowly than single rows: larger steps are tried too.
        for (const double power : {1.0, 1.5, 2.0, 3.0}) {
            const double factor = std::min(1.02 * std::pow(ratio, power), 1 / scale);
            Pose larger = piece->pose;
            larger.scaleX *= factor;
            larger.scaleY *= factor;
            candidates.push_back(
                {RemedyKind::size,
                 fmt::format("Enlarge {} to {:.0f} %", piece->name, 100 * scale * factor),
                 setPose(piece->id, larger, "Enlarge " + piece->name)});
            if (factor * scale >= 1) break;
        }
    }

    const WeighedJob& weighed;
    const Job& job;
    const OverloadedPlace& place;
    const std::vector<Contribution>& parts;
    std::vector<RemedyCandidate> candidates;
};

} // namespace

std::vector<RemedyCandidate> remedyCandidates(const WeighedJob& weighed,
                                              const OverloadedPlace& place) {
    if (place.parts.empty()) return {};
    return Candidates(weighed, place).find();
}

} // namespace rapt
