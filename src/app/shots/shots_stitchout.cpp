// Pictures of Stitch-out: sheets, hand-over, a run that broke, the queue.

#include "app/shots/album.h"
#include "app/stitchout/sewing_state.h"

#include "app/stitchout/handover_page.h"
#include "app/stitchout/sheet_preview.h"
#include "app/stitchout/stitchout_stage.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QProcess>
#include <QTemporaryDir>

namespace rapt::app {
namespace {

/// Lets the window work until it is so, for a while at most.
bool waitUntil(const std::function<bool()>& so) {
    QElapsedTimer clock;
    clock.start();
    while (!so()) {
        if (clock.elapsed() > 20'000) return false;
        QApplication::processEvents(QEventLoop::AllEvents, 20);
    }
    return true;
}

MachineRun* machineOf(Session& session) {
    const auto machine = session.library.machine(session.job().brief.machine);
    return machine ? &session.sewing.machine(*machine) : nullptr;
}

/// A machine of its own that listens where the application looks for it.
class StandIn {
public:
    explicit StandIn(MachineRun& run) : machine(run) {
        process.start(QCoreApplication::applicationDirPath() + "/rapt-machine",
                      {"--machine", QString::fromStdString(run.id()), "--seed", "4"});
        process.waitForStarted();
        run.connectNow();
    }
    ~StandIn() {
        machine.disconnectNow();
        process.terminate();
        process.waitForFinished(3000);
    }
    StandIn(const StandIn&) = delete;
    StandIn& operator=(const StandIn&) = delete;

private:
    MachineRun& machine;
    QProcess process;
};

void makeReady(MainWindow& window, MachineRun& run, double speed) {
    for (QCheckBox* step : window.findChildren<QCheckBox*>())
        if (step->objectName().startsWith("step-") && !step->isChecked()) step->click();
    click(window, "mountFrame");
    if (run.status()["foot"].toString() != "down") click(window, "footDown");
    waitUntil([&] { return run.status()["foot"].toString() == "down"; });
    auto* choice = window.findChild<QComboBox*>("runSpeed");
    choice->setCurrentIndex(choice->findData(speed));
}

/// The first hooping sewn to its end, the second until its thread breaks.
void sewUntilItBreaks(MainWindow& window, MachineRun& run) {
    makeReady(window, run, 1000);
    click(window, "startRun");
    waitUntil([&] { return run.record().finished; });
    window.session().setHooping(1);
    settle(window);
    makeReady(window, run, 100);
    click(window, "startRun");
    waitUntil([&] { return run.record().hooping == 2 && run.record().sewn > 5000; });
    run.wire().ask({{"do", "provoke"}, {"kind", "thread-break"}});
    waitUntil([&] { return run.record().standing() != nullptr; });
}

} // namespace

void shootStitchOut(Album& album) {
    MainWindow& window = album.window;
    Session& session = window.session();
    StitchOutStage& stage = window.stitchOutStage();
    const QString before = session.document.path();
    album.shoot(Stage::stitchOut, "6-sheets", [&] {
        stage.showPage(StitchOutStage::sheets);
        waitUntil([&] { return !stage.preview().isBusy() && stage.preview().pages() > 0; });
    });
    QTemporaryDir stick;
    album.shoot(Stage::stitchOut, "30-hand-over", [&] {
        stage.showPage(StitchOutStage::handover);
        stage.handoverPage().setStick(stick.path());
        click(window, "handOver");
        settle(window);
    });
    if (MachineRun* run = machineOf(session)) {
        stage.showPage(StitchOutStage::run);
        StandIn standIn(*run);
        waitUntil([&] { return run->isConnected() && !run->status().isEmpty(); });
        album.shoot(Stage::stitchOut, "31-run", [&] { sewUntilItBreaks(window, *run); });
    }
    // The tags on two machines.
    session.sewing.setQueue({});
    const QDir folder = QFileInfo(before).dir();
    const auto queueOn = [&](const char* file, const char* machine) {
        if (!window.openFile(folder.filePath(file))) return;
        session.setStage(Stage::divide);
        settle(window);
        if (session.job().hoopings.empty()) click(window, "plan");
        session.setStage(Stage::stitchOut);
        stage.showPage(StitchOutStage::queue);
        settle(window);
        auto* choice = window.findChild<QComboBox*>("queueMachine");
        choice->setCurrentIndex(choice->findData(machine));
        click(window, "queueAdd");
    };
    queueOn("felt-tags.rapt", "six-needle");
    album.shoot(Stage::stitchOut, "32-queue", [&] { queueOn("name-tags.rapt", "one-needle"); });
    // As it was found: the banner, planned.
    window.openFile(before);
    session.setStage(Stage::divide);
    settle(window);
    click(window, "plan");
    settle(window);
    session.sewing.setQueue({});
    stage.showPage(StitchOutStage::handover);
}

} // namespace rapt::app
