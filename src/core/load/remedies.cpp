#include "load/remedies.h"

#include "load/remedy_candidates.h"
#include "load/remedy_proof.h"

#include <algorithm>
#include <fmt/format.h>

namespace rapt {
namespace {

constexpr std::size_t mostRemedies = 4;
// So many edits that help are tried together with others.
constexpr std::size_t mostHelpers = 3;
// An edit that leaves more than this share of what is over the limit does not help.
constexpr double mostLeft = 0.8;
// So much more over the limit elsewhere is within rounding.
constexpr double sameExcess = 0.1;

/// What lies over the limit: at the places of a finding, and elsewhere.
struct Over {
    double worstHere = 0, totalHere = 0, worstElsewhere = 0, totalElsewhere = 0;
    double worst() const { return std::max(worstHere, worstElsewhere); }
    double total() const { return totalHere + totalElsewhere; }
};

Over overAt(const LoadMap& map, LoadKind kind, const LoadLimits& limits,
            const std::vector<Box>& places) {
    Over over;
    for (const OverloadedPatch& p : overloadedPatches(map, kind, limits)) {
        const bool here = std::any_of(places.begin(), places.end(),
                                      [&](const Box& b) { return b.overlaps(p.box); });
        double& worst = here ? over.worstHere : over.worstElsewhere;
        worst = std::max(worst, p.excess);
        (here ? over.totalHere : over.totalElsewhere) += p.excess;
    }
    return over;
}

double highestIn(const LoadMap& map, LoadKind kind, const Box& box) {
    const Cell low = cellAt({box.minX + cellMm / 2, box.minY + cellMm / 2});
    const Cell high = cellAt({box.maxX - cellMm / 2, box.maxY - cellMm / 2});
    double most = 0;
    for (int j = low.j; j <= high.j; ++j)
        for (int i = low.i; i <= high.i; ++i)
            most = std::max(most, kind == LoadKind::layers ? map.layers({i, j}) : map.hits({i, j}));
    return most;
}

LoadKind otherThan(LoadKind kind) {
    return kind == LoadKind::layers ? LoadKind::hits : LoadKind::layers;
}

} // namespace

/// The trial map, and what was over the limits before.
struct RemedySeeker::Trials {
    Trials(const WeighedJob& w, StitchCache& cache)
        : limits(limitsOf(w.fabric, w.job.cloth)), trial(w.job, w.stitched, cache) {
        for (const LoadKind kind : {LoadKind::layers, LoadKind::hits})
            patches[static_cast<int>(kind)] = overloadedPatches(w.map, kind, limits);
    }
    LoadLimits limits;
    LoadTrial trial;
    std::vector<OverloadedPatch> patches[2];
};

namespace {

/// Tries candidates for one overloaded finding.
class Tester {
public:
    Tester(LoadTrial& t, const LoadLimits& l, const LoadMap& before, const OverloadedPlace& p,
           std::vector<Box> b)
        : trial(t), limits(l), place(p), boxes(std::move(b)), was(overAt(before, p.kind, l, boxes)),
          otherWas(overAt(before, otherThan(p.kind), l, {})) {}

    enum class Result { useless, helps, mends };
    /// What an edit does to the load, and that in words and numbers.
    Result tryOut(const RemedyCandidate& candidate, Remedy& remedy) {
        const auto tried = trial.tryOut(candidate.edit);
        if (!tried) return Result::useless;
        const Over now = overAt(*tried->map, place.kind, limits, boxes);
        const Over other = overAt(*tried->map, otherThan(place.kind), limits, {});
        // What moves takes its own dense places along: they count together.
        if (now.total() > was.total() + sameExcess || now.worst() > was.worst() + sameExcess ||
            other.totalElsewhere > otherWas.totalElsewhere + sameExcess)
            return Result::useless;
        const double left = highestIn(*tried->map, place.kind, place.box);
        remedy = {candidate.kind, candidate.label, effectText(left, tried->stitchesMore),
                  candidate.edit, place.peak,      left};
        const ExcessGrades grades = gradesOf(place.kind);
        if (now.worstHere < grades.caution && now.totalHere < grades.stop) return Result::mends;
        return now.totalHere < mostLeft * was.totalHere ? Result::helps : Result::useless;
    }

private:
    std::string effectText(double left, long long more) const {
        std::string text = fmt::format("{:.1f} → {:.1f} {}", place.peak, left,
                                       place.kind == LoadKind::layers ? "layers" : "hits per mm²");
        if (more != 0)
            text += fmt::format(", {} stitches {}", std::abs(more), more < 0 ? "fewer" : "more");
        return text;
    }

