#include "standins/machine.h"

#include "base/json_fields.h"
#include "formats/stitch_csv.h"
#include "geometry/polygon.h"
#include "handover/handover.h"
#include "standins/thumbnail.h"
#include "thread/measures.h"

#include <fmt/format.h>

namespace rapt::standins {
using nlohmann::json;
namespace {

constexpr std::size_t counterStep = 10; ///< after a power cut the counter is that old
constexpr double tellEverySeconds = 0.03;

const std::map<std::string, Vec2> boxPoints{
    {"far-left", {-1, -1}}, {"far", {0, -1}},   {"far-right", {1, -1}},
    {"left", {-1, 0}},      {"centre", {0, 0}}, {"right", {1, 0}},
    {"near-left", {-1, 1}}, {"near", {0, 1}},   {"near-right", {1, 1}}};

/// What a request asks is refused with these words.
struct Refusal {
    std::string reason;
};

std::string base64(const std::string& bytes) {
    static const char* digits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        const auto at = [&](std::size_t k) {
            return k < bytes.size() ? static_cast<std::uint8_t>(bytes[k]) : 0u;
        };
        const unsigned three = at(i) << 16 | at(i + 1) << 8 | at(i + 2);
        for (int k = 0; k < 4; ++k)
            out += i + static_cast<std::size_t>(k) > bytes.size()
                       ? '='
                       : digits[three >> (18 - 6 * k) & 63];
    }
    return out;
}

} // namespace

struct SimulatedMachine::Design {
    std::shared_ptr<const StitchList> list;
    std::string frame, fabric, mark, origin, originId;
    int hooping = 0;
    std::int64_t bytes = 0;
    std::vector<std::size_t> stops; ///< penetrations before which a cone must be changed
};

struct SimulatedMachine::State {
    enum class Is { off, idle, ready, sewing, standing };

    MachineSetup setup;
    std::map<std::string, Design> memory;
    std::string selected;
    std::optional<SewingHead> head;
    Is is = Is::idle;
    std::optional<StopKind> why;
    bool mended = true, footDown = false, needleDown = false;
    std::string frame; ///< on its arm
    Vec2 pointer, offset;
    double speed = 1;
    double sinceTold = 0;
    std::size_t told = 0;
    std::size_t startedFrom = 0;
    bool sewnToTheEnd = false; ///< the design on it, since it was selected or started
    std::vector<std::array<std::size_t, 2>> ranges; ///< penetrations as they were made
    std::vector<json> toTell;

    const Design& design() const {
        const auto found = memory.find(selected);
        if (found == memory.end()) throw Refusal{"no design is selected"};
        return found->second;
    }
    Vec2 placeOf(std::size_t penetration) const {
        const StitchList& list = head->list();
        if (head->penetrations().count() == 0) return offset;
        const std::size_t n = std::min(penetration, head->penetrations().count() - 1);
        return list.stitches[head->penetrations().record(n)].at() + offset;
    }
    void mustStand() const {
        if (is == Is::sewing) throw Refusal{"it is sewing; stop it first"};
    }

    json status() const;
    json store(const Fields& f);
    json list() const;
    json preview(const Fields& f) const;
    json remove(const Fields& f);
    void mustBeMended() const {
        if (!mended)
            throw Refusal{fmt::format("it stands for {}; that must be mended first",
                                      why ? nameOf(*why) : "a stop")};
    }
    json select(const Fields& f);
    json jog(const Fields& f);
    json walk(const Fields& f);
    json place(const Fields& f);
    json start(const Fields& f);
    json stop();
    json step(const Fields& f);
    json hands(const Fields& f);
    json provoke(const Fields& f);
    json sewnRanges() const;
    json carryOut(const std::string& what, const Fields& f);
    void tell(bool always);
    void stopped(StopKind kind);
    void noteRange();
    std::int64_t used() const {
        std::int64_t sum = 0;
        for (const auto& [name, d] : memory) sum += d.bytes;
        return sum;
    }
};

json SimulatedMachine::State::status() const {
    static const char* words[] = {"off", "idle", "ready", "sewing", "standing"};
    json s{{"machine", setup.machine.id},
           {"state", words[static_cast<int>(is)]},
           {"why", why ? json(nameOf(*why)) : json(nullptr)},
           {"mended", mended},
           {"design", selected},
           {"frame", frame},
           {"foot", footDown ? "down" : "up"},
           {"needle_down", needleDown},
           {"pointer", {pointer.x, pointer.y}},
           {"speed", speed},
           {"places", setup.machine.places - static_cast<int>(memory.size())},
           {"free_bytes", setup.machine.memoryBytes - used()}};
    if (!head) return s;
    s["mark"] = design().mark;
    s["sewn"] = head->sewn();
    s["of"] = head->penetrations().count();
    s["seconds"] = head->seconds();
    s["done"] = sewnToTheEnd;
    return s;
}

