#include "load/load_findings.h"

#include "load/perforation.h"
#include "load/probe.h"
#include "load/remedies.h"

#include <fmt/format.h>

namespace rapt {
namespace {

// From this share of the limit on, a caution says how near it is.
constexpr double nearLimit = 0.92;
// Remedies are worked out for so many places; the others often go with them.
constexpr std::size_t mostTried = 3;

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
    const double scale = p ? std::sqrt(std::abs(p->pose.scaleX * p->pose.scaleY)) : 1;
    const bool kept = p && (p->keep == Keep::stitches || p->respacing.spacingShare < 1);
    if (scale < 0.995 && kept)
        return fmt::format("It is shrunk to {:.0f} % with its stitches kept.", scale * 100);
    return "Its own stitching is that dense.";
}

class LoadJudge {
public:
    LoadJudge(const WeighedJob& w, const LoadFindingsOptions& o, std::stop_token t)
        : weighed(w), job(w.job), stitched(w.stitched), map(w.map), fabric(w.fabric),
          limits(limitsOf(w.fabric, w.job.cloth)), options(o), stop(std::move(t)) {}

    std::vector<Finding> run() {
        judge(LoadKind::layers);
        judge(LoadKind::hits);
        judgePerforation();
        return std::move(findings);
    }

private:
    void judge(LoadKind kind) {
        const auto patches = overloadedPatches(map, kind, limits);
        for (std::size_t i = 0; i < patches.size() && i < options.mostPerKind; ++i)
            findings.push_back(overload(kind, patches[i], i < mostTried));
        if (patches.size() > options.mostPerKind) {
            Finding rest;
            rest.kind = kind == LoadKind::layers ? "layers" : "hits";
            rest.text = fmt::format("{} more places are over the limit",
                                    patches.size() - options.mostPerKind);
            findings.push_back(std::move(rest));
        }
        if (patches.empty()) addNearLimit(kind);
    }

    std::string valueText(LoadKind kind, double value) const {
        return kind == LoadKind::layers ? fmt::format("{:.1f} layers", value)
                                        : fmt::format("{:.1f} hits per mm²", value);
    }

    /// Values that would read as equal get another decimal.
    static std::string numberText(double value, double other) {
        return fmt::format("{:.{}f}", value, std::abs(value - other) < 0.1 ? 2 : 1);
    }

    Finding overload(LoadKind kind, const OverloadedPatch& patch, bool mend) {
        const auto parts = contributionsAt(stitched, patch.at);
        Finding f;
        f.severity = Severity::stop;
        f.kind = kind == LoadKind::layers ? "layers" : "hits";
        f.at = patch.at;
        f.value = patch.peak;
        f.limit = patch.limit;
        const char* unit = kind == LoadKind::layers ? "layers" : "hits per mm²";
        const bool thick = limits.factorAt(patch.at) < 1;
        f.text =
            fmt::format("{}: {} {}, {} takes {}{}", joinNames(job, parts),
                        numberText(patch.peak, patch.limit), unit, lowered(fabric.name),
                        numberText(patch.limit, patch.peak), thick ? " on the thick place" : "");
        f.cause = causeOf(job, parts);
        for (const Contribution& c : parts) f.pieces.push_back(c.piece);
        if (options.remedies && mend && !stop.stop_requested()) {
            auto remedies = findRemedies(weighed, patch, kind, limits, parts, options.cache, stop);
            if (remedies.empty()) f.cause += " Of all that was tried nothing mends it.";
            if (!remedies.empty()) {
                f.remedy = std::move(remedies.front());
                f.others.assign(std::make_move_iterator(remedies.begin() + 1),
                                std::make_move_iterator(remedies.end()));
            }
        }
        return f;
    }

    void addNearLimit(LoadKind kind) {
        const LoadSummary& s = map.summary();
        const double peak = kind == LoadKind::layers ? s.peakLayers : s.peakHits;
        const auto at = kind == LoadKind::layers ? s.peakLayersAt : s.peakHitsAt;
        if (!at) return;
        const double limit =
            (kind == LoadKind::layers ? limits.maxLayers : limits.maxHits) * limits.factorAt(*at);
        if (peak < nearLimit * limit) return;
        Finding f;
        f.severity = Severity::caution;
        f.kind = kind == LoadKind::layers ? "layers" : "hits";
        f.at = at;
        f.value = peak;
        f.limit = limit;
        f.text = fmt::format("{}, close to the {:.1f} that {} takes", valueText(kind, peak), limit,
                             lowered(fabric.name));
        findings.push_back(std::move(f));
    }

    static std::string lowered(std::string name) {
        if (!name.empty() && name[0] >= 'A' && name[0] <= 'Z')
            name[0] = static_cast<char>(name[0] - 'A' + 'a');
        return name;
    }

    /// Coated cloth tears along lines of needle points.
    void judgePerforation() {
        if (!fabric.maxLineHits) return;
        const auto lines = perforatedLines(stitched.list, *fabric.maxLineHits, stop);
        for (std::size_t i = 0; i < lines.size() && i < options.mostPerKind; ++i) {
            const PerforatedLine& line = lines[i];
            const auto parts = contributionsAt(stitched, line.at);
            Finding f;
            f.severity = Severity::stop;
            f.kind = "perforated";
            f.at = line.at;
            f.value = line.hitsPerMm;
            f.limit = fabric.maxLineHits;
            f.text = fmt::format("{}: {:.1f} needle points per mm of a line, {} tears from {:.1f}",
                                 joinNames(job, parts), line.hitsPerMm, lowered(fabric.name),
                                 *fabric.maxLineHits);
            f.cause = "Needle points this close act like the perforation of a stamp.";
            for (const Contribution& c : parts) f.pieces.push_back(c.piece);
            if (options.remedies && i < 2 && !parts.empty())
                addPerforationRemedy(job, line, *fabric.maxLineHits, parts[0].piece, f);
            findings.push_back(std::move(f));
        }
        if (lines.size() > options.mostPerKind) {
            Finding rest;
            rest.kind = "perforated";
            rest.text =
                fmt::format("{} more lines are perforated", lines.size() - options.mostPerKind);
            findings.push_back(std::move(rest));
        }
    }

    const WeighedJob& weighed;
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

std::vector<Finding> loadFindings(const WeighedJob& weighed, const LoadFindingsOptions& options,
                                  std::stop_token stop) {
    std::vector<Finding> findings = LoadJudge(weighed, options, std::move(stop)).run();
    for (auto* judge : {stitchFindings, clothFindings})
        for (Finding& f : judge(weighed)) findings.push_back(std::move(f));
    return findings;
}

} // namespace rapt
