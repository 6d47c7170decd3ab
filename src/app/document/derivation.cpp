#include "app/document/derivation.h"

#include "job/edit_weigh.h"
#include "load/remedies.h"

namespace rapt::app {
namespace {

std::size_t placeOf(Phase phase) { return static_cast<std::size_t>(phase); }

/// The first finding whose remedies are open, the preferred one before the others.
std::optional<std::size_t> openFinding(const std::vector<Finding>& findings,
                                       const Derivation::Place& preferred) {
    std::optional<std::size_t> first;
    for (std::size_t i = findings.size(); i-- > 0;) {
        if (!findings[i].remediesOpen) continue;
        if (preferred == Derivation::Place{findings[i].kind, findings[i].at}) return i;
        first = i;
    }
    return first;
}

/// Everything that is wrong, as it is listed.
std::shared_ptr<const std::vector<Finding>> allFindings(const Derived& d) {
    std::vector<Finding> all = d.unsewable;
    all.insert(all.end(), d.found.begin(), d.found.end());
    if (d.planned) all.insert(all.end(), d.planned->findings.begin(), d.planned->findings.end());
    std::stable_sort(all.begin(), all.end(), worseThan);
    return std::make_shared<const std::vector<Finding>>(std::move(all));
}

Finding unknownFabric(const Error& error) {
    Finding f;
    f.severity = Severity::stop;
    f.kind = "fabric";
    f.text = "The load cannot be judged: " + error.reason;
    return f;
}

} // namespace

/// Looking for remedies goes on from finding to finding with one trial map.
struct Derivation::RemedyWork {
    RemedyWork(Input i, const Derived& known, const Fabric& f, StitchCache& cache)
        : input(std::move(i)), sewn(known.sewn), weighed(known.weighed),
          fabric(f), job{input.job, *sewn, weighed->load, weighed->facts, fabric},
          seeker(job, cache, judgeWith(f)) {}