json SimulatedMachine::State::store(const Fields& f) {
    const std::string name = f.text("name");
    if (name.empty() || name.size() > 255 || name.find('/') != std::string::npos)
        throw Refusal{"the name cannot be shown"};
    const std::string text = f.text("text");
    auto list = parseStitchCsv(text, name);
    if (!list) throw Refusal{list.error().line()};
    if (!memory.contains(name) && static_cast<int>(memory.size()) >= setup.machine.places)
        throw Refusal{fmt::format("all {} places are taken", setup.machine.places)};
    const auto bytes = static_cast<std::int64_t>(text.size());
    const std::int64_t before = memory.contains(name) ? memory[name].bytes : 0;
    if (used() - before + bytes > setup.machine.memoryBytes) throw Refusal{"the memory is full"};
    if (name == selected) {
        mustStand();
        head.reset();
        selected.clear();
        is = Is::idle;
    }
    Design d;
    const StoredDesign origin = originOf(*list);
    d.origin = origin.job;
    d.originId = origin.jobId;
    d.hooping = origin.hooping;
    d.mark = origin.mark;
    d.frame = f.text("frame", "");
    d.fabric = f.text("fabric", "canvas");
    d.bytes = bytes;
    for (const json& n : f.array("stops"))
        d.stops.push_back(static_cast<std::size_t>(numberOf(n, "stops", 0, 1e9)));
    std::sort(d.stops.begin(), d.stops.end());
    d.list = std::make_shared<const StitchList>(std::move(*list));
    memory[name] = std::move(d);
    return json{{"bytes", bytes}};
}

json SimulatedMachine::State::list() const {
    json designs = json::array();
    for (const auto& [name, d] : memory)
        designs.push_back({{"name", name},
                           {"bytes", d.bytes},
                           {"job", d.origin},
                           {"job_id", d.originId},
                           {"hooping", d.hooping},
                           {"mark", d.mark},
                           {"frame", d.frame}});
    return json{{"designs", designs}};
}

json SimulatedMachine::State::preview(const Fields& f) const {
    const std::string name = f.text("name");
    const auto found = memory.find(name);
    if (found == memory.end()) throw Refusal{"there is no design of that name"};
    const Measures m = measure(*found->second.list);
    json threads = json::array();
    for (const ThreadUse& t : m.threads)
        threads.push_back({{"name", t.thread.name},
                           {"color", formatRgb(t.thread.color)},
                           {"stitches", t.stitches}});
    const auto png = encodePng(thumbnail(*found->second.list, 240, 160));
    json reply{{"name", name},
               {"stitches", m.stitches},
               {"width_mm", m.extents.width()},
               {"height_mm", m.extents.height()},
               {"threads", threads},
               {"picture", png ? base64(*png) : std::string()}};
    if (f.flag("text", false)) reply["text"] = formatStitchCsv(*found->second.list);
    return reply;
}

json SimulatedMachine::State::remove(const Fields& f) {
    const std::string name = f.text("name");
    if (!memory.contains(name)) throw Refusal{"there is no design of that name"};
    if (name == selected) {
        mustStand();
        head.reset();
        selected.clear();
        is = Is::idle;
    }
    memory.erase(name);
    return json::object();
}

json SimulatedMachine::State::select(const Fields& f) {
    mustStand();
    mustBeMended(); // another design mends no needle
    const std::string name = f.text("name");
    if (!memory.contains(name)) throw Refusal{"there is no design of that name"};
    selected = name;
    sewnToTheEnd = false;
    SewingSetup s;
    s.list = memory[name].list;
    s.machine = setup.machine;
    const auto fabric = setup.library.fabric(memory[name].fabric);
    if (fabric) s.fabric = *fabric;
    // Every thread has a needle; those beyond are changed at the stops.
    s.machine.needles = 256;
    for (const Stitch& stitch : s.list->stitches) s.threadOf[stitch.thread] = stitch.thread;
    s.faults = setup.faults;
    s.seed = setup.seed * 1'000'003 + memory.size();
    head.emplace(std::move(s));
    why.reset();
    mended = true;
    offset = {};
    ranges.clear();
    is = Is::ready;
    return status();
}

json SimulatedMachine::State::jog(const Fields& f) {
    mustStand();
    if (needleDown) throw Refusal{"the needle is down; raise it first"};
    Vec2 to = pointer + Vec2{f.number("dx", 0, -1000, 1000), f.number("dy", 0, -1000, 1000)};
    if (f.has("x") && f.has("y")) to = {f.number("x", -1000, 1000), f.number("y", -1000, 1000)};
    const auto hoop = setup.library.hoop(frame);
    if (hoop && !hoop->reaches(to)) throw Refusal{"the frame cannot go farther that way"};
    pointer = to;
    return json{{"pointer", {pointer.x, pointer.y}}};
}

