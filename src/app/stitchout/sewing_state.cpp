#include "app/stitchout/sewing_state.h"

#include "base/paths.h"
#include "divide/sewn_hoopings.h"
#include "handover/handover.h"
#include "registration/correction.h"
#include "thread/measures.h"

#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QSaveFile>

namespace rapt::app {
namespace {

QString queueFile() { return QString::fromStdString(userDataFolder()) + "/queue.json"; }

std::shared_ptr<const RunTask> taskOf(const Job& job, const Handing& h, std::size_t index) {
    auto task = std::make_shared<RunTask>();
    const bool isOpen = h.open[index].stitches > 0;
    task->list =
        std::make_shared<const StitchList>(isOpen ? h.open[index].list : h.lists[index].list);
    task->points = std::make_shared<const Penetrations>(*task->list);
    task->seconds = secondsUpTo(*task->list, h.machine, h.fabric);
    task->job = job.name;
    task->jobId = job.identity.text;
    task->hooping = static_cast<int>(index) + 1;
    task->hoopings = h.lists.size();
    task->mark = contentMark(*task->list, job.identity);
    task->text = handedText(job, *task->list, index);
    task->frame = job.hoopings[index].hoop;
    task->fabric = h.fabric.id;
    for (const ConeChange& c : h.needles.changes)
        if (c.hooping == index && c.at > 0) task->stops.push_back(c.at);
    task->toCloth = job.hoopings[index].pose.affine();
    return task;
}

} // namespace

SewingState::SewingState() : worked(work) {
    connect(&worked, &LookupSignals::ready, this, &SewingState::ready);
    if (auto read = readNeedles(userDataFolder())) threaded = std::move(*read);
    readQueue();
}

Result<std::shared_ptr<const Handing>> SewingState::work(const Key& key) {
    auto h = std::make_shared<Handing>();
    const auto machine = key.library->machine(key.job.brief.machine);
    if (!machine) return machine.error();
    const auto fabric = key.library->fabric(key.job.brief.fabric);
    if (!fabric) return fabric.error();
    h->machine = *machine;
    h->fabric = *fabric;
    if (key.planned->lists.empty()) return cannotDo("no hoopings are planned");
    if (key.planned->lists.size() != key.job.hoopings.size())
        return cannotDo("the plan no longer suits the layout");
    auto lists = correctedLists(key.job, key.planned->lists, *key.library, Corrected::ifChosen);
    if (!lists) return lists.error();
    h->lists = std::move(*lists);
    h->open = openLists(key.job, h->lists);
    auto sum = workOf(key.job.hoopings, h->lists, h->machine, h->fabric, *key.library);
    if (!sum) return sum.error();
    h->work = std::move(*sum);
    h->steps = threadSteps(h->lists, h->fabric);
    auto needles = planNeedles(h->steps, key.threaded);
    if (!needles) return needles.error();
    h->needles = std::move(*needles);
    for (std::size_t i = 0; i < h->lists.size(); ++i) h->tasks.push_back(taskOf(key.job, *h, i));
    return std::shared_ptr<const Handing>(std::move(h));
}

const Result<std::shared_ptr<const Handing>>*
SewingState::handing(const Job& job, std::shared_ptr<const PlannedLists> planned,
                     std::shared_ptr<const Library> library) {
    const auto machine = library->machine(job.brief.machine);
    const Needles now = machine ? needlesOf(*machine) : Needles(1);
    return worked.find({job, std::move(planned), std::move(library), now});
}

Needles SewingState::needlesOf(const Machine& machine) const {
    const auto found = threaded.find(machine.id);
    Needles needles = found == threaded.end() ? Needles() : found->second;
    needles.resize(static_cast<std::size_t>(machine.needles));
    return needles;
}

Status SewingState::setNeedles(const std::string& machine, const Needles& needles) {
    const Status saved = saveNeedles(machine, needles, userDataFolder());
    if (!saved) return saved;
    threaded[machine] = needles;
    emit changed();
    return saved;
}

MachineRun& SewingState::machine(const Machine& machine) {
    auto& run = known[machine.id];
    if (run) return *run;
    run = std::make_unique<MachineRun>(machine);
    connect(run.get(), &MachineRun::changed, this, &SewingState::changed);
    connect(run.get(), &MachineRun::advanced, this, &SewingState::advanced);
    connect(run.get(), &MachineRun::happened, this, &SewingState::happened);
    connect(run.get(), &MachineRun::finished, this, [this, r = run.get()] { noteUsed(*r); });
    return *run;
}

void SewingState::findMachines(const Library& library) {
    for (const Machine& m : library.machines) machine(m).findAgain();
}

std::vector<MachineRun*> SewingState::machines() const {
    std::vector<MachineRun*> all;
    for (const auto& [id, run] : known) all.push_back(run.get());
    return all;
}

MachineRun* SewingState::sewing() const {
    for (const auto& [id, run] : known)
        if (run->state() == MachineRun::State::sewing) return run.get();
    return nullptr;
}

/// What a finished hooping took comes off the cones.
void SewingState::noteUsed(const MachineRun& run) {
    const auto found = threaded.find(run.id());
    if (found == threaded.end() || !run.task()) return;
    Needles needles = found->second;
    const StitchList& list = *run.task()->list;
    for (const ThreadUse& use : measure(list).threads)
        for (auto& cone : needles)
            if (cone && cone->leftM && cone->thread.sameThread(use.thread))
                *cone->leftM = std::max(0.0, *cone->leftM - use.lengthMm / 1000);
    (void)setNeedles(run.id(), needles);
}

void SewingState::setQueue(std::vector<Queued> queue) {
    waiting = std::move(queue);
    QJsonArray items;
    for (const Queued& q : waiting) {
        QJsonArray stops;
        for (const QueueItem::Stop& s : q.item.stops)
            stops.append(QJsonObject{
                {"after", s.after}, {"hands", s.hands}, {"what", QString::fromStdString(s.what)}});
        items.append(QJsonObject{{"id", QString::fromStdString(q.item.id)},
                                 {"job", QString::fromStdString(q.item.job)},
                                 {"job_id", QString::fromStdString(q.item.jobId)},
                                 {"path", q.jobPath},
                                 {"hooping", q.item.hooping},
                                 {"machine", QString::fromStdString(q.item.machine)},
                                 {"frame", QString::fromStdString(q.item.frame)},
                                 {"hands_before", q.item.handsBefore},
                                 {"on_machine", q.item.onMachine},
                                 {"standing", QString::fromStdString(q.item.standing)},
                                 {"sewing", q.item.sewing},
                                 {"stops", stops}});
    }
    QSaveFile file(queueFile());
    if (file.open(QIODevice::WriteOnly)) {
        file.write(QJsonDocument(QJsonObject{{"queue", items}}).toJson());
        file.commit();
    }
    emit changed();
}

void SewingState::readQueue() {
    QFile file(queueFile());
    if (!file.open(QIODevice::ReadOnly)) return;
    const QJsonObject root = QJsonDocument::fromJson(file.readAll()).object();
    const auto positive = [](const QJsonValue& v) { return std::max(0.0, v.toDouble()); };
    for (const QJsonValue& v : root["queue"].toArray()) {
        Queued q;
        q.item.id = v["id"].toString().toStdString();
        q.item.job = v["job"].toString().toStdString();
        q.item.jobId = v["job_id"].toString().toStdString();
        q.jobPath = v["path"].toString();
        q.item.hooping = v["hooping"].toInt(1);
        q.item.machine = v["machine"].toString().toStdString();
        q.item.frame = v["frame"].toString().toStdString();
        q.item.handsBefore = positive(v["hands_before"]);
        q.item.onMachine = positive(v["on_machine"]);
        q.item.standing = v["standing"].toString().toStdString();
        q.item.sewing = positive(v["sewing"]);
        for (const QJsonValue& s : v["stops"].toArray())
            q.item.stops.push_back(
                {positive(s["after"]), positive(s["hands"]), s["what"].toString().toStdString()});
        if (!q.item.id.empty() && !q.item.machine.empty()) waiting.push_back(std::move(q));
    }
}

std::vector<QueueItem> SewingState::queueNow() const {
    std::vector<QueueItem> items;
    for (const Queued& q : waiting) {
        QueueItem item = q.item;
        const auto found = known.find(item.machine);
        const RunTask* task = found == known.end() ? nullptr : found->second->task();
        if (task && task->jobId == item.jobId && task->hooping == item.hooping) {
            const MachineRun& run = *found->second;
            item.running = run.record().sewn > 0 && !run.record().finished;
            if (item.running) {
                item.already = std::max(0.0, item.sewing - run.secondsLeft());
                const RunEvent* standing = run.record().standing();
                if (standing && run.state() != MachineRun::State::sewing)
                    item.late = run.secondsStanding();
            }
        }
        items.push_back(std::move(item));
    }
    return items;
}

} // namespace rapt::app
