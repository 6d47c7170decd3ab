#include "load/load_findings.h"

#include "load/perforation.h"
#include "load/probe.h"

#include <fmt/format.h>
#include <limits>
#include <map>

namespace rapt {
namespace {

// A piece is a cause of an overloaded place from this share of what lies there on.
constexpr double causeShare = 0.15;
// Of what is worth a caution: less in all is not worth a word.
constexpr double leastShare = 0.3;
// Of the most holes in a line: from here on a caution, from here on a stop.
constexpr double perforationCaution = 1.12, perforationStop = 1.35;
// From so many places on it pays to sort the stitches by place first.
constexpr std::size_t manyPatches = 6;

std::string joinNames(const Job& job, const std::vector<Contribution>& parts) {
    std::string names;
    for (std::size_t i = 0; i < parts.size() && i < 3; ++i) {
        const Piece* p = job.piece(parts[i].piece);
        names += (i == 0                  ? ""
                  : i + 1 == parts.size() ? " and "
                                          : ", ") +
                 (p ? p->name : parts[i].piece);
    }
    return names;
}

/// How many copies of a piece have needle points near a place, and how far its nearest two would
/// have to be moved apart not to overlap there.
struct CopiesAt {
    int copies = 0;
    double apartMm = 0;
};
CopiesAt copiesAt(const StitchedJob& stitched, const std::string& piece, Vec2 at) {
    constexpr double nearMm = 1.5;
    CopiesAt found;
    std::vector<Box> boxes;
    for (const PieceSpan& span : stitched.spans) {
        if (span.source != piece || span.outline || !span.extents.grown(nearMm).contains(at))
            continue;
        bool near = false;
        for (std::size_t i = span.first; i < span.last && !near; ++i) {
            const Stitch& s = stitched.list.stitches[i];
            near = s.op == Op::stitch && distance(s.at(), at) < nearMm;
        }
        if (near) boxes.push_back(span.extents);
    }
    found.copies = static_cast<int>(boxes.size());
    if (boxes.size() < 2) return found;
    const Box &a = boxes[0], &b = boxes[1];
    found.apartMm = std::min(std::min(a.maxX, b.maxX) - std::max(a.minX, b.minX),
                             std::min(a.maxY, b.maxY) - std::max(a.minY, b.minY));
    return found;
}

/// Why so much thread lies at a place: which pieces, and at what scale.
std::string causeOf(const Job& job, const std::vector<Contribution>& parts) {
    if (parts.empty()) return {};
    if (parts.size() > 1) {
        std::string text = fmt::format("{} pieces lie here: ", parts.size());
        for (std::size_t i = 0; i < parts.size() && i < 4; ++i) {
            const Piece* p = job.piece(parts[i].piece);
            text += fmt::format("{}{} {:.1f}", i ? ", " : "", p ? p->name : parts[i].piece,
                                parts[i].layers);
        }
        return text + " layers.";
    }
    const Piece* p = job.piece(parts[0].piece);
    const std::string shrunk = p ? shrunkCause(*p) : "";
    if (!shrunk.empty()) return shrunk;
    return p && std::holds_alternative<ShapeContent>(p->content)
               ? "Its areas lie on each other there, or are drawn that dense."
               : "Its own stitching is that dense.";
}

std::string lowered(std::string name) {
    if (!name.empty() && name[0] >= 'A' && name[0] <= 'Z')
        name[0] = static_cast<char>(name[0] - 'A' + 'a');
    return name;
}

/// Values that would read as equal get another decimal.
std::string numberText(double value, double other) {
    return fmt::format("{:.{}f}", value, std::abs(value - other) < 0.1 ? 2 : 1);
}

Severity gradeOf(double worst, double total, LoadKind kind) {
    const ExcessGrades grades = gradesOf(kind);
    if (worst >= grades.stop) return Severity::stop;
    return worst >= grades.caution || total > grades.stop ? Severity::caution : Severity::note;
}

class LoadJudge {
public:
    LoadJudge(const WeighedJob& w, const LoadFindingsOptions& o, std::stop_token t)
        : job(w.job), stitched(w.stitched), map(w.map), fabric(w.fabric),
          limits(limitsOf(w.fabric, w.job.cloth)), options(o), stop(std::move(t)) {}

