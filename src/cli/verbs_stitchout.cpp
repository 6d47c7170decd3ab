// estimate, sew, handover: how long a job takes, and the simulated machine that proves it.

#include "cli/output.h"
#include "cli/planned.h"

#include "base/file_io.h"
#include "base/paths.h"
#include "divide/sewn_hoopings.h"
#include "estimate/price.h"
#include "estimate/timing.h"
#include "formats/needles_file.h"
#include "formats/stick_folder.h"
#include "standins/sewing_run.h"

#include <fmt/format.h>
#include <memory>

namespace rapt::cli {
namespace {

using nlohmann::ordered_json;

struct EstimateArguments {
    std::string path, machine;
    int quantity = 0; ///< 0: the job's own
};

ordered_json secondsJson(const TimeParts& s, double n) {
    return {{"total", s.total() * n},
            {"sewing", s.sewing * n},
            {"thread_changes", s.threadChanges * n},
            {"trims", s.trims * n},
            {"clampings", s.clampings * n},
            {"registrations", s.registrations * n}};
}

ordered_json costJson(const Cost& c) {
    return {{"blank", c.blank},           {"thread", c.thread},     {"bobbin", c.bobbin},
            {"stabilizer", c.stabilizer}, {"wastage", c.wastage},   {"labour", c.labour},
            {"machine", c.machine},       {"overhead", c.overhead}, {"total", c.total()}};
}

Outcome estimate(const EstimateArguments& a) {
    const auto planned = plannedJob(a.path, a.machine, true);
    if (!planned) return planned.error();
    const auto work = workOf(planned->job.hoopings, planned->lists, planned->machine,
                             planned->fabric, planned->library);
    if (!work) return work.error().inside(a.path);
    const auto shop = loadShop(dataFolder(), userDataFolder());
    if (!shop) return shop.error();
    const int n = a.quantity > 0 ? a.quantity : planned->job.brief.quantity;
    Answer answer;
    ordered_json threads = ordered_json::array();
    for (const ThreadNeed& t : work->threads)
        threads.push_back({{"color", formatRgb(t.thread.color)},
                           {"name", t.thread.name},
                           {"length_m", t.topMm * n / 1000},
                           {"seconds", t.sewingSeconds * n}});
    answer.json = {{"machine", planned->machine.id},
                   {"quantity", n},
                   {"hoopings", planned->lists.size()},
                   {"divided_now", planned->dividedNow},
                   {"seconds", secondsJson(work->seconds, n)},
                   {"stitches", work->stitches * static_cast<std::size_t>(n)},
                   {"thread", threads},
                   {"bobbin_m", work->bobbinMm * n / 1000},
                   {"stabilizer_cm2", work->stabilizerCm2 * n}};
    const Price price = priceOf(*work, planned->job.brief, n, planned->machine, *shop);
    answer.json["cost"] = costJson(price.cost);
    answer.json["price"] = price.price;
    answer.json["margin"] = price.margin;
    answer.json["currency"] = shop->currency;
    answer.json["rates"] = shop->source;
    const TimeParts& s = work->seconds;
    answer.text = fmt::format(
        "{} for {}: sewing {}, thread changes {}, trims {}, hooping {}, registering {}\n",
        formatDuration(s.total() * n), n, formatDuration(s.sewing * n),
        formatDuration(s.threadChanges * n), formatDuration(s.trims * n),
        formatDuration(s.clampings * n), formatDuration(s.registrations * n));
    for (const ThreadNeed& t : work->threads)
        answer.text += fmt::format("  {}  {:<24} {:>7.1f} m\n", formatRgb(t.thread.color),
                                   t.thread.name, t.topMm * n / 1000);
    answer.text += fmt::format("bobbin {:.1f} m, stabilizer {:.0f} cm²\n",
                               work->bobbinMm * n / 1000, work->stabilizerCm2 * n);
    answer.text += fmt::format("cost {:.2f} {}, price {:.2f} ({:.2f} each), margin {:.0f} %; {}\n",
                               price.cost.total(), shop->currency, price.price, price.each(),
                               100 * price.margin, shop->source);
    return answer;
}

struct SewArguments {
    std::string path, machine, out;
    std::string faults = "none";
    int hooping = 0;
    std::uint64_t seed = 1;
};

std::string logCsv(const Planned& planned, const standins::SewingLog& log) {
    std::vector<Penetrations> points;
    std::vector<std::array<std::string, 256>> colors;
    for (const HoopingList& h : planned.lists) {
        points.emplace_back(h.list);
        auto& names = colors.emplace_back();
        for (const Thread& t : h.list.threads) names[t.index] = formatRgb(t.color);
    }
    std::string text = "seconds,hooping,x_mm,y_mm,color\n";
    text.reserve(log.lines.size() * 40);
    for (const standins::SewnLine& line : log.lines) {
        const Stitch& s =
            planned.lists[line.hooping].list.stitches[points[line.hooping].record(line.number)];
        fmt::format_to(std::back_inserter(text), "{:.3f},{},{},{},{}\n", line.seconds,
                       line.hooping + 1, s.at().x, s.at().y, colors[line.hooping][s.thread]);
    }
    return text;
}

ordered_json logJson(const standins::SewingLog& log) {
    ordered_json events = ordered_json::array(), resumed = ordered_json::array();
    for (const auto& e : log.events)
        events.push_back({{"seconds", e.seconds},
                          {"hooping", e.hooping + 1},
                          {"stitch", e.sewn},
                          {"kind", nameOf(e.kind)}});
    for (const auto& r : log.resumed)
        resumed.push_back({{"hooping", r.hooping + 1}, {"stitch", r.sewn}, {"overlap", r.overlap}});
    return {{"seconds", log.seconds},
            {"stitches", log.lines.size()},
            {"events", events},
            {"resumed", resumed}};
}

Outcome sew(const SewArguments& a) {
    auto planned = plannedJob(a.path, a.machine, false);
    if (!planned) return planned.error();
    planned->lists = openLists(planned->job, std::move(planned->lists));
    if (a.hooping != 0)
        if (const Status there = hasHooping(*planned, a.hooping, a.path); !there)
            return there.error();
    standins::SewingRequest request{planned->job.hoopings, planned->lists, planned->machine,
                                    planned->fabric};
    standins::parseFaults(a.faults, request.faults);
    request.seed = a.seed;
    if (a.hooping > 0) request.only = static_cast<std::size_t>(a.hooping - 1);
    const standins::SewingLog log = sewJob(request);
    const Status written = writeWholeFile(a.out, logCsv(*planned, log));
    if (!written) return written.error();
    Answer answer;
    answer.json = logJson(log);
    answer.text =
        fmt::format("{} penetrations in {}\n", log.lines.size(), formatDuration(log.seconds));
    for (std::size_t i = 0; i < log.events.size(); ++i)
        answer.text +=
            fmt::format("  {}  hooping {}, after stitch {}: {}, resumed {} back\n",
                        formatDuration(log.events[i].seconds), log.events[i].hooping + 1,
                        log.events[i].sewn, nameOf(log.events[i].kind), log.resumed[i].overlap);
    return answer;
}

struct HandoverArguments {
    std::string path, machine, to;
    bool keepOlder = false;
};

/// The needles as they are before the first hooping, and what is changed later.
Result<ordered_json> needlesJson(const Planned& planned, std::string& text) {
    auto threaded = readNeedles(userDataFolder());
    if (!threaded) return threaded.error();
    Needles& now = (*threaded)[planned.machine.id];
    now.resize(static_cast<std::size_t>(planned.machine.needles));
    const auto plan = planNeedles(threadSteps(planned.lists, planned.fabric), now);
    if (!plan) return plan.error();
    ordered_json list = ordered_json::array();
    for (std::size_t n = 0; n < plan->start.size(); ++n) {
        const auto& cone = plan->start[n];
        if (!cone) continue;
        list.push_back({{"needle", n + 1},
                        {"color", formatRgb(cone->thread.color)},
                        {"name", cone->thread.name}});
        text += fmt::format("  needle {}: {} {}\n", n + 1, formatRgb(cone->thread.color),
                            cone->thread.name);
    }
    std::size_t first = 0; // hooping with anything to sew
    while (first < planned.lists.size() && planned.lists[first].stitches == 0) ++first;
    for (const ConeChange& c : plan->changes) {
        if (c.hooping <= first && c.at == 0) continue;
        list.push_back({{"needle", c.needle},
                        {"color", formatRgb(c.thread.color)},
                        {"name", c.thread.name},
                        {"hooping", c.hooping + 1},
                        {"after_stitch", c.at}});
        text += fmt::format(
            "  then needle {}: {}, in hooping {} {}\n", c.needle, c.thread.name, c.hooping + 1,
            c.at == 0 ? std::string("before it begins") : fmt::format("after stitch {}", c.at));
    }
    for (const ShortCone& c : plan->runOut)
        text += fmt::format("  needle {} ({}) has {:.0f} m left, {:.0f} m are needed\n", c.needle,
                            c.thread.name, c.leftM, c.neededM);
    return list;
}

Outcome handover(const HandoverArguments& a) {
    auto planned = plannedJob(a.path, a.machine, false);
    if (!planned) return planned.error();
    planned->lists = openLists(planned->job, std::move(planned->lists));
    const auto receiver = readStick(a.to, planned->machine);
    if (!receiver) return receiver.error();
    const auto plan = planHandover(planned->job, planned->lists, planned->machine, planned->library,
                                   *receiver, !a.keepOlder);
    if (!plan) return plan.error().inside(a.path);
    Answer answer;
    auto needles = needlesJson(*planned, answer.text);
    if (!needles) return needles.error().inside(a.path);
    const std::vector<std::string> remove =
        a.keepOlder ? std::vector<std::string>() : plan->leftOver();
    const Status written = writeStick(a.to, *plan, remove);
    if (!written) return written.error();
    ordered_json files = ordered_json::array(), removed = ordered_json::array();
    std::string lines;
    for (const HandoverFile& f : plan->files) {
        files.push_back({{"hooping", f.hooping + 1}, {"file", f.file}, {"bytes", f.text.size()}});
        lines += fmt::format("{}  hooping {}, read back and equal\n", f.file, f.hooping + 1);
    }
    for (const std::string& name : remove) {
        removed.push_back(name);
        lines += name + "  of an earlier version, removed\n";
    }
    answer.text = lines + answer.text;
    answer.json = {{"machine", planned->machine.id},
                   {"files", files},
                   {"removed", removed},
                   {"needles", *needles}};
    return answer;
}

} // namespace

void addStitchOutVerbs(Run& run) {
    auto e = std::make_shared<EstimateArguments>();
    CLI::App* verb = run.addVerb("estimate", "Time, thread and stabilizer that a job takes",
                                 [e] { return estimate(*e); });
    verb->add_option("JOB", e->path, "job")->required();
    verb->add_option("--machine", e->machine, "machine id (the job's own)");
    verb->add_option("--quantity", e->quantity, "items (as the job says)")
        ->check(CLI::Range(1, 1'000'000));

    auto s = std::make_shared<SewArguments>();
    verb = run.addVerb("sew", "The simulated machine sews the job to its end",
                       [s] { return sew(*s); });
    verb->add_option("JOB", s->path, "job")->required();
    verb->add_option("--hooping", s->hooping, "only this one, from 1");
    verb->add_option("--machine", s->machine, "machine id (the job's own)");
    verb->add_option("--seed", s->seed, "of what goes wrong (1)");
    verb->add_option("--faults", s->faults, "none, some or many (none)")
        ->check(CLI::IsMember({"none", "some", "many"}));
    verb->add_option("-o", s->out, "CSV of every penetration to write")->required();

    auto h = std::make_shared<HandoverArguments>();
    verb = run.addVerb("handover", "The hoopings as files that a machine takes",
                       [h] { return handover(*h); });
    verb->add_option("JOB", h->path, "job")->required();
    verb->add_option("--machine", h->machine, "machine id (the job's own)");
    verb->add_option("--to", h->to, "folder of the stick")->required();
    verb->add_flag("--keep-older", h->keepOlder, "leave files of an earlier version there");
}

} // namespace rapt::cli