    LoadTrial& trial;
    const LoadLimits& limits;
    const OverloadedPlace& place;
    std::vector<Box> boxes;
    Over was, otherWas;
};

} // namespace

RemedySeeker::RemedySeeker(const WeighedJob& w, StitchCache& c, Judge judge)
    : weighed(w), cache(c), proof(std::make_unique<RemedyProof>(w.job, c, std::move(judge))) {}
RemedySeeker::~RemedySeeker() = default;

std::vector<Remedy> RemedySeeker::seek(const Finding& finding, std::stop_token stop) {
    if (stop.stop_requested()) return {};
    if (finding.remedies.empty() && (finding.kind == "layers" || finding.kind == "hits"))
        return overloadRemedies(finding, stop);
    std::vector<Remedy> remedies =
        finding.remedies.empty() ? stitchRemedies(weighed, finding) : finding.remedies;
    std::erase_if(remedies, [&](const Remedy& r) { return !proof->mends(finding, r.edit, stop); });
    return stop.stop_requested() ? std::vector<Remedy>() : remedies;
}

void RemedySeeker::addForAll(std::vector<Finding>& findings, std::stop_token stop) {
    if (std::any_of(findings.begin(), findings.end(),
                    [](const Finding& f) { return f.remediesOpen; }))
        return;
    const auto all = proof->forAll(findings, stop);
    if (all && !stop.stop_requested()) findings.front().remedies.push_back(*all);
}

std::vector<Remedy> RemedySeeker::overloadRemedies(const Finding& finding,
                                                   const std::stop_token& stop) {
    if (!trials) trials = std::make_unique<Trials>(weighed, cache);
    trials->trial.stopWith(stop);
    OverloadedPlace place{finding.kind == "layers" ? LoadKind::layers : LoadKind::hits,
                          finding.value.value_or(0),
                          finding.limit.value_or(0),
                          finding.at.value_or(Vec2{}),
                          {},
                          contributionsAt(weighed.stitched, finding.at.value_or(Vec2{}))};
    std::vector<Box> boxes;
    for (const OverloadedPatch& p : trials->patches[static_cast<int>(place.kind)]) {
        if (p.at == place.at) place.box = p.box;
        if (std::find(finding.places.begin(), finding.places.end(), p.at) != finding.places.end())
            boxes.push_back(p.box);
    }
    if (place.box.empty()) return {};
    Tester tester(trials->trial, trials->limits, weighed.map, place, std::move(boxes));
    std::vector<Remedy> mending, helping;
    const auto known = [&](RemedyKind kind) {
        return std::any_of(mending.begin(), mending.end(),
                           [&](const Remedy& r) { return r.kind == kind; });
    };
    for (const RemedyCandidate& c : remedyCandidates(weighed, place)) {
        if (stop.stop_requested() || mending.size() >= mostRemedies) break;
        if (known(c.kind)) continue;
        // The load alone is tried first: it is soon known.
        Remedy remedy;
        const Tester::Result result = tester.tryOut(c, remedy);
        if (result == Tester::Result::mends && proof->mends(finding, c.edit, stop))
            mending.push_back(std::move(remedy));
        else if (result == Tester::Result::helps && helping.size() < mostHelpers)
            helping.push_back(std::move(remedy));
    }
    // Where no edit is enough, two may be: the second is sought for what the first leaves.
    for (const Remedy& first : helping) {
        OverloadedPlace left = place;
        left.peak = *first.valueAfter;
        for (const RemedyCandidate& c : remedyCandidates(weighed, left)) {
            if (stop.stop_requested() || !mending.empty()) break;
            if (c.kind == first.kind) continue;
            const std::string label = fmt::format("Do both: {}; {}", first.label, c.label);
            const RemedyCandidate both{RemedyKind::together, label,
                                       together(label, {first.edit, c.edit})};
            Remedy remedy;
            if (tester.tryOut(both, remedy) == Tester::Result::mends &&
                proof->mends(finding, both.edit, stop))
                mending.push_back(std::move(remedy));
        }
    }
    return stop.stop_requested() ? std::vector<Remedy>() : mending;
}

std::size_t findRemedies(const WeighedJob& weighed, std::vector<Finding>& findings,
                         StitchCache& cache, Judge judge, std::stop_token stop) {
    RemedySeeker seeker(weighed, cache, std::move(judge));
    std::size_t open = 0;
    for (Finding& f : findings) {
        if (!f.remediesOpen) continue;
        auto remedies = seeker.seek(f, stop);
        if (stop.stop_requested()) {
            ++open;
            continue;
        }
        takeRemedies(f, std::move(remedies));
    }
    seeker.addForAll(findings, stop);
    return open;
}

void takeRemedies(Finding& finding, std::vector<Remedy> remedies) {
    finding.remediesOpen = false;
    finding.remedies = std::move(remedies);
    if (finding.remedies.empty() && finding.advice.empty()) finding.advice = lastResort(finding);
}

std::string lastResort(const Finding& finding) {
    const std::string& kind = finding.kind;
    if (kind == "layers" || kind == "hits")
        return finding.pieces.size() > 1
                   ? "Nothing that was tried mends it: take one of the pieces away there, choose a "
                     "firmer cloth, or try it on a scrap first, slowly, with eye protection."
                   : "Nothing that was tried mends it: sew it larger, draw or digitize that place "
                     "with less thread, choose a firmer cloth, or try it on a scrap first, slowly, "
                     "with eye protection.";
    if (kind == "perforated")
        return "Lay it with a wider spacing or turn it, so that fewer needle points share a line; "
               "try it on a scrap of the same cloth before the item.";
    if (kind == "long-stitches") return "Draw that part in two columns, or as a fill.";
    if (kind == "gaping") return "Lay its rows closer, or sew it at its own size.";
    return {};
}

} // namespace rapt
