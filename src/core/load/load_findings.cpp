#include "load/load_findings.h"

#include "load/probe.h"
#include "load/remedies.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

// From this share of the limit on, a caution says how near it is.
constexpr double nearLimit = 0.92;
// More short stitches than this share are worth a word.
constexpr double shortShare = 0.02;

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
    const bool kept =
        p && (p->keep == Keep::stitches || std::holds_alternative<DesignContent>(p->content));
    if (scale < 0.995 && kept)
        return fmt::format("It is shrunk to {:.0f} % with its stitches kept.", scale * 100);
    return "Its own stitching is that dense.";
}

class LoadJudge {
public:
    LoadJudge(const Job& j, const StitchedJob& s, const LoadMap& m, const Fabric& f,
              const LoadFindingsOptions& o, std::stop_token t)
        : job(j), stitched(s), map(m), fabric(f), limits(limitsOf(f, j.cloth)), options(o),
          stop(std::move(t)) {}

    std::vector<Finding> run() {
        judge(LoadKind::layers);
        judge(LoadKind::hits);
        judgeLengths();
        return std::move(findings);
    }

private:
    void judge(LoadKind kind) {
        const auto patches = overloadedPatches(map, kind, limits);
        for (std::size_t i = 0; i < patches.size() && i < options.mostPerKind; ++i)
            findings.push_back(overload(kind, patches[i]));
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

    Finding overload(LoadKind kind, const OverloadedPatch& patch) {
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
        if (options.remedies && kind == LoadKind::layers && !stop.stop_requested() && tried++ < 3)
            f.remedy = findRemedy(job, patch, limits, parts, stop);
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

    void judgeLengths() {
        const Measures m = measure(stitched.list);
        if (m.longestMm > maxStitchMm)
            addLength(Severity::stop, "long-stitches", m.longestMm, maxStitchMm,
                      fmt::format("A stitch of {:.1f} mm cannot be sewn; the most is {} mm",
                                  m.longestMm, maxStitchMm),
                      longest());
        else if (m.longStitches > 0)
            addLength(Severity::caution, "long-stitches", m.longestMm, snagStitchMm,
                      fmt::format("{} stitches are longer than {:.1f} mm and may snag; the longest "
                                  "is {:.1f} mm",
                                  m.longStitches, snagStitchMm, m.longestMm),
                      longest());
        const double share =
            m.stitches ? static_cast<double>(m.shortStitches) / static_cast<double>(m.stitches) : 0;
        if (share > shortShare)
            addLength(Severity::caution, "short-stitches", share * 100, shortShare * 100,
                      fmt::format("{:.0f} % of the stitches are shorter than {:.1f} mm and may "
                                  "break the thread",
                                  share * 100, shortStitchMm),
                      firstShort());
    }

    void addLength(Severity severity, const char* kind, double value, double limit,
                   std::string text, std::optional<Vec2> at) {
        Finding f;
        f.severity = severity;
        f.kind = kind;
        f.at = at;
        f.value = value;
        f.limit = limit;
        f.text = std::move(text);
        findings.push_back(std::move(f));
    }

    std::optional<Vec2> longest() const {
        std::optional<Vec2> at;
        double most = 0;
        walkStitches(stitched.list.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = stitched.list.stitches[i];
            if (!from || spanMm(*from, s) <= most) return;
            most = spanMm(*from, s);
            at = lerp(from->at(), s.at(), 0.5);
        });
        return at;
    }

    std::optional<Vec2> firstShort() const {
        std::optional<Vec2> at;
        walkStitches(stitched.list.stitches, [&](std::size_t i, const Stitch* from) {
            const Stitch& s = stitched.list.stitches[i];
            if (at || !from) return;
            const double size = spanMm(*from, s);
            if (size > 0 && size < shortStitchMm) at = s.at();
        });
        return at;
    }

    const Job& job;
    const StitchedJob& stitched;
    const LoadMap& map;
    const Fabric& fabric;
    LoadLimits limits;
    LoadFindingsOptions options;
    std::stop_token stop;
    int tried = 0;
    std::vector<Finding> findings;
};

} // namespace

std::vector<Finding> loadFindings(const Job& job, const StitchedJob& stitched, const LoadMap& map,
                                  const Fabric& fabric, const LoadFindingsOptions& options,
                                  std::stop_token stop) {
    return LoadJudge(job, stitched, map, fabric, options, std::move(stop)).run();
}

} // namespace rapt