    std::vector<Finding> run() {
        judge(LoadKind::layers);
        judge(LoadKind::hits);
        judgePerforation();
        return std::move(findings);
    }

private:
    /// The patches of one cause, the worst first.
    struct Cause {
        std::vector<Contribution> parts; ///< at the worst patch
        std::vector<OverloadedPatch> patches;
        double total = 0;
    };

    void judge(LoadKind kind) {
        const auto patches = overloadedPatches(map, kind, limits);
        const std::vector<Cause> causes = causesOf(patches, kind);
        if (stop.stop_requested()) return;
        std::size_t said = 0;
        for (const Cause& cause : causes) {
            // Less than this nobody would see, and no thread would feel.
            if (cause.total < gradesOf(kind).caution * leastShare) continue;
            if (said++ < options.mostPerKind) findings.push_back(overload(kind, cause));
        }
        if (said > options.mostPerKind) {
            Finding rest;
            rest.kind = kind == LoadKind::layers ? "layers" : "hits";
            rest.text = fmt::format("{} more pieces are over the limit in places",
                                    said - options.mostPerKind);
            findings.push_back(std::move(rest));
        }
    }

    /// The pieces that bring a good part of the load at a place, most first.
    std::vector<Contribution> causing(std::vector<Contribution> parts, LoadKind kind) const {
        double sum = 0;
        for (const Contribution& c : parts) sum += c.of(kind);
        std::erase_if(parts, [&](const Contribution& c) { return c.of(kind) < causeShare * sum; });
        std::stable_sort(parts.begin(), parts.end(),
                         [kind](const Contribution& a, const Contribution& b) {
                             return a.of(kind) > b.of(kind);
                         });
        return parts;
    }
    std::vector<Cause> causesOf(const std::vector<OverloadedPatch>& patches, LoadKind kind) const {
        std::optional<Probe> probe;
        if (patches.size() > manyPatches) probe.emplace(stitched);
        std::map<std::vector<std::string>, std::size_t> known;
        std::vector<Cause> causes;
        for (const OverloadedPatch& patch : patches) {
            if (stop.stop_requested()) return {};
            auto parts =
                causing(probe ? probe->at(patch.at) : contributionsAt(stitched, patch.at), kind);
            std::vector<std::string> ids;
            for (const Contribution& c : parts) ids.push_back(c.piece);
            std::sort(ids.begin(), ids.end());
            const auto [own, isNew] = known.try_emplace(std::move(ids), causes.size());
            if (isNew) causes.push_back({std::move(parts), {}, 0});
            causes[own->second].patches.push_back(patch);
            causes[own->second].total += patch.excess;
        }
        return causes;
    }

    Finding overload(LoadKind kind, const Cause& cause) {
        const OverloadedPatch& worst = cause.patches.front();
        const bool layers = kind == LoadKind::layers;
        Finding f;
        f.severity = gradeOf(worst.excess, cause.total, kind);
        f.kind = layers ? "layers" : "hits";
        f.at = worst.at;
        f.value = worst.peak;
        f.limit = worst.limit;
        f.count = cause.patches.size();
        f.excess = worst.excess;
        f.excessTotal = cause.total;
        for (const OverloadedPatch& p : cause.patches) f.places.push_back(p.at);
        for (const Contribution& c : cause.parts) f.pieces.push_back(c.piece);
        const bool thick = limits.factorAt(worst.at) < 1;
        f.text =
            fmt::format("{}: {} {}{}, {} takes {}{}", joinNames(job, cause.parts),
                        numberText(worst.peak, worst.limit), layers ? "layers" : "hits per mm²",
                        f.count > 1 ? fmt::format(" in the worst of {} places", f.count) : "",
                        lowered(fabric.name), numberText(worst.limit, worst.peak),
                        thick ? " on the thick place" : "");
        if (f.severity == Severity::note) {
            f.cause = "So little lies over the limit that it can be sewn as it is.";
            return f;
        }
        f.cause = causeOf(job, cause.parts);
        f.remediesOpen = true;
        if (cause.parts.size() != 1) return f;
        const std::string& id = cause.parts[0].piece;
        const CopiesAt c = job.repeatOf(id) ? copiesAt(stitched, id, worst.at) : CopiesAt{};
        if (c.copies < 2) return f;
        f.cause = fmt::format("{} of its copies lie on each other there.", c.copies);
        f.advice =
            fmt::format("Set the copies {:.0f} mm farther apart.", std::ceil(c.apartMm + 0.5));
        return f;
    }

