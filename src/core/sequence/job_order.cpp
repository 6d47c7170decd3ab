#include "sequence/job_order.h"

#include "job/edit_threads.h"
#include "job/sewn_lock.h"
#include "sequence/fewest_changes.h"
#include "sequence/overlaps.h"
#include "sequence/travel.h"
#include "thread/measures.h"

#include <fmt/format.h>
#include <map>
#include <set>

namespace rapt {
namespace {

constexpr std::size_t mostRecords = 5'000'000;

/// Something that is ordered: a piece with its copies, or one thread run of it.
struct Unit {
    std::string piece;
    int run = 0; ///< counted from 1; 0 for the whole piece
    SewnItem threads;
    StitchList list; ///< its stitches, cloth frame
    Stop ends;
};

double travelOf(const StitchList& list) {
    double sum = 0;
    const Stitch* needle = nullptr;
    for (const Stitch& s : list.stitches) {
        if (s.op == Op::jump && needle) sum += spanMm(*needle, s);
        if (s.op == Op::jump || s.op == Op::stitch) needle = &s;
    }
    return sum;
}

/// The units of a job in sewing order, from its stitches.
class UnitReader {
public:
    UnitReader(const Job& j, const StitchedJob& s, const std::set<std::string>& apart)
        : job(j), stitched(s), takenApart(apart) {}

    std::vector<Unit> run() {
        for (const Piece& piece : job.pieces)
            for (const PieceSpan& span : stitched.spans)
                if (span.source == piece.id) read(piece, span);
        return std::move(units);
    }

private:
    void read(const Piece& piece, const PieceSpan& span) {
        const bool apart = takenApart.contains(piece.id);
        int run = apart ? 0 : -1;
        int thread = -1;
        Unit* unit = nullptr;
        const Stitch* move = nullptr; // the last jump before a stitch
        for (std::size_t i = span.first; i < span.last; ++i) {
            const Stitch& s = stitched.list.stitches[i];
            if (s.op == Op::jump) move = &s;
            if (s.op != Op::stitch) continue;
            if (s.thread != thread) {
                if (apart) ++run;
                thread = s.thread;
                unit = &unitOf(piece.id, apart ? run : 0, s);
            }
            if (move) unit->list.stitches.push_back(*move);
            move = nullptr;
            unit->list.stitches.push_back(s);
            unit->threads.last = s.thread;
            unit->ends.out = s.at();
        }
    }

    Unit& unitOf(const std::string& piece, int run, const Stitch& first) {
        for (Unit& u : units)
            if (u.piece == piece && u.run == run) return u;
        Unit u{piece, run, {first.thread, first.thread}, {}, {first.at(), first.at()}};
        u.list.threads = stitched.list.threads;
        units.push_back(std::move(u));
        return units.back();
    }