    Input input;
    std::shared_ptr<const StitchedJob> sewn;
    std::shared_ptr<const WeighedThread> weighed;
    Fabric fabric;
    WeighedJob job;
    RemedySeeker seeker;
};

Derivation::Derivation(QObject* parent) : QObject(parent) { pool.setMaxThreadCount(1); }

Derivation::~Derivation() {
    stopper.request_stop();
    pool.waitForDone();
}

/// What does not matter to a part is left away, so that its change does not stop it.
Derivation::Input Derivation::inputOf(Phase phase, const Input& all) {
    Input input;
    input.job.pieces = all.job.pieces;
    input.job.repeats = all.job.repeats;
    input.job.trimOverMm = all.job.trimOverMm;
    if (phase == Phase::stitches || phase == Phase::comparison) return input;
    input.library = all.library;
    input.job.brief.fabric = all.job.brief.fabric;
    input.job.brief.machine = all.job.brief.machine;
    if (phase == Phase::hoopings) {
        input.job.hoopings = all.job.hoopings;
        input.job.cuts = all.job.cuts;
        input.job.registrations = all.job.registrations;
        input.job.brief.joinLimitMm = all.job.brief.joinLimitMm;
        input.job.brief.floated = all.job.brief.floated;
    }
    if (phase != Phase::weight) input.job.cloth = all.job.cloth;
    return input;
}

void Derivation::request(const Job& job, std::shared_ptr<const Library> library) {
    wanted = Input{job, std::move(library)};
    if (running && !(inputOf(*running, *wanted) == runningOn)) stopper.request_stop();
    if (isBusy()) emit started();
    startNext();
}

void Derivation::setComparing(bool on) {
    comparing = on;
    startNext();
}

void Derivation::seekFirst(const Finding& finding) { preferred = {finding.kind, finding.at}; }

bool Derivation::isWanted(Phase phase) const { return phase != Phase::comparison || comparing; }

bool Derivation::isDone(Phase phase) const {
    return done[placeOf(phase)] && wanted && *done[placeOf(phase)] == inputOf(phase, *wanted);
}

bool Derivation::isBusy() const {
    if (!wanted) return true;
    for (std::size_t i = 0; i < placeOf(Phase::remedies); ++i)
        if (isWanted(static_cast<Phase>(i)) && !isDone(static_cast<Phase>(i))) return true;
    return false;
}

bool Derivation::isSeeking() const { return isBusy() || !isDone(Phase::remedies); }

std::optional<Phase> Derivation::next() const {
    if (!wanted) return std::nullopt;
    for (std::size_t i = 0; i < phaseCount; ++i)
        if (isWanted(static_cast<Phase>(i)) && !isDone(static_cast<Phase>(i)))
            return static_cast<Phase>(i);
    return std::nullopt;
}

void Derivation::startNext() {
    const auto phase = next();
    if (running || !phase) return;
    running = phase;
    runningOn = inputOf(*phase, *wanted);
    stopper = std::stop_source();
    pool.start([this, task = Task{*phase, runningOn, result ? *result : Derived{}, preferred,
                                  stopper.get_token()}] {
        const Publish publish = work(task);
        QMetaObject::invokeMethod(this, [this, phase = task.phase, input = task.input, publish] {
            finished(phase, input, publish);
        });
    });
}

void Derivation::finished(Phase phase, const Input& input, const Publish& publish) {
    running.reset();
    if (publish) {
        auto now = std::make_shared<Derived>(result ? *result : Derived{});
        publish(*now);
        if (phase != Phase::comparison) now->judged = allFindings(*now);
        // Remedies come finding by finding.
        if (phase != Phase::remedies || !openFinding(now->found, {})) done[placeOf(phase)] = input;
        stitchedAnew = stitchedAnew || phase == Phase::stitches;
        result = std::move(now);
        emit ready(phase);
    }
    if (!next() && stitchedAnew) {
        stitchedAnew = false;
        pool.start([this] {
            remedy.reset();
            cache.dropUnused();
        });
    }
    startNext();
}

/// On the worker. Nothing when it was stopped.
Derivation::Publish Derivation::work(const Task& t) {
    if (t.phase == Phase::stitches) return sew(t.input, t.stop);
    if (!t.known.sewn) return [](Derived&) {};
    switch (t.phase) {
    case Phase::weight:
        return weigh(t.input, t.known, t.stop);
    case Phase::findings:
        return judge(t.input, t.known, t.stop);
    case Phase::hoopings:
        return plan(t.input, t.stop);
    case Phase::comparison:
        return compare(t.input, t.stop);
    default:
        return seek(t.input, t.known, t.first, t.stop);
    }
}

/// What cannot be shown, and why.
Derivation::Publish Derivation::refuse(const Error& error) {
    if (error.fault == Fault::cancelled) return {};
    return [why = QString::fromStdString(error.line())](Derived& d) {
        d = {};
        d.problem = why;
    };
}

Derivation::Publish Derivation::sew(const Input& input, std::stop_token stop) {
    auto sewable = stitchWhatCan(input.job, cache, stop);
    if (!sewable) return refuse(sewable.error());
    return [sewn = std::make_shared<const StitchedJob>(std::move(sewable->stitched)),
            problems = std::move(sewable->problems)](Derived& d) {
        d.sewn = sewn;
        d.problem.clear();
        d.unsewable = problems;
    };
}

Derivation::Publish Derivation::weigh(const Input& input, const Derived& known,
                                      std::stop_token stop) {
    auto map = LoadMap::measure(known.sewn->list, stop);
    if (!map) return refuse(map.error());
    auto weighed = std::make_shared<WeighedThread>();
    weighed->load = std::move(*map);
    weighed->facts = pieceFacts(input.job, *known.sewn, weighed->load, stop);
    const auto fabric = input.library->fabric(input.job.brief.fabric);
    const auto machine = input.library->machine(input.job.brief.machine);
    if (fabric && machine)
        weighed->time = timeLineOf(known.sewn->list, known.sewn->spans, *machine, *fabric);
    if (stop.stop_requested()) return {};
    return [weighed](Derived& d) { d.weighed = weighed; };
}

Derivation::Publish Derivation::judge(const Input& input, const Derived& known,
                                      std::stop_token stop) {
    if (!known.weighed) return [](Derived&) {};
    std::vector<Finding> found;
    const auto fabric = input.library->fabric(input.job.brief.fabric);
    if (fabric) {
        auto judged =
            judgeJob({input.job, *known.sewn, known.weighed->load, known.weighed->facts, *fabric},
                     cache, stop);
        if (!judged) return {};
        found = std::move(*judged);
    } else {
        found.push_back(unknownFabric(fabric.error()));
    }
    std::stable_sort(found.begin(), found.end(), worseThan);
    return [found = std::move(found)](Derived& d) { d.found = found; };
}

Derivation::Publish Derivation::plan(const Input& input, std::stop_token stop) {
    auto planned = plannedLists(input.job, *input.library, cache, stop);
    if (!planned) return {};
    return [planned = std::make_shared<const PlannedLists>(std::move(*planned))](Derived& d) {
        d.planned = planned;
    };
}

Derivation::Publish Derivation::compare(const Input& input, std::stop_token stop) {
    std::shared_ptr<const Derived::Before> before;
    if (const auto bare = unmended(input.job)) {
        auto was = stitchJob(*bare, &cache, stop);
        auto map = was ? LoadMap::measure(was->list, stop) : Result<LoadMap>(was.error());
        if (stop.stop_requested()) return {};
        if (map)
            before = std::make_shared<const Derived::Before>(
                Derived::Before{std::move(*was), std::move(*map)});
    }
    return [before](Derived& d) { d.before = before; };
}

/// Remedies of one finding.
Derivation::Publish Derivation::seek(const Input& input, const Derived& known, const Place& first,
                                     std::stop_token stop) {
    const auto open = openFinding(known.found, first);
    const auto fabric = input.library->fabric(input.job.brief.fabric);
    if (!open || !fabric || !known.weighed) return [](Derived&) {};
    const bool goesOn = remedy && remedy->input == input && remedy->weighed == known.weighed &&
                        remedy->sewn == known.sewn;
    if (!goesOn) remedy = std::make_unique<RemedyWork>(input, known, *fabric, cache);
    auto remedies = remedy->seeker.seek(known.found[*open], stop);
    if (stop.stop_requested()) {
        remedy.reset(); // a trial may be half done
        return {};
    }
    auto found = known.found;
    takeRemedies(found[*open], std::move(remedies));
    remedy->seeker.addForAll(found, stop);
    if (stop.stop_requested()) {
        remedy.reset();
        return {};
    }
    return [found = std::move(found)](Derived& d) { d.found = found; };
}

} // namespace rapt::app