json SimulatedMachine::State::walk(const Fields& f) {
    mustStand();
    if (needleDown) throw Refusal{"the needle is down; raise it first"};
    const StitchList& stitched = *design().list;
    const std::string what = f.text("what", "box");
    json way = json::array();
    Polyline points;
    if (what == "hull") {
        for (const Stitch& s : stitched.stitches)
            if (s.op == Op::stitch) points.push_back(s.at());
        points = convexHull(points);
    } else if (what == "box") {
        for (const Vec2& p : extentsOf(stitched).corners()) points.push_back(p);
    } else {
        throw Refusal{"what is walked round is 'box' or 'hull'"};
    }
    for (const Vec2& p : points) way.push_back({p.x + offset.x, p.y + offset.y});
    if (!points.empty()) pointer = points.front() + offset;
    return json{{"way", way}};
}

json SimulatedMachine::State::place(const Fields& f) {
    mustStand();
    const auto point = boxPoints.find(f.text("point", "centre"));
    if (point == boxPoints.end()) throw Refusal{"there is no such point of the design"};
    const Box box = extentsOf(*design().list);
    const Vec2 at =
        box.centre() + Vec2{point->second.x * box.width() / 2, point->second.y * box.height() / 2};
    const Vec2 wanted = pointer - at;
    const auto hoop = setup.library.hoop(frame);
    for (const Stitch& s : design().list->stitches)
        if (hoop && s.op == Op::stitch && !hoop->reaches(s.at() + wanted))
            throw Refusal{"the design would leave the field"};
    offset = wanted;
    return json{{"offset", {offset.x, offset.y}}};
}