    const Job& job;
    const StitchedJob& stitched;
    const std::set<std::string>& takenApart;
    std::vector<Unit> units;
};

/// Pieces that become one piece a thread run when they are split.
std::set<std::string> splittable(const Job& job, const StitchedJob& stitched) {
    std::set<std::string> ids;
    const std::set<std::string> sewn = sewnPieces(job);
    for (const Piece& piece : job.pieces) {
        if (sewn.contains(piece.id) || piece.hidden || piece.locked || piece.outline ||
            !piece.leftOutRuns.empty() || std::holds_alternative<LetteringContent>(piece.content))
            continue;
        std::size_t runs = 0;
        for (const PieceSpan& span : stitched.spans) {
            if (span.source != piece.id || span.copy != 1) continue;
            int thread = -1;
            for (std::size_t i = span.first; i < span.last; ++i) {
                const Stitch& s = stitched.list.stitches[i];
                if (s.op == Op::stitch && s.thread != thread) {
                    ++runs;
                    thread = s.thread;
                }
            }
        }
        if (runs < 2) continue;
        const Job split = splitByThread(piece.id).change(job);
        if (split.pieces.size() == job.pieces.size() + runs - 1) ids.insert(piece.id);
    }
    return ids;
}

OrderProblem problemOf(const Job& job, const std::vector<Unit>& units) {
    OrderProblem problem;
    std::vector<Box> boxes;
    for (const Unit& u : units) {
        problem.items.push_back(u.threads);
        boxes.push_back(extentsOf(u.list));
    }
    // Worked out only for what may lie on something else.
    std::vector<std::optional<SewnGround>> grounds(units.size());
    const auto ground = [&](std::size_t i) -> const SewnGround& {
        if (!grounds[i]) grounds[i] = groundOf(units[i].list);
        return *grounds[i];
    };
    for (std::size_t j = 0; j < units.size(); ++j)
        for (std::size_t i = 0; i < j; ++i) {
            const bool oneThread = units[i].threads.isPlain() && units[j].threads.isPlain() &&
                                   units[i].threads.first == units[j].threads.first;
            // All outlines of a repeat are sewn before its first piece: that one stays first.
            const Repeat* repeat = job.repeatOf(units[i].piece);
            const bool outlined = repeat && repeat == job.repeatOf(units[j].piece) &&
                                  std::any_of(repeat->pieces.begin(), repeat->pieces.end(),
                                              [&](const std::string& id) {
                                                  const Piece* p = job.piece(id);
                                                  return p && p->outline;
                                              });
            if (outlined ||
                (!oneThread && boxes[i].overlaps(boxes[j]) && overlap(ground(i), ground(j))))
                problem.before.emplace_back(i, j);
        }
    return problem;
}

/// What follows each other in one thread is visited with the least travel.
std::vector<std::size_t> withShortTravel(const std::vector<Unit>& units,
                                         const OrderProblem& problem,
                                         const std::vector<std::size_t>& order) {
    std::vector<std::size_t> result;
    Vec2 at = order.empty() ? Vec2{} : units[order[0]].ends.in;
    for (std::size_t i = 0; i < order.size();) {
        std::vector<std::size_t> block{order[i++]};
        const SewnItem& first = units[block[0]].threads;
        const auto joins = [&](std::size_t k) {
            const SewnItem& t = units[k].threads;
            return first.isPlain() && t.isPlain() && t.first == first.first &&
                   std::none_of(problem.before.begin(), problem.before.end(), [&](const auto& p) {
                       return p.second == k &&
                              std::find(block.begin(), block.end(), p.first) != block.end();
                   });
        };
        while (i < order.size() && joins(order[i])) block.push_back(order[i++]);
        std::vector<Stop> stops;
        for (const std::size_t k : block) stops.push_back(units[k].ends);
        for (const std::size_t k : shortTravel(at, stops)) result.push_back(block[k]);
        at = units[result.back()].ends.out;
    }
    return result;
}

/// Ids in a hooping, a split piece's new ones beside the old; in the order of the job's pieces.
void followInHoopings(Job& job, const std::map<std::string, std::vector<std::string>>& parts) {
    for (Hooping& h : job.hoopings) {
        if (h.sewn > 0) continue;
        std::vector<std::string> ids;
        for (const std::string& id : h.pieces) {
            const std::string base = id.substr(0, id.find('#'));
            const auto split = parts.find(base);
            if (split == parts.end()) {
                ids.push_back(id);
                continue;
            }
            for (const std::string& part : split->second)
                ids.push_back(part + id.substr(base.size()));
        }
        const auto place = [&](const std::string& id) {
            const Piece* p = job.piece(id);
            return p ? p - job.pieces.data() : std::ptrdiff_t{-1};
        };
        std::stable_sort(ids.begin(), ids.end(), [&](const std::string& a, const std::string& b) {
            return place(a) < place(b);
        });
        h.pieces = std::move(ids);
    }
}

/// The job with its pieces in the order of the units, split where the runs of one are apart.
Job arranged(Job job, const std::vector<Unit>& units, const std::vector<std::size_t>& order,
             std::vector<std::string>& split) {
    std::vector<std::string> ids; // of the pieces that are sewn, in order
    std::map<std::string, std::vector<std::size_t>> places;
    for (std::size_t k = 0; k < order.size(); ++k) places[units[order[k]].piece].push_back(k);
    std::map<std::string, std::vector<std::string>> parts;
    for (const auto& [id, at] : places) {
        bool together = true;
        for (std::size_t n = 1; n < at.size(); ++n)
            together = together && at[n] == at[0] + n &&
                       units[order[at[n]]].run == units[order[at[n - 1]]].run + 1;
        if (together) continue;
        std::set<std::string> known;
        for (const Piece& p : job.pieces) known.insert(p.id);
        job = splitByThread(id).change(std::move(job));
        for (const Piece& p : job.pieces)
            if (p.id == id || !known.contains(p.id)) parts[id].push_back(p.id);
        split.push_back(id);
    }
    for (const std::size_t k : order) {
        const auto it = parts.find(units[k].piece);
        const std::string id = it == parts.end()
                                   ? units[k].piece
                                   : it->second[static_cast<std::size_t>(units[k].run - 1)];
        if (ids.empty() || std::find(ids.begin(), ids.end(), id) == ids.end()) ids.push_back(id);
    }
    // Pieces that are not sewn stay behind the piece that they followed.
    std::vector<Piece> pieces;
    std::map<std::string, std::vector<Piece>> followers;
    std::string last;
    for (const Piece& p : job.pieces) {
        const bool sewn = std::find(ids.begin(), ids.end(), p.id) != ids.end();
        if (sewn)
            last = p.id;
        else
            followers[last].push_back(p);
    }
    pieces = followers[""];
    for (const std::string& id : ids) {
        pieces.push_back(*job.piece(id));
        pieces.insert(pieces.end(), followers[id].begin(), followers[id].end());
    }
    job.pieces = std::move(pieces);
    followInHoopings(job, parts);
    return job;
}

} // namespace

Result<JobOrder> orderJob(const Job& job, const JobOrderOptions& options, std::stop_token stop) {
    const auto before = stitchJob(job, nullptr, stop);
    if (!before) return before.error();
    // What lies on what is asked of the whole pieces, not of what relief leaves of them.
    Job bare = job;
    for (Piece& p : bare.pieces) p.relief.reset();
    const auto stitched = stitchJob(bare, nullptr, stop);
    if (!stitched) return stitched.error();
    if (stitched->list.stitches.size() > mostRecords)
        return cannotDo(fmt::format("an order is worked out for up to {} million stitches; this "
                                    "job has {:.1f} million with its copies",
                                    mostRecords / 1'000'000,
                                    static_cast<double>(stitched->list.stitches.size()) / 1e6));
    JobOrder result;
    result.job = job;
    result.changesBefore = static_cast<int>(measure(before->list).threadChanges);
    result.travelBeforeMm = travelOf(before->list);

    const auto inside = [](const std::vector<Unit>& units) {
        int sum = 0;
        for (const Unit& u : units) sum += static_cast<int>(measure(u.list).threadChanges);
        return sum;
    };
    std::vector<Unit> units = UnitReader(bare, *stitched, {}).run();
    OrderProblem problem = problemOf(job, units);
    OrderSolution best = fewestChanges(problem, stop);
    int changes = best.changes + inside(units), bound = best.lowerBound + inside(units);
    const std::set<std::string> apart =
        options.split ? splittable(bare, *stitched) : std::set<std::string>{};
    if (!apart.empty()) {
        std::vector<Unit> runs = UnitReader(bare, *stitched, apart).run();
        OrderProblem finer = problemOf(job, runs);
        const OrderSolution other = fewestChanges(finer, stop);
        bound = other.lowerBound + inside(runs);
        if (other.changes + inside(runs) < changes) {
            changes = other.changes + inside(runs);
            best = other;
            units = std::move(runs);
            problem = std::move(finer);
        }
    }
    if (stop.stop_requested()) return cancelled();
    result.lowerBound = bound;
    Job ordered = arranged(job, units, withShortTravel(units, problem, best.order), result.split);
    ordered.trimOverMm = options.trimOverMm;
    const auto after = stitchJob(ordered, nullptr, stop);
    if (!after) return after.error();
    result.changesAfter = static_cast<int>(measure(after->list).threadChanges);
    result.travelAfterMm = travelOf(after->list);
    // Where relief leaves nothing of a thread run, its changes are not there either: then only that
    // every thread must be put on once is sure.
    if (changes != result.changesAfter) {
        const std::vector<ThreadUse> threads = measure(after->list).threads;
        const auto used = std::count_if(threads.begin(), threads.end(),
                                        [](const ThreadUse& t) { return t.stitches > 0; });
        result.lowerBound = std::min(result.lowerBound, std::max(0, static_cast<int>(used) - 1));
    }
    const bool better = result.changesAfter < result.changesBefore ||
                        (result.changesAfter == result.changesBefore &&
                         result.travelAfterMm < result.travelBeforeMm);
    if (better) {
        result.job = std::move(ordered);
        return result;
    }
    result.split.clear();
    result.changesAfter = result.changesBefore;
    result.lowerBound = std::min(result.lowerBound, result.changesAfter);
    result.travelAfterMm = result.travelBeforeMm;
    result.job.trimOverMm = options.trimOverMm;
    return result;
}

} // namespace rapt
