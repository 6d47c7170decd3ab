#include "respace/respace.h"

#include "respace/laying.h"
#include "respace/neighbours.h"
#include "respace/unweave.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt {
namespace {

constexpr std::size_t mostStitches = 4'000'000;
constexpr std::size_t mostPlaces = 100;
// Rows farther apart than this many times the cover's are underlay and keep their own measure.
constexpr double sparse = 1.8;

/// Row spacing or pitch in the middle of all satins and fills of a thread, by thread length.
double medianSpacing(std::vector<std::pair<double, double>> spacings) {
    std::sort(spacings.begin(), spacings.end());
    double total = 0, seen = 0;
    for (const auto& [spacing, weight] : spacings) total += weight;
    for (const auto& [spacing, weight] : spacings)
        if ((seen += weight) >= total / 2) return spacing;
    return 0.4;
}

std::vector<ThreadHabits> habitsOf(const std::vector<SewnChain>& chains) {
    std::vector<std::vector<std::pair<double, double>>> spacings(256), stitches(256);
    for (const SewnChain& chain : chains)
        for (const SewnStretch& s : chain.stretches) {
            if (!s.isBand()) continue;
            double size = 0;
            for (const SewnRow& row : s.rows) {
                size += distance(chain.rowFrom(row), chain.rowTo(row));
                for (std::uint32_t i = row.from + 1; i + 1 < row.to; ++i)
                    stitches[chain.thread].emplace_back(
                        distance(chain.points[i], chain.points[i + 1]), 1);
            }
            spacings[chain.thread].emplace_back(s.rowDistanceMm(), size);
        }
    std::vector<ThreadHabits> habits(256);
    for (std::size_t t = 0; t < habits.size(); ++t) {
        if (!stitches[t].empty()) habits[t].fillStitchMm = medianSpacing(std::move(stitches[t]));
        habits[t].coverSpacingMm = medianSpacing(std::move(spacings[t]));
    }
    return habits;
}

class Respacer {
public:
    Respacer(const StitchList& l, ScaleFactors f, const RespaceOptions& o)
        : input(l), list(unwoven(l)), scaling{f.x, f.y, o}, chains(recogniseStretches(list)),
          habits(habitsOf(chains)), neighbours(chains) {}

    Result<Respaced> run() {
        result.list = tracedLike(list);
        std::size_t record = 0;
        for (const SewnChain& chain : chains) {
            copyMoves(record, chain.firstRecord);
            layChain(chain);
            record = chain.lastRecord;
            if (result.list.stitches.size() > mostStitches)
                return cannotDo("it would take more than 4 million stitches at this size");
        }
        copyMoves(record, list.stitches.size());
        if (beyond) return cannotDo(fmt::format("reaches beyond ±{} mm", maxCoordinateMm));
        result.list.origins = result.list.origins.after(list.origins);
        result.list.origins.explain(input, WhyGone::laidAfresh);
        return std::move(result);
    }

private:
    /// `record` is that of the input, if it is one of its.
    void push(Op op, Vec2 p, std::uint8_t thread, std::optional<std::size_t> record,
              NewRecord why = NewRecord::laid) {
        if (!(std::abs(p.x) <= maxCoordinateMm && std::abs(p.y) <= maxCoordinateMm)) {
            beyond = true;
            return;
        }
        if (record)
            result.list.keep(stitchAt(op, p, thread), *record);
        else
            result.list.make(stitchAt(op, p, thread), why);
    }

    /// Jumps, trims and stops between two chains.
    void copyMoves(std::size_t from, std::size_t to) {
        for (std::size_t i = from; i < to; ++i) {
            const Stitch& s = list.stitches[i];
            push(s.op, scaling(s.at()), s.thread, i);
        }
    }

    void layChain(const SewnChain& chain) {
        NeedlePath path(scaling.options);
        const SewnStretch& first = chain.stretches.front();
        if (chain.ledIn)
            path.leadIn(scaling(chain.points[0]));
        else if (first.kind == StretchKind::tie)
            path.addSame(scaling(chain.points[first.last]) +
                         scaling.mirrored(chain.points[0] - chain.points[first.last]));
        else if (first.kind == StretchKind::unknown)
            path.addSame(scaling(chain.points[0]), static_cast<std::uint32_t>(chain.recordOf(0)));
        else
            path.fix(scaling(chain.points[0]));
        for (const SewnStretch& s : chain.stretches) layStretch(chain, s, path);
        auto& stitches = result.list.stitches;
        // The jump to a tie that keeps its size goes where the tie now begins.
        if (!chain.ledIn && !stitches.empty() && stitches.back().op == Op::jump &&
            !path.points.empty()) {
            result.list.drop();
            push(Op::jump, path.points.front(), chain.thread, {}, NewRecord::move);
        }
        for (std::size_t i = 0; i < path.points.size(); ++i) {
            std::optional<std::size_t> record;
            if (path.records[i] != NeedlePath::laidAfresh) record = path.records[i];
            push(Op::stitch, path.points[i], chain.thread, record);
        }
    }

