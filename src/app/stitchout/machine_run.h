#pragma once
// One machine as the application knows it: what it holds, what it sews, and the run's own record,
// which outlives both.

#include "app/stitchout/machine_link.h"
#include "app/stitchout/run_task.h"
#include "formats/run_journal.h"
#include "library/library.h"

#include <memory>

namespace rapt::app {

class MachineRun : public QObject {
    Q_OBJECT
public:
    enum class State { apart, idle, ready, sewing, standing, off };
    explicit MachineRun(const Machine& machine, QObject* parent = nullptr);

    const std::string& id() const { return machine.id; }
    QString name() const { return QString::fromStdString(machine.name); }
    State state() const { return current; }
    bool isConnected() const { return link.isOpen(); }
    /// Why it is not there, or what was odd; may be empty.
    const QString& trouble() const { return problem; }
    const QJsonObject& status() const { return lastStatus; }
    MachineLink& wire() { return link; }

    /// Connects to where it listens, again and again until it is there.
    void connectNow();
    /// Connects if something listens there now.
    void findAgain();
    void disconnectNow();
    /// Starts the simulated machine that ships, and connects.
    bool startStandIn(const QStringList& more = {});

    /// What is watched or to be sewn; null if nothing is known of it.
    const RunTask* task() const { return work.get(); }
    /// The run of it so far.
    const RunRecord& record() const { return known; }
    /// Takes what will be sewn; what its journal tells is known then. Not while another is sewn.
    bool setTask(std::shared_ptr<const RunTask> task);

    void confirm(const std::string& step, bool yes);
    /// Stores what is missing, selects, and starts after so many penetrations.
    void begin(std::size_t from);
    /// Goes on after a stop, with the overlap that it needs.
    void resume();
    void stop();
    void setSpeed(double factor);
    /// What a person does at the machine; the simulated one is told of it.
    void hands(const QJsonObject& what);
    /// The pointer goes to a place (field frame), if the frame can; `changed` follows.
    void pointAt(Vec2 place);
    /// The pointer goes round the selected design: its `box` or its `hull`.
    void walk(const QString& what);
    /// Where the pointer is while it moves, field frame.
    std::optional<Vec2> pointer() const;

    /// Since it stopped; 0 while it sews.
    double secondsStanding() const;
    double secondsLeft() const;
    double secondsLeftOfThread() const;
    /// Where the needle is, field frame; nothing before the first stitch.
    std::optional<Vec2> needle() const;

signals:
    void changed();  ///< state, task or record
    void advanced(); ///< only how far it is
    /// Something that a person wants to know at once.
    void happened(const QString& title, const QString& words);
    void finished();

private:
    void takeStatus(const QJsonObject& status);
    void takeEvent(const QJsonObject& event);
    void takeStop(const QJsonObject& event);
    void finish();
    void joinRun();
    void distrust(const QString& words);
    void selectStored(std::function<void()> then);
    QString nameFor(const QJsonArray& designs) const;
    void openJournal();
    void refused(const QString& what, const QJsonObject& reply);
    QString runsFolder() const;

    Machine machine;
    MachineLink link;
    QTimer again; ///< until it answers
    State current = State::apart;
    QString problem;
    QJsonObject lastStatus;
    std::shared_ptr<const RunTask> work;
    RunRecord known;
    std::optional<RunJournal> journal;
    bool wanted = false;
    double speed = 1;
    QElapsedTimer standing; ///< since it stopped
    QTimer walking;         ///< along `way`, a step each time
    std::vector<Vec2> way;
};

} // namespace rapt::app
