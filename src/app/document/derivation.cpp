#include "app/document/derivation.h"

namespace rapt::app {
namespace {

/// The job as if nothing had been mended.
std::optional<Job> unmended(const Job& job) {
    Job bare = job;
    for (Piece& p : bare.pieces) {
        const bool resized = p.pose.scaleX != 1 || p.pose.scaleY != 1;
        if (resized && std::holds_alternative<DesignContent>(p.content)) p.keep = Keep::stitches;
        p.respacing = {};
        p.relief.reset();
        p.leftOutRuns.clear();
    }
    if (bare == job) return std::nullopt;
    return bare;
}

} // namespace

Derivation::Derivation(const Library& l, QObject* parent) : QObject(parent), library(l) {
    pool.setMaxThreadCount(1);
}

Derivation::~Derivation() {
    stopper.request_stop();
    pool.waitForDone();
}

void Derivation::request(const Job& job, quint64 revision) {
    stopper.request_stop();
    stopper = std::stop_source();
    wanted = revision;
    emit started();
    pool.start([this, job, revision, stop = stopper.get_token()] {
        if (stop.stop_requested()) return;
        auto derived = derive(job, revision, stop);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, derived] {
            if (derived->revision != wanted) return;
            result = derived;
            emit ready();
        });
    });
}

void Derivation::finish() {
    stopper.request_stop();
    pool.waitForDone();
}

std::shared_ptr<const Derived> Derivation::derive(const Job& job, quint64 revision,
                                                  std::stop_token stop) {
    auto derived = std::make_shared<Derived>();
    derived->revision = revision;
    cache.dropUnused();
    Result<CheckedJob> checked = checkJob(job, library, &cache, stop);
    if (!checked) {
        derived->problem = QString::fromStdString(checked.error().line());
        return derived;
    }
    derived->checked = std::make_shared<const CheckedJob>(std::move(*checked));
    const StitchedJob& stitched = derived->checked->stitched;
    const auto fabric = library.fabric(job.brief.fabric);
    const auto machine = library.machine(job.brief.machine);
    if (fabric && machine)
        derived->time = timeLineOf(stitched.list, stitched.spans, *machine, *fabric);
    if (const auto bare = unmended(job))
        if (auto was = stitchJob(*bare, &cache, stop))
            if (auto map = LoadMap::measure(was->list, stop))
                derived->before = std::make_shared<const Derived::Before>(
                    Derived::Before{std::move(*was), std::move(*map)});
    if (!job.hoopings.empty())
        if (auto lists = hoopingLists(job, library, &cache)) derived->hoopings = std::move(*lists);
    return derived;
}

} // namespace rapt::app
