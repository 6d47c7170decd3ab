#pragma once
// What Stitch-out works with: the job as it is sewn, what is threaded, the machines, the queue.

#include "app/kit/lookup.h"
#include "app/stitchout/machine_run.h"
#include "check/check.h"
#include "estimate/work.h"
#include "formats/needles_file.h"
#include "run/queue.h"

#include <map>

namespace rapt::app {

/// Everything that follows from the plan for the machine it is sewn on.
struct Handing {
    std::vector<HoopingList> lists; ///< moved where the person chose the correction
    std::vector<HoopingList> open;  ///< the same without what is sewn: what is handed over
    Machine machine;
    Fabric fabric;
    Work work;
    std::vector<ThreadStep> steps;
    NeedlePlan needles;
    std::vector<std::shared_ptr<const RunTask>> tasks; ///< one a hooping
};

/// One place in the queue: an item, and where its job is.
struct Queued {
    QueueItem item;
    QString jobPath;
    friend bool operator==(const Queued& a, const Queued& b) { return a.item.id == b.item.id; }
};

class SewingState : public QObject {
    Q_OBJECT
public:
    SewingState();

    /// Of this job with these lists; null while it is worked out (ready follows). A reason where
    /// that cannot be.
    const Result<std::shared_ptr<const Handing>>*
    handing(const Job& job, std::shared_ptr<const PlannedLists> planned,
            std::shared_ptr<const Library> library);
    bool isBusy() const { return worked.isBusy(); }

    /// What is on a machine's needles now.
    Needles needlesOf(const Machine& machine) const;
    Status setNeedles(const std::string& machine, const Needles& needles);

    /// The machine of that id, known from now on.
    MachineRun& machine(const Machine& machine);
    /// Looks for machines that run already, as after a restart.
    void findMachines(const Library& library);
    /// Those that were asked for.
    std::vector<MachineRun*> machines() const;
    /// A machine that sews, or null.
    MachineRun* sewing() const;

    const std::vector<Queued>& queue() const { return waiting; }
    void setQueue(std::vector<Queued> queue);
    /// The queue with what the machines have done by now, and its times.
    std::vector<QueueItem> queueNow() const;

signals:
    void ready();
    void changed();  ///< a machine, its run, the needles or the queue
    void advanced(); ///< only how far a run is
    void happened(const QString& title, const QString& words);

private:
    struct Key {
        Job job;
        std::shared_ptr<const PlannedLists> planned;
        std::shared_ptr<const Library> library;
        Needles threaded;
        friend bool operator==(const Key&, const Key&) = default;
    };
    static Result<std::shared_ptr<const Handing>> work(const Key& key);
    void readQueue();
    void noteUsed(const MachineRun& run);

    Lookup<Key, Result<std::shared_ptr<const Handing>>> worked;
    ThreadedMachines threaded;
    std::map<std::string, std::unique_ptr<MachineRun>> known;
    std::vector<Queued> waiting;
};

} // namespace rapt::app
