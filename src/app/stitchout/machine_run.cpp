#include "app/stitchout/machine_run.h"

#include "app/stitchout/run_words.h"
#include "base/paths.h"
#include "handover/stick_names.h"
#include "run/run_steps.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QJsonArray>
#include <QProcess>

namespace rapt::app {
namespace {

std::size_t countOf(const QJsonValue& value, std::size_t otherwise) {
    const double n = value.toDouble(-1);
    return n >= 0 && n < 1e12 ? static_cast<std::size_t>(n) : otherwise;
}

} // namespace

MachineRun::MachineRun(const Machine& m, QObject* parent) : QObject(parent), machine(m) {
    connect(&walking, &QTimer::timeout, this, [this] {
        if (!way.empty()) way.pop_back();
        if (way.empty()) walking.stop();
        emit advanced();
    });
    again.setInterval(700);
    connect(&again, &QTimer::timeout, this, [this] {
        if (!link.isOpen()) link.open(QString::fromStdString(machineSocket(machine.id)));
    });
    connect(&link, &MachineLink::opened, this, [this] {
        again.stop();
        problem.clear();
        link.ask({{"do", "status"}}, [this](const QJsonObject& reply) {
            if (!reply["ok"].toBool()) return;
            takeStatus(reply);
            joinRun();
        });
    });
    connect(&link, &MachineLink::told, this, &MachineRun::takeEvent);
    connect(&link, &MachineLink::lost, this, [this](const QString& reason) {
        const bool sewed = current == State::sewing;
        current = State::apart;
        problem = reason;
        lastStatus = {};
        if (wanted) again.start();
        emit changed();
        if (sewed && !reason.isEmpty())
            emit happened(tr("%1 is gone").arg(name()),
                          tr("%1 Go and look; what was sewn is known to stitch %L2.")
                              .arg(reason)
                              .arg(known.sewn));
    });
}

QString MachineRun::runsFolder() const {
    return QString::fromStdString(userDataFolder()) + "/runs";
}

void MachineRun::connectNow() {
    wanted = true;
    again.start();
    link.open(QString::fromStdString(machineSocket(machine.id)));
}

void MachineRun::findAgain() {
    const QString socket = QString::fromStdString(machineSocket(machine.id));
    if (QFileInfo::exists(socket)) link.open(socket);
}

void MachineRun::disconnectNow() {
    wanted = false;
    again.stop();
    link.close();
}

bool MachineRun::startStandIn(const QStringList& more) {
    const QString program = QCoreApplication::applicationDirPath() + "/rapt-machine";
    if (!QFileInfo(program).isExecutable()) {
        problem = tr("The simulated machine is not installed beside the application.");
        emit changed();
        return false;
    }
    QProcess process;
    process.setProgram(program);
    process.setArguments(QStringList{"--machine", QString::fromStdString(machine.id)} + more);
    process.setStandardOutputFile(QProcess::nullDevice());
    process.setStandardErrorFile(QProcess::nullDevice());
    if (!process.startDetached()) return false;
    connectNow();
    return true;
}

bool MachineRun::setTask(std::shared_ptr<const RunTask> task) {
    if (work && task && work->mark == task->mark) {
        work = std::move(task);
        return true;
    }
    if (current == State::sewing && work) return false;
    work = std::move(task);
    journal.reset();
    known = {};
    if (work) {
        const auto read = readRunJournal(runsFolder().toStdString(), work->mark);
        if (read && *read) known = **read;
        known.mark = work->mark;
        known.job = work->job;
        known.jobId = work->jobId;
        known.hooping = work->hooping;
        known.of = work->points->count();
        if (link.isOpen()) joinRun();
    }
    emit changed();
    return true;
}

void MachineRun::openJournal() {
    if (journal) return;
    auto opened = RunJournal::open(runsFolder().toStdString(), known);
    if (opened)
        journal = std::move(*opened);
    else
        problem = QString::fromStdString(opened.error().line());
}

/// The machine is there (again): what it says of the run and what the journal knows become one.
void MachineRun::joinRun() {
    const QJsonObject status = lastStatus;
    if (!work || status["mark"].toString().toStdString() != work->mark) return;
    const std::size_t says = countOf(status["sewn"], 0);
    if (says > known.of)
        return distrust(tr("It says that %L1 of %L2 stitches are sewn.").arg(says).arg(known.of));
    // Of a run to the end that no journal knows, the record was kept already, or it was not ours.
    if (status["done"].toBool() && known.ranges.empty()) return emit changed();
    if (current == State::sewing || says > known.sewn) {
        openJournal();
        if (known.ranges.empty()) {
            known.begin(0);
            if (journal) journal->began(0);
        }
        // Without power a counter falls back; the journal does not.
        if (says >= known.sewn) known.progress(says, status["seconds"].toDouble());
        if (journal) journal->progress(known.sewn, known.seconds);
    }
    StopKind kind{};
    if (parseStopKind(status["why"].toString().toStdString(), kind) && !known.standing() &&
        known.sewn > 0 && !known.finished) {
        known.stopped(kind);
        if (journal) journal->stopped(known.events.back());
    }
    emit changed();
    // It may have come to its end while nobody listened.
    if (status["done"].toBool() && says == known.of && !known.finished) finish();
}

void MachineRun::takeStatus(const QJsonObject& status) {
    lastStatus = status;
    const QString s = status["state"].toString();
    current = s == "sewing"     ? State::sewing
              : s == "standing" ? State::standing
              : s == "ready"    ? State::ready
              : s == "off"      ? State::off
                                : State::idle;
    emit changed();
}

void MachineRun::distrust(const QString& words) {
    problem = tr("%1 cannot be: do not trust it. Look at the cloth.").arg(words);
    link.ask({{"do", "stop"}});
    emit changed();
    emit happened(tr("%1 reports what cannot be").arg(name()), problem);
}

void MachineRun::takeEvent(const QJsonObject& event) {
    const QString kind = event["event"].toString();
    if (!work || known.ranges.empty()) return;
    const std::size_t sewn = countOf(event["sewn"], known.of + 1);
    if (!known.progress(sewn, event["seconds"].toDouble())) {
        if (problem.isEmpty())
            distrust(tr("It reports stitch %L1 after stitch %L2 of %L3.")
                         .arg(event["sewn"].toDouble(), 0, 'f', 0)
                         .arg(known.sewn)
                         .arg(known.of));
        return;
    }
    if (kind == "sewn") {
        if (journal) journal->progress(known.sewn, known.seconds);
        if (current != State::sewing) {
            current = State::sewing;
            emit changed();
        }
        emit advanced();
    } else if (kind == "stopped") {
        takeStop(event);
    } else if (kind == "done") {
        finish();
    }
}

void MachineRun::finish() {
    known.finish();
    if (!known.finished)
        return distrust(
            tr("It says that it is done at stitch %L1 of %L2").arg(known.sewn).arg(known.of));
    if (journal) journal->finished(known.sewn, known.seconds);
    lastStatus["state"] = "standing";
    current = State::standing;
    emit changed();
    emit happened(tr("Hooping %1 is sewn").arg(known.hooping),
                  tr("Hands clear until the frame stands. Take the frame off, look at the "
                     "stitching before the cloth comes out of it."));
    emit finished();
}

void MachineRun::takeStop(const QJsonObject& event) {
    StopKind kind{};
    if (!parseStopKind(event["kind"].toString().toStdString(), kind)) return;
    known.stopped(kind);
    standing.restart();
    if (journal) journal->stopped(known.events.back());
    current = kind == StopKind::powerCut ? State::off : State::standing;
    lastStatus["state"] = kind == StopKind::powerCut ? "off" : "standing";
    lastStatus["mended"] = kind == StopKind::asked;
    link.ask({{"do", "status"}}, [this](const QJsonObject& reply) {
        if (reply["ok"].toBool()) takeStatus(reply);
    });
    emit changed();
    if (kind == StopKind::asked) return;
    emit happened(tr("%1: %2").arg(name(), titleOf(kind)),
                  QString::fromStdString(adviceAfter(kind)));
}

void MachineRun::confirm(const std::string& step, bool yes) {
    if (!work) return;
    openJournal();
    if (yes)
        known.steps.insert(step);
    else
        known.steps.erase(step);
    if (journal) journal->confirmed(step, yes);
    emit changed();
}

void MachineRun::refused(const QString& what, const QJsonObject& reply) {
    QString reason = reply["reason"].toString();
    if (!reason.isEmpty()) reason[0] = reason[0].toUpper();
    problem = reason + ".";
    emit changed();
    emit happened(what, problem);
}

/// The design's name in the machine's memory, or one for it that no other job's design has.
QString MachineRun::nameFor(const QJsonArray& designs) const {
    std::vector<std::string> taken;
    for (const QJsonValue& d : designs)
        if (d["job_id"].toString().toStdString() != work->jobId)
            taken.push_back(d["name"].toString().toStdString());
    const auto names = stickNames(work->job, work->hoopings, machine.stick, taken);
    return QString::fromStdString(names[static_cast<std::size_t>(work->hooping) - 1] + stickEnding);
}

/// Stores what is missing and selects it.
void MachineRun::selectStored(std::function<void()> then) {
    if (!work || !link.isOpen()) return;
    problem.clear();
    if (lastStatus["mark"].toString().toStdString() == work->mark) return then();
    const auto select = [this, then](const QString& file) {
        link.ask({{"do", "select"}, {"name", file}}, [this, then](const QJsonObject& reply) {
            if (!reply["ok"].toBool())
                return refused(tr("%1 cannot select the design").arg(name()), reply);
            takeStatus(reply);
            then();
        });
    };
    link.ask({{"do", "list"}}, [this, select](const QJsonObject& reply) {
        if (!work) return;
        const QJsonArray designs = reply["designs"].toArray();
        for (const QJsonValue& d : designs)
            if (d["mark"].toString().toStdString() == work->mark)
                return select(d["name"].toString());
        const QString file = nameFor(designs);
        link.ask(storeRequest(*work, file), [this, file, select](const QJsonObject& stored) {
            if (!stored["ok"].toBool())
                return refused(tr("%1 does not take the design").arg(name()), stored);
            select(file);
        });
    });
}

void MachineRun::begin(std::size_t from) {
    selectStored([this, from] {
        link.ask({{"do", "start"}, {"from", static_cast<double>(from)}, {"speed", speed}},
                 [this, from](const QJsonObject& reply) {
                     if (!reply["ok"].toBool())
                         return refused(tr("%1 does not start").arg(name()), reply);
                     openJournal();
                     known.begin(from);
                     if (journal) journal->began(from);
                     problem.clear();
                     takeStatus(reply);
                 });
    });
}

void MachineRun::walk(const QString& what) {
    selectStored([this, what] {
        link.ask({{"do", "walk"}, {"what", what}}, [this](const QJsonObject& reply) {
            if (!reply["ok"].toBool()) return refused(tr("The pointer stays"), reply);
            constexpr double stepMm = 1.5;
            const QJsonArray corners = reply["way"].toArray();
            way.clear();
            for (qsizetype i = 0; i < corners.size(); ++i) {
                const QJsonArray a = corners[i].toArray();
                const QJsonArray b = corners[(i + 1) % corners.size()].toArray();
                const Vec2 from{a[0].toDouble(), a[1].toDouble()};
                const Vec2 to{b[0].toDouble(), b[1].toDouble()};
                const int steps = 1 + static_cast<int>(std::min(1e4, distance(from, to) / stepMm));
                for (int k = 0; k < steps; ++k)
                    way.push_back(lerp(from, to, static_cast<double>(k) / steps));
            }
            std::reverse(way.begin(), way.end());
            walking.start(16);
        });
    });
}

std::optional<Vec2> MachineRun::pointer() const {
    return way.empty() ? std::nullopt : std::optional(way.back());
}

void MachineRun::resume() {
    if (!work) return;
    const RunEvent* event = known.standing();
    const StopKind why = event ? event->kind : StopKind::powerCut;
    begin(resumeAfter(*work->list, *work->points, known.sewn, why).from);
}

void MachineRun::stop() {
    link.ask({{"do", "stop"}}, [this](const QJsonObject& reply) {
        if (!reply["ok"].toBool()) return refused(tr("%1 does not stop").arg(name()), reply);
        takeStatus(reply);
    });
}

void MachineRun::setSpeed(double factor) {
    speed = factor;
    if (current == State::sewing) link.ask({{"do", "speed"}, {"factor", factor}});
}

void MachineRun::hands(const QJsonObject& what) {
    QJsonObject request = what;
    request["do"] = "hands";
    link.ask(request, [this](const QJsonObject& reply) {
        if (!reply["ok"].toBool()) return refused(tr("Not now"), reply);
        takeStatus(reply);
    });
}

void MachineRun::pointAt(Vec2 place) {
    link.ask({{"do", "jog"}, {"x", place.x}, {"y", place.y}}, [this](const QJsonObject& reply) {
        if (!reply["ok"].toBool()) return refused(tr("The pointer stays"), reply);
        lastStatus["pointer"] = reply["pointer"];
        emit changed();
    });
}

double MachineRun::secondsStanding() const {
    return current != State::sewing && known.standing() && standing.isValid()
               ? static_cast<double>(standing.elapsed()) / 1000
               : 0;
}

double MachineRun::secondsLeft() const {
    if (!work || work->seconds.empty()) return 0;
    return work->totalSeconds() - (known.sewn > 0 ? work->seconds[known.sewn - 1] : 0);
}

double MachineRun::secondsLeftOfThread() const {
    if (!work || work->seconds.empty() || known.sewn >= known.of) return 0;
    const std::size_t next = nextThread(*work->list, *work->points, known.sewn);
    return work->seconds[next - 1] - (known.sewn > 0 ? work->seconds[known.sewn - 1] : 0);
}

std::optional<Vec2> MachineRun::needle() const {
    if (!work || known.sewn == 0) return std::nullopt;
    return work->list->stitches[work->points->record(known.sewn - 1)].at();
}

} // namespace rapt::app
