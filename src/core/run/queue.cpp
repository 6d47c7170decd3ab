#include "run/queue.h"

#include <algorithm>
#include <fmt/format.h>
#include <limits>
#include <map>

namespace rapt {
namespace {

constexpr double never = std::numeric_limits<double>::infinity();

/// One machine on its way through its items.
struct Line {
    std::vector<std::size_t> items;
    std::size_t preparing = 0; ///< the next that hands have not prepared
    double free = 0;           ///< the machine stands from then on
};

class Scheduling {
public:
    Scheduling(const std::vector<QueueItem>& q, bool s) : items(q), spare(s) {
        std::map<std::string, std::size_t> known;
        for (std::size_t i = 0; i < q.size(); ++i) {
            const auto [at, fresh] = known.try_emplace(q[i].machine, lines.size());
            if (fresh) lines.emplace_back();
            lines[at->second].items.push_back(i);
        }
        plan.times.resize(q.size());
    }

    QueuePlan run() {
        for (Line& line : lines) startRunning(line);
        while (Line* line = earliest()) prepare(*line);
        std::sort(plan.person.begin(), plan.person.end(),
                  [](const PersonNeed& a, const PersonNeed& b) { return a.at < b.at; });
        return std::move(plan);
    }

private:
    /// When hands could begin with the next item of a line.
    double ready(const Line& line) const {
        if (line.preparing >= line.items.size()) return never;
        const QueueItem& item = items[line.items[line.preparing]];
        const bool first = line.preparing == 0;
        if (first) return 0;
        const QueueItem& before = items[line.items[line.preparing - 1]];
        const QueueTimes& times = plan.times[line.items[line.preparing - 1]];
        const bool sameFrame = item.frame == before.frame && !spare;
        const bool stands = sameFrame || item.onMachine >= item.handsBefore;
        return stands ? times.until : times.from; // the rest can be done beside a machine that sews
    }
    Line* earliest() {
        Line* best = nullptr;
        for (Line& line : lines)
            if (ready(line) < never && (!best || ready(line) < ready(*best))) best = &line;
        return best;
    }
    /// A time from which the person has nothing else to do for so long.
    double freeFrom(double at, double seconds) const {
        for (bool moved = true; moved;) {
            moved = false;
            for (const PersonNeed& n : plan.person)
                if (at < n.until && n.at < at + seconds) {
                    at = n.until;
                    moved = true;
                }
        }
        return at;
    }
    void need(double at, double seconds, std::size_t item, std::string what) {
        if (seconds > 0) plan.person.push_back({at, at + seconds, item, std::move(what)});
    }
    void startRunning(Line& line) {
        const std::size_t i = line.items.front();
        if (!items[i].running) return;
        plan.times[i] = {0, 0, -items[i].already, 0};
        sew(line, i, 0);
        ++line.preparing;
    }
    void prepare(Line& line) {
        const std::size_t i = line.items[line.preparing];
        const QueueItem& item = items[i];
        const double beside = std::max(0.0, item.handsBefore - item.onMachine);
        double from = freeFrom(ready(line), beside);
        need(from, beside, i, "clamp and register");
        double until = from + beside;
        if (item.onMachine > 0) {
            const double at = freeFrom(std::max(until, line.free), item.onMachine);
            need(at, item.onMachine, i,
                 item.standing.empty() ? "move the frame on" : item.standing);
            until = at + item.onMachine;
            if (beside <= 0) from = at;
        }
        plan.times[i].handsFrom = from;
        plan.times[i].handsUntil = until;
        ++line.preparing;
        sew(line, i, std::max(plan.times[i].handsUntil, line.free));
    }
    /// Sews an item from then on; its stops wait until the person comes.
    void sew(Line& line, std::size_t i, double from) {
        const QueueItem& item = items[i];
        double now = from + item.late, done = item.already;
        for (const QueueItem::Stop& stop : item.stops) {
            if (stop.after < done) continue;
            now += stop.after - done;
            done = stop.after;
            const double hands = freeFrom(now, stop.hands);
            need(hands, stop.hands, i, stop.what);
            now = hands + stop.hands;
        }
        now += item.sewing - done;
        plan.times[i].from = from;
        plan.times[i].until = now;
        line.free = now;
        plan.until = std::max(plan.until, now);
    }

    const std::vector<QueueItem>& items;
    bool spare;
    std::vector<Line> lines;
    QueuePlan plan;
};

} // namespace

QueuePlan planQueue(const std::vector<QueueItem>& items, bool spareFrames) {
    return Scheduling(items, spareFrames).run();
}

std::vector<QueueItem> queueItemsOf(const Job& job, const std::vector<HoopingList>& lists,
                                    const NeedlePlan& needles, const Machine& machine,
                                    const Fabric& fabric) {
    std::vector<QueueItem> items;
    for (std::size_t h = 0; h < lists.size(); ++h) {
        const HandlingBefore before = handlingBefore(job.hoopings, h, machine);
        QueueItem item;
        item.id = fmt::format("{}/{}", job.identity.text, h + 1);
        item.job = job.name;
        item.jobId = job.identity.text;
        item.hooping = static_cast<int>(h) + 1;
        item.machine = machine.id;
        item.frame = job.hoopings[h].hoop;
        item.handsBefore = before.clamping + before.registration;
        const bool again = h > 0 && job.hoopings[h].clamping == job.hoopings[h - 1].clamping;
        item.onMachine = again ? before.clamping : 0;
        if (again) item.standing = "move the frame on";
        const std::vector<float> seconds = secondsUpTo(lists[h].list, machine, fabric);
        item.sewing = seconds.empty() ? 0 : seconds.back();
        double saved = 0; // a cone change takes the place of a change of needles
        for (const ConeChange& c : needles.changes) {
            if (c.hooping != h) continue;
            if (c.at == 0) {
                item.handsBefore += machine.coneChangeSeconds;
                item.onMachine += machine.coneChangeSeconds;
                item.standing += item.standing.empty()                                ? "put on "
                                 : item.standing.find("put on ") == std::string::npos ? ", put on "
                                                                                      : ", ";
                item.standing += c.thread.name;
                continue;
            }
            item.stops.push_back(
                {seconds[c.at - 1] - saved, machine.coneChangeSeconds, "put on " + c.thread.name});
            saved += machine.threadChangeSeconds;
        }
        item.sewing -= saved;
        items.push_back(std::move(item));
    }
    return items;
}

} // namespace rapt