    /// Coated cloth tears along lines of needle points.
    void judgePerforation() {
        if (!fabric.maxLineHits) return;
        // A few holes more in a line than the limit no cloth tells from it.
        const auto lines =
            perforatedLines(stitched.list, perforationCaution * *fabric.maxLineHits, stop);
        std::map<std::string, std::size_t> known; // one finding for each piece
        for (const PerforatedLine& line : lines) {
            const auto parts = contributionsAt(stitched, line.at);
            const std::string piece = parts.empty() ? std::string() : parts[0].piece;
            const auto [own, isNew] = known.try_emplace(piece, findings.size());
            if (!isNew) {
                Finding& f = findings[own->second];
                f.places.push_back(line.at);
                ++f.count;
                continue;
            }
            Finding f;
            f.severity = line.hitsPerMm > perforationStop * *fabric.maxLineHits ? Severity::stop
                                                                                : Severity::caution;
            f.kind = "perforated";
            f.at = line.at;
            f.places = {line.at};
            f.value = line.hitsPerMm;
            f.limit = fabric.maxLineHits;
            f.text = fmt::format("{}: {:.1f} holes per mm along a line, {} tears from {:.1f}",
                                 joinNames(job, parts), line.hitsPerMm, lowered(fabric.name),
                                 *fabric.maxLineHits);
            f.cause = "Holes this close act like the perforation of a stamp.";
            f.advice =
                fmt::format("Lay its rows {:.2f} mm apart or more, without an underlay along "
                            "the edge, or turn them so that no two edges meet.",
                            fabric.spacingFor(0.4));
            for (const Contribution& c : parts) f.pieces.push_back(c.piece);
            f.remediesOpen = !parts.empty();
            findings.push_back(std::move(f));
        }
    }

    const Job& job;
    const StitchedJob& stitched;
    const LoadMap& map;
    const Fabric& fabric;
    LoadLimits limits;
    LoadFindingsOptions options;
    std::stop_token stop;
    std::vector<Finding> findings;
};

} // namespace

std::string shrunkCause(const Piece& piece) {
    const double scale = piece.pose.meanScale();
    const bool kept = piece.keep == Keep::stitches || piece.respacing.spacingShare < 1;
    return scale < 0.995 && kept
               ? fmt::format("It is shrunk to {:.0f} % with its stitches kept.", scale * 100)
               : "";
}

std::vector<Finding> loadFindings(const WeighedJob& weighed, const LoadFindingsOptions& options,
                                  std::stop_token stop) {
    std::vector<Finding> findings = LoadJudge(weighed, options, std::move(stop)).run();
    for (auto* judge : {stitchFindings, clothFindings})
        for (Finding& f : judge(weighed)) findings.push_back(std::move(f));
    return findings;
}

bool worseThan(const Finding& a, const Finding& b) {
    if (a.severity != b.severity) return a.severity < b.severity;
    const auto weight = [](const Finding& f) {
        if (f.kind == "forbidden-zone")
            return std::numeric_limits<double>::infinity(); // it can hurt
        return f.excess ? *f.excess / (f.kind == "layers" ? gradesOf(LoadKind::layers).stop
                                                          : gradesOf(LoadKind::hits).stop)
                        : 0.0;
    };
    return weight(a) > weight(b);
}

} // namespace rapt