    double spacingRatio(const SewnChain& chain, const SewnStretch& s) const {
        if (!scaling.options.spacingMm) return 1;
        const double cover = habits[chain.thread].coverSpacingMm;
        // The pitch of a satin is two crossings, and so is the spacing that is asked for.
        const double wanted = *scaling.options.spacingMm / (s.kind == StretchKind::satin ? 2 : 1);
        const double own = s.rowDistanceMm();
        return own > sparse * cover ? cover / wanted : own / wanted;
    }

    void layStretch(const SewnChain& chain, const SewnStretch& s, NeedlePath& path) {
        RespaceReport& report = result.report;
        report.underlays += s.under;
        switch (s.kind) {
        case StretchKind::satin:
            ++report.satins;
            return laySatin(chain, s, scaling, spacingRatio(chain, s), path);
        case StretchKind::fill:
            ++report.fills;
            if (turnsRows(chain, s, scaling))
                return layRefilled(chain, s, scaling, spacingRatio(chain, s), habits[chain.thread],
                                   lattices[chain.thread], path);
            return layFill(chain, s, scaling, spacingRatio(chain, s), habits[chain.thread],
                           neighbours.of(chain, s), path);
        case StretchKind::run:
            ++report.runs;
            return layRun(chain, s, scaling, path);
        case StretchKind::repeatedRun:
            ++report.runs;
            return layRepeatedRun(chain, s, scaling, path);
        case StretchKind::tie:
            ++report.ties;
            return layTie(chain, s, scaling, path);
        case StretchKind::unknown:
            ++report.unknown;
            report.unknownStitches += s.last - s.first;
            if (report.unknownAt.size() < mostPlaces)
                report.unknownAt.push_back(scaling(chain.points[s.first]));
            return layAsItIs(chain, s, scaling, path);
        }
    }

    const StitchList& input;
    TracedList list; ///< the input with its rows put together
    Scaling scaling;
    std::vector<SewnChain> chains;
    std::vector<ThreadHabits> habits;
    RowNeighbours neighbours;
    std::map<std::uint8_t, std::vector<RowLattice>> lattices; ///< by thread
    Respaced result;
    bool beyond = false;
};

Status checkOptions(ScaleFactors f, const RespaceOptions& o) {
    if (!(std::isfinite(f.x) && std::isfinite(f.y)) || f.x == 0 || f.y == 0)
        return cannotDo("scales must be numbers other than 0");
    if (!(o.spacingShare >= 0 && o.spacingShare <= 1))
        return cannotDo("the share of kept spacing is between 0 and 1");
    if (o.spacingMm && !(*o.spacingMm >= 0.1 && *o.spacingMm <= 5))
        return cannotDo("a row spacing is between 0.1 and 5 mm");
    if (!(o.longestMm >= 1 && o.longestMm <= maxStitchMm))
        return cannotDo(fmt::format("the longest stitch is between 1 and {} mm", maxStitchMm));
    if (!(o.shortestMm >= 0 && o.shortestMm < 0.5 * o.longestMm))
        return cannotDo("the shortest stitch is under half of the longest");
    return done();
}

} // namespace

Result<Respaced> respace(const StitchList& list, ScaleFactors factors,
                         const RespaceOptions& options) {
    const Status fine = checkOptions(factors, options);
    if (!fine) return fine.error();
    const Box box = extentsOf(list);
    if (!box.empty() && !(std::max(std::abs(box.minX), std::abs(box.maxX)) * std::abs(factors.x) <=
                              maxCoordinateMm &&
                          std::max(std::abs(box.minY), std::abs(box.maxY)) * std::abs(factors.y) <=
                              maxCoordinateMm))
        return cannotDo(fmt::format("at this scale it reaches beyond ±{} mm", maxCoordinateMm));
    if (factors.x == 1 && factors.y == 1 && !options.spacingMm &&
        options.longestMm == RespaceOptions{}.longestMm)
        return Respaced{tracedWhole(list), surveyStretches(list)};
    return Respacer(list, factors, options).run();
}

RespaceReport surveyStretches(const StitchList& list) {
    RespaceReport report;
    for (const SewnChain& chain : recogniseStretches(unwoven(list)))
        for (const SewnStretch& s : chain.stretches) {
            report.satins += s.kind == StretchKind::satin;
            report.fills += s.kind == StretchKind::fill;
            report.runs += s.kind == StretchKind::run || s.kind == StretchKind::repeatedRun;
            report.ties += s.kind == StretchKind::tie;
            report.underlays += s.under;
            if (s.kind != StretchKind::unknown) continue;
            ++report.unknown;
            report.unknownStitches += s.last - s.first;
            if (report.unknownAt.size() < mostPlaces)
                report.unknownAt.push_back(chain.points[s.first]);
        }
    return report;
}

} // namespace rapt
