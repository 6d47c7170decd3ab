#include "standins/sewing_head.h"

#include "thread/measures.h"

namespace rapt::standins {
namespace {

/// Thread breaks for each stitch where the load is moderate; the others as shares of it.
constexpr double breaksSome = 1.0 / 4000, breaksMany = 1.0 / 350;
constexpr double needleShare = 0.12, jamShare = 0.10, powerShare = 0.05;

double uniform(std::mt19937_64& dice) { return static_cast<double>(dice() >> 11) * 0x1.0p-53; }

} // namespace

double mendingSeconds(StopKind kind, const Machine& machine) {
    switch (kind) {
    case StopKind::threadBreak:
        return 75;
    case StopKind::bobbinEmpty:
        return 60;
    case StopKind::needleBreak:
        return 180;
    case StopKind::jam:
        return 240;
    case StopKind::powerCut:
        return 300;
    case StopKind::coneChange:
        return machine.coneChangeSeconds;
    case StopKind::asked:
        return 0;
    }
    return 0;
}

bool parseFaults(const std::string& name, Faults& faults) {
    if (name != "none" && name != "some" && name != "many") return false;
    faults = name == "none" ? Faults::none : name == "some" ? Faults::some : Faults::many;
    return true;
}

SewingHead::SewingHead(SewingSetup s)
    : setup(std::move(s)), points(*setup.list), dice(setup.seed), onThread(setup.threadBefore) {
    bobbinMm = std::numeric_limits<double>::infinity();
    if (setup.faults == Faults::none) return;
    bobbinMm = setup.machine.bobbinM * 1000 * (0.1 + 0.9 * uniform(dice));
    if (auto map = LoadMap::measure(*setup.list)) load = std::move(*map);
}

void SewingHead::fillBobbin() {
    if (setup.faults != Faults::none) bobbinMm = setup.machine.bobbinM * 1000;
}

void SewingHead::goTo(std::size_t penetration) {
    done = std::min(penetration, points.count());
    jumped = true;
}

/// What stands between the last penetration and this one: trims, a change, the stitch itself.
double SewingHead::dueSeconds(std::size_t penetration) const {
    const std::size_t record = points.record(penetration);
    const Stitch& s = list().stitches[record];
    double due = 0;
    const std::size_t from = penetration == 0 ? 0 : points.record(penetration - 1) + 1;
    bool moved = jumped;
    if (!jumped || penetration == 0)
        for (std::size_t i = from; i < record; ++i) {
            due += list().stitches[i].op == Op::trim ? setup.machine.trimSeconds : 0;
            moved |= list().stitches[i].op == Op::jump;
        }
    const std::size_t thread = setup.threadOf[s.thread];
    if (onThread && *onThread != thread) due += changeSeconds(thread, setup.machine);
    const Stitch* before = moved || penetration == 0 ? nullptr : &list().stitches[from - 1];
    return due + stitchSecondsAfter(before, s, setup.machine, setup.fabric);
}

/// How much likelier things break where thread lies on thread.
double SewingHead::strain(Vec2 at) const {
    const double share = load ? load->layers(cellAt(at)) / setup.fabric.maxLayers : 0;
    const double over = std::max(0.0, share - 0.5);
    return std::min(0.6 + 6 * over * over, 10.0);
}

std::optional<StopKind> SewingHead::chance(std::size_t penetration) {
    if (provoked) return std::exchange(provoked, std::nullopt);
    if (setup.faults == Faults::none) return std::nullopt;
    // A fresh thread is held by its tail for the first stitches.
    if (penetration + 1 < threadStart(list(), points, penetration + 1) + resumeOverlap)
        return std::nullopt;
    const Stitch& s = list().stitches[points.record(penetration)];
    if (penetration > 0) bobbinMm -= spanMm(list().stitches[points.record(penetration - 1)], s);
    const double breaks = (setup.faults == Faults::some ? breaksSome : breaksMany) * strain(s.at());
    const double u = uniform(dice) / breaks;
    if (bobbinMm <= 0) return StopKind::bobbinEmpty;
    if (u < 1) return StopKind::threadBreak;
    if (u < 1 + needleShare) return StopKind::needleBreak;
    if (u < 1 + needleShare + jamShare) return StopKind::jam;
    if (u < 1 + needleShare + jamShare + powerShare) return StopKind::powerCut;
    return std::nullopt;
}

std::optional<StopKind> SewingHead::advance(double seconds, std::vector<SewnStitch>& log,
                                            std::size_t until) {
    now += seconds;
    while (!isDone()) {
        if (done >= until) {
            now = stand;
            return std::nullopt;
        }
        const double at = stand + dueSeconds(done);
        if (at > now) return std::nullopt;
        stand = at;
        onThread = setup.threadOf[list().stitches[points.record(done)].thread];
        jumped = false;
        log.push_back({stand, done});
        ++done;
        const auto stop = isDone() ? std::nullopt : chance(done - 1);
        if (!stop) continue;
        now = stand;
        return stop;
    }
    // What follows the last stitch is cut off as well.
    const std::size_t last = points.count() ? points.record(points.count() - 1) + 1 : 0;
    if (!jumped)
        for (std::size_t i = last; i < list().stitches.size(); ++i)
            stand += list().stitches[i].op == Op::trim ? setup.machine.trimSeconds : 0;
    jumped = true;
    now = stand;
    return std::nullopt;
}

} // namespace rapt::standins