json SimulatedMachine::State::start(const Fields& f) {
    mustStand();
    if (!head) throw Refusal{"no design is selected"};
    if (is == Is::off) throw Refusal{"the power is off"};
    mustBeMended();
    if (!footDown) throw Refusal{"the foot is up"};
    const std::string wanted = design().frame;
    if (!wanted.empty() && frame != wanted)
        throw Refusal{frame.empty()
                          ? fmt::format("no frame is on; the design is for {}", wanted)
                          : fmt::format("the frame {} is on, the design is for {}", frame, wanted)};
    const auto from = static_cast<std::size_t>(
        f.integer("from", static_cast<int>(head->sewn()), 0, 1'000'000'000));
    if (from > head->penetrations().count()) throw Refusal{"the design has fewer stitches"};
    if (from != head->sewn()) head->goTo(from);
    speed = f.number("speed", speed, 0.1, 10'000);
    needleDown = false;
    why.reset();
    startedFrom = from;
    sewnToTheEnd = false;
    ranges.push_back({from, from});
    told = from;
    is = Is::sewing;
    return status();
}

json SimulatedMachine::State::stop() {
    if (is != Is::sewing) throw Refusal{"it does not sew"};
    stopped(StopKind::asked);
    mended = true;
    return status();
}

json SimulatedMachine::State::step(const Fields& f) {
    mustStand();
    if (!head) throw Refusal{"no design is selected"};
    const int by = f.integer("by", 1, -1'000'000, 1'000'000);
    std::size_t to = head->sewn();
    if (f.text("unit", "stitch") == "thread") {
        for (int i = 0; i < by; ++i) to = nextThread(head->list(), head->penetrations(), to);
        for (int i = 0; i > by; --i) {
            const std::size_t start = threadStart(head->list(), head->penetrations(), to);
            to = start < to ? start : to;
        }
    } else {
        const auto moved = static_cast<long long>(to) + by;
        to = static_cast<std::size_t>(
            std::clamp<long long>(moved, 0, static_cast<long long>(head->penetrations().count())));
    }
    head->goTo(to);
    pointer = placeOf(to);
    return status();
}

json SimulatedMachine::State::hands(const Fields& f) {
    if (f.has("power")) {
        const bool on = f.text("power") == "on";
        if (!on && is != Is::off) {
            if (is == Is::sewing) stopped(StopKind::powerCut);
            is = Is::off;
        } else if (on && is == Is::off) {
            is = head ? Is::standing : Is::idle;
            mended = true;
        }
    }
    if (is == Is::sewing) throw Refusal{"it is sewing; hands off"};
    if (f.has("mount")) frame = f.text("mount");
    if (f.has("foot")) footDown = f.text("foot") == "down";
    if (f.has("needle")) needleDown = f.text("needle") == "down";
    if (f.flag("mend", false) && is != Is::off) {
        if (why == StopKind::bobbinEmpty && head) head->fillBobbin();
        mended = true;
    }
    return status();
}

json SimulatedMachine::State::provoke(const Fields& f) {
    StopKind kind{};
    if (!parseStopKind(f.text("kind"), kind) || !head) throw Refusal{"nothing to provoke"};
    head->provoke(kind);
    return json::object();
}

json SimulatedMachine::State::sewnRanges() const {
    json all = json::array();
    for (const auto& r : ranges) all.push_back({r[0], r[1]});
    return json{{"ranges", all}};
}

void SimulatedMachine::State::noteRange() {
    if (!ranges.empty()) ranges.back()[1] = std::max(ranges.back()[1], head->sewn());
}

void SimulatedMachine::State::stopped(StopKind kind) {
    noteRange();
    tell(true);
    why = kind;
    mended = kind == StopKind::asked;
    is = kind == StopKind::powerCut ? Is::off : Is::standing;
    const Vec2 at = placeOf(head->sewn() > 0 ? head->sewn() - 1 : 0);
    toTell.push_back({{"event", "stopped"},
                      {"kind", nameOf(kind)},
                      {"sewn", head->sewn()},
                      {"seconds", head->seconds()},
                      {"at", {at.x, at.y}}});
    // What a counter remembers without power is a little old.
    if (kind == StopKind::powerCut) head->goTo(head->sewn() / counterStep * counterStep);
}

void SimulatedMachine::State::tell(bool always) {
    if (!head || (!always && sinceTold < tellEverySeconds) || head->sewn() == told) return;
    told = head->sewn();
    sinceTold = 0;
    const Vec2 at = placeOf(told > 0 ? told - 1 : 0);
    toTell.push_back(
        {{"event", "sewn"}, {"sewn", told}, {"seconds", head->seconds()}, {"at", {at.x, at.y}}});
}

json SimulatedMachine::State::carryOut(const std::string& what, const Fields& f) {
    if (is == Is::off && what != "status" && what != "hands" && what != "hello" && what != "ranges")
        throw Refusal{"the power is off"};
    if (what == "hello")
        return json{{"protocol", 1}, {"machine", setup.machine.id}, {"name", setup.machine.name}};
    if (what == "status") return status();
    if (what == "list") return list();
    if (what == "store") return store(f);
    if (what == "preview") return preview(f);
    if (what == "delete") return remove(f);
    if (what == "select") return select(f);
    if (what == "jog") return jog(f);
    if (what == "walk") return walk(f);
    if (what == "place") return place(f);
    if (what == "start") return start(f);
    if (what == "stop") return stop();
    if (what == "step") return step(f);
    if (what == "hands") return hands(f);
    if (what == "provoke") return provoke(f);
    if (what == "ranges") return sewnRanges();
    if (what == "speed") {
        speed = f.number("factor", 0.1, 10'000);
        return json::object();
    }
    throw Refusal{fmt::format("it does not know '{}'", what)};
}

SimulatedMachine::SimulatedMachine(MachineSetup setup) : state(std::make_unique<State>()) {
    state->setup = std::move(setup);
}

SimulatedMachine::~SimulatedMachine() = default;

json SimulatedMachine::answer(const json& request) {
    json reply;
    try {
        const Fields f(request, "");
        reply = state->carryOut(f.text("do"), f);
        reply["ok"] = true;
    } catch (const Refusal& r) {
        reply = {{"ok", false}, {"reason", r.reason}};
    } catch (const FieldError& e) {
        reply = {{"ok", false}, {"reason", e.place + ": " + e.reason}};
    }
    if (request.is_object() && request.contains("id")) reply["id"] = request["id"];
    return reply;
}

std::vector<json> SimulatedMachine::tick(double seconds) {
    State& s = *state;
    s.sinceTold += seconds;
    if (s.is == State::Is::sewing) {
        std::vector<SewnStitch> sewn;
        const auto& stops = s.design().stops;
        const auto next = std::upper_bound(stops.begin(), stops.end(), s.startedFrom);
        const std::size_t until = next != stops.end() ? *next : s.head->penetrations().count();
        const auto stop = s.head->advance(seconds * s.speed, sewn, until);
        if (!stop && next != stops.end() && s.head->sewn() == until) {
            s.stopped(StopKind::coneChange);
        } else if (stop) {
            s.stopped(*stop);
        } else if (s.head->isDone()) {
            s.noteRange();
            s.tell(true);
            s.is = State::Is::standing;
            s.sewnToTheEnd = true;
            s.toTell.push_back(
                {{"event", "done"}, {"sewn", s.head->sewn()}, {"seconds", s.head->seconds()}});
        } else {
            s.noteRange();
            s.tell(false);
        }
    }
    return std::exchange(s.toTell, {});
}

} // namespace rapt::standins
