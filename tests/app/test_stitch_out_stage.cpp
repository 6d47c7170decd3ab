#include "app/kit/rows_table.h"
#include "app/stitchout/queue_page.h"
#include "app/window_support.h"

#include "app/stitchout/handover_page.h"
#include "app/stitchout/sheet_preview.h"
#include "app/stitchout/stitchout_stage.h"
#include "app/window/run_strip.h"
#include "base/paths.h"
#include "formats/stitch_csv.h"
#include "handover/handover.h"
#include "ledger/ledger.h"
#include "ledger/place.h"
#include "thread/measures.h"

#include <QCheckBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QListWidget>
#include <QLocalServer>
#include <QProcess>
#include <QSpinBox>

using namespace rapt;
using namespace rapt::app;
using test::AppWindow;

namespace {

/// Two patches of two threads, in two hoopings of a small frame.
Job twoHoopings() {
    Job job;
    job.name = "Two patches";
    job.cloth.widthMm = 260;
    job.cloth.heightMm = 120;
    job.brief.hoops = {"field-100x100"};
    const auto part = [](const char* name, Rgb colour) {
        ShapePart p = test::fillOf({test::rectangle(-9, -7, 18, 14)});
        p.thread = {1, colour, 40, name};
        return p;
    };
    job.pieces = {test::shapePiece("a", part("Deep tide", {31, 78, 121}), -70),
                  test::shapePiece("b", part("Ember", {217, 96, 59}), -45),
                  test::shapePiece("c", part("Ember", {217, 96, 59}), 45),
                  test::shapePiece("d", part("Deep tide", {31, 78, 121}), 70)};
    return job;
}

/// The window with that job, planned, in Stitch-out.
struct StitchOutWindow : AppWindow {
    explicit StitchOutWindow(const QString& file) {
        if (!QFile::exists(file)) {
            const Status written = writeJobFile(file.toStdString(), twoHoopings());
            if (!written) qFatal("%s", written.error().line().c_str());
        }
        QVERIFY(window.openFile(file));
        settle();
        if (job().hoopings.empty()) {
            planWith("100 × 100");
            QVERIFY(bool(session().document.saveTo(file)));
        }
        key(Qt::Key_6, Qt::ControlModifier);
        settle();
    }
    void page(StitchOutStage::Tab p) {
        press(qPrintable(QString("stitchOutTab%1").arg(static_cast<int>(p))));
        settle();
    }
    /// The lines of the table of files, cells with bars between.
    QString files() {
        const auto* table = find<RowsTable>("handoverFiles");
        QStringList lines;
        for (int i = 0; i < table->rowCount(); ++i) lines << table->row(i).cells.join('|');
        return lines.join('\n');
    }
    MachineRun& machine() {
        return session().sewing.machine(*session().library.machine(job().brief.machine));
    }
    /// A machine that runs already is found by itself.
    void connectMachine() {
        if (!machine().isConnected()) press("connectMachine");
        QTRY_VERIFY(machine().isConnected() && !machine().status().isEmpty());
    }
    void confirmAll() {
        QTest::qWait(20); // what was made anew is shown by then
        for (auto* step : window.findChildren<QCheckBox*>())
            if (step->objectName().startsWith("step-") && step->isVisible() && !step->isChecked())
                QTest::mouseClick(step, Qt::LeftButton, {}, QPoint(8, step->height() / 2));
    }
    /// Everything before the needle moves: connected, confirmed, frame on, foot down.
    void makeReady(const char* speed) {
        page(StitchOutStage::run);
        connectMachine();
        confirmAll();
        press("footDown");
        press("mountFrame");
        QTRY_COMPARE(machine().status()["foot"].toString(), QString("down"));
        choose("runSpeed", speed);
    }
    QString words(const char* label) { return find<QLabel>(label)->text(); }
};

/// Set in a second process of this program, which is there to be killed.
constexpr const char* childFile = "RAPT_TEST_CHILD_FILE";

/// A machine's process that listens where the application looks.
struct MachineProcess {
    QProcess process;
    explicit MachineProcess(const QStringList& more = {}) {
        process.start(QCoreApplication::applicationDirPath() + "/rapt-machine",
                      QStringList{"--machine", "six-needle"} + more);
        if (!process.waitForReadyRead(10'000))
            qFatal("no machine: %s", process.readAllStandardError().data());
    }
    ~MachineProcess() {
        process.kill();
        process.waitForFinished();
    }
};

/// Asks a machine past the application.
QJsonObject asked(const QJsonObject& request) {
    QLocalSocket socket;
    socket.connectToServer(QString::fromStdString(machineSocket("six-needle")));
    if (!socket.waitForConnected(3000)) return {};
    QJsonObject r = request;
    r["id"] = 1;
    socket.write(QJsonDocument(r).toJson(QJsonDocument::Compact) + '\n');
    while (socket.waitForReadyRead(3000))
        while (socket.canReadLine()) {
            const QJsonObject reply = QJsonDocument::fromJson(socket.readLine()).object();
            if (reply["id"].toInt() == 1) return reply;
        }
    return {};
}

/// How often each penetration was made.
std::vector<int> timesSewn(std::size_t count) {
    std::vector<int> times(count);
    const QJsonArray ranges = asked({{"do", "ranges"}})["ranges"].toArray();
    for (const QJsonValue& r : ranges)
        for (int n = r[0].toInt(); n < r[1].toInt(); ++n) ++times[static_cast<std::size_t>(n)];
    return times;
}

} // namespace

class TestStitchOutStage : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString file;

private slots:
    void initTestCase() {
        if (qEnvironmentVariableIsSet(childFile)) return test::startApplication();
        qputenv("XDG_RUNTIME_DIR", dir.path().toUtf8());
        test::startApplication();
        QDir(QString::fromStdString(userDataFolder())).removeRecursively();
        QDir().mkpath(QString::fromStdString(userDataFolder()));
        file = dir.filePath("two.rapt");
    }

    void sheetsAreSeenSavedAndFollowTheirChoices() {
        StitchOutWindow w(file);
        w.page(StitchOutStage::sheets);
        SheetPreview& preview = w.window.stitchOutStage().preview();
        QTRY_VERIFY_WITH_TIMEOUT(preview.pages() == 4 && preview.isVisible(), 60'000);
        QVERIFY(!w.cloth().isVisible());
        w.press("sheetMarking");
        QTRY_COMPARE_WITH_TIMEOUT(preview.pages(), 3, 60'000);
        w.press("sheetCards");
        QTRY_COMPARE_WITH_TIMEOUT(preview.pages(), 5, 60'000);
        w.press("previewOverview");
        test::answerFileDialog(dir.filePath("sheets.pdf"));
        w.press("saveSheets");
        QTRY_VERIFY(w.words("done").startsWith("5 pages written"));
        QVERIFY(test::readFile(dir.filePath("sheets.pdf")).startsWith("%PDF"));
        for (const char* box : {"sheetJob", "sheetHoopings", "sheetCards"}) w.press(box);
        QTRY_COMPARE(w.words("previewWords"), QString("no sheet was asked for"));
        w.page(StitchOutStage::run);
        QVERIFY(w.cloth().isVisible() && !preview.isVisible());
    }

    void needlesAreThreadedByHandAndKept() {
        {
            StitchOutWindow w(file);
            w.page(StitchOutStage::needles);
            QVERIFY(w.words("needlePlan").contains("2 threads on 6 needles: 2 cones to put on"));
            w.choose("needle3", "Ember");
            QVERIFY(w.words("needlePlan").contains("1 cone to put on"));
            w.type("needleLeft3", "0.4 m");
            QTRY_VERIFY(w.words("needlePlan").contains("it runs out in hooping 1"));
            w.press("needleKeep3");
            w.settle();
            w.press("threadAsPlanned");
            w.settle();
            QVERIFY(w.words("needlePlan").contains("0 cones to put on"));
            QCOMPARE(w.find<QComboBox>("needle1")->currentText(), QString("Deep tide"));
        }
        StitchOutWindow again(file);
        again.page(StitchOutStage::needles);
        QCOMPARE(again.find<QComboBox>("needle3")->currentText(), QString("Ember"));
        QVERIFY(again.find<QCheckBox>("needleKeep3")->isChecked());
        QVERIFY(bool(again.session().sewing.setNeedles("six-needle", Needles(6))));
    }

    void aStickIsWrittenReadBackAndItsForeignFilesStay() {
        StitchOutWindow w(file);
        w.page(StitchOutStage::handover);
        QDir(dir.path()).mkdir("stick");
        const QString stick = dir.filePath("stick");
        test::writeFile(stick + "/holiday.jpg", "picture");
        test::answerFileDialog(stick);
        w.press("chooseStick");
        QTRY_VERIFY(w.files().contains("01-Two-patches.stitch.csv|1|"));
        QVERIFY(w.files().contains("holiday.jpg||1 kB|stays; not from here"));
        QCOMPARE(QDir(stick).entryList(QDir::Files).size(), 1);
        w.press("handOver");
        QTRY_VERIFY(w.words("handed").startsWith("✓ Written"));
        QVERIFY(w.words("handoverPlan").contains("there already"));
        QCOMPARE(QDir(stick).entryList(QDir::Files).size(), 3);
        // A changed job finds its earlier version there.
        w.session().document.apply(movePieces({"a"}, {0, 2}));
        w.settle();
        w.page(StitchOutStage::handover);
        QTRY_COMPARE(w.files().count("written over its earlier version"), 1);
        QCOMPARE(w.files().count("there already, the same"), 1);
        // The stick is gone before it is written to.
        QVERIFY(QDir(stick).removeRecursively());
        test::writeFile(stick, "no folder");
        w.press("handOver");
        QTRY_VERIFY(w.words("handed").startsWith("Not handed over"));
        QFile::remove(stick);
    }

    void wholeJobIsSewnWithABreakAndAKilledApplication() {
        MachineProcess process;
        std::size_t count = 0;
        std::string mark;
        {
            StitchOutWindow w(file);
            w.page(StitchOutStage::run);
            w.connectMachine();
            count = w.machine().task()->points->count();
            mark = w.machine().task()->mark;
            // What is not confirmed is named, and nothing starts yet.
            QVERIFY(w.words("openSteps").contains("are open"));
            w.press("startRun");
            QVERIFY(w.words("openSteps").contains("frame on"));
            QVERIFY(w.find<QPushButton>("startRun")->text().contains("all the same"));
            w.confirmAll();
            QTRY_COMPARE(w.words("openSteps"), QString("All confirmed."));
            w.press("startRun");
            QTRY_VERIFY(w.words("machineWords").contains("foot is up"));
            w.press("footDown");
            w.press("mountFrame");
            QTRY_COMPARE(w.find<QPushButton>("mountFrame")->text(), QString("The frame is on"));
            // The pointer walks round the design before the needle does.
            w.press("walkBox");
            QTRY_VERIFY(w.machine().pointer().has_value());
            const Box box = extentsOf(*w.machine().task()->list);
            QTRY_VERIFY(distance(box.nearest(*w.machine().pointer()), *w.machine().pointer()) <
                        1e-6);
            QTRY_VERIFY_WITH_TIMEOUT(!w.machine().pointer(), 60'000);
            // Turned down by hand, the needle holds the frame where it is.
            w.press("needleDown");
            QTRY_COMPARE(w.find<QPushButton>("needleDown")->text(), QString("Needle up"));
            w.press("walkBox");
            QTRY_VERIFY(w.words("machineWords").contains("needle is down"));
            w.press("needleDown");
            QTRY_VERIFY(!w.machine().status()["needle_down"].toBool());
            // Slow while the test must be quick enough for it.
            w.choose("runSpeed", "1 ×");
            w.press("startRun");
            QTRY_VERIFY(w.machine().record().sewn > 20);
            QVERIFY(w.window.findChild<RunStrip*>()->isVisible());
            asked({{"do", "provoke"}, {"kind", "thread-break"}});
            QTRY_VERIFY(w.machine().state() == MachineRun::State::standing);
            QVERIFY(w.words("eventWords").contains("The thread broke"));
            QVERIFY(!w.find<QPushButton>("resumeRun")->isEnabled());
            w.press("mendStop");
            QTRY_VERIFY(w.find<QPushButton>("resumeRun")->isEnabled());
            w.press("resumeRun");
            QTRY_VERIFY(w.machine().state() == MachineRun::State::sewing);
            // The application ends here without a word; the machine sews on, to the end.
        }
        QCOMPARE(asked({{"do", "status"}})["state"].toString(), QString("sewing"));
        asked({{"do", "speed"}, {"factor", 1000}});
        QTRY_COMPARE(asked({{"do", "status"}})["state"].toString(), QString("standing"));
        {
            StitchOutWindow w(file);
            w.page(StitchOutStage::run);
            QTRY_VERIFY(w.machine().record().sewn > 0);
            w.connectMachine();
            w.choose("runSpeed", "1000 ×");
            QTRY_VERIFY_WITH_TIMEOUT(w.machine().record().finished, 60'000);
            QCOMPARE(w.machine().record().mark, mark);
            QVERIFY(w.words("eventWords").contains("Hooping 1 is sewn"));
            const auto times = timesSewn(count);
            const auto twice = std::count(times.begin(), times.end(), 2);
            QVERIFY(twice > 0 && twice <= 3);
            QCOMPARE(std::count(times.begin(), times.end(), 1) + twice,
                     static_cast<std::ptrdiff_t>(count));
            // The second hooping, from its own list.
            w.choose("runHooping", "2 of 2");
            w.settle();
            QTRY_COMPARE(w.machine().task()->hooping, 2);
            w.confirmAll();
            w.press("startRun");
            QTRY_VERIFY_WITH_TIMEOUT(w.machine().record().finished, 60'000);
            const auto second = timesSewn(w.machine().task()->points->count());
            QVERIFY(std::all_of(second.begin(), second.end(), [](int n) { return n == 1; }));
            // What came of it is kept in two keys, with what the machine told.
            test::whenDialogOpens([](QDialog* d) {
                QTest::keyClick(d, Qt::Key_G);
                QTest::keyClick(d->findChild<QLineEdit*>("outcomeNote"), Qt::Key_Return);
            });
            w.key(Qt::Key_J, Qt::ControlModifier);
            w.settle();
            Ledger ledger;
            QVERIFY(bool(ledger.open(*ledgerPlace())));
            const StitchOut kept = ledger.find({}, 1)->front();
            QCOMPARE(kept.job, w.job().name);
            QCOMPARE(kept.hoopings, std::optional(2.0));
            QVERIFY(kept.events.size() == 1 && kept.events[0].kind == "thread-break");
            QVERIFY(kept.secondsTaken && *kept.secondsTaken > 60);
        }
        {
            // The machine still says that it is done; what was kept is not taken for a new run.
            StitchOutWindow w(file);
            w.page(StitchOutStage::run);
            w.connectMachine();
            w.choose("runHooping", "2 of 2");
            w.settle();
            QTRY_COMPARE(w.machine().task()->hooping, 2);
            QVERIFY(w.machine().status()["done"].toBool());
            QVERIFY(w.machine().record().sewn == 0 && !w.machine().record().finished);
        }
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    /// Only in the second process: sews until it is killed.
    void theOtherProcessSews() {
        if (!qEnvironmentVariableIsSet(childFile)) return;
        StitchOutWindow w(qEnvironmentVariable(childFile));
        w.makeReady("1 ×");
        w.press("startRun");
        QTest::qWait(60'000);
        QFAIL("nobody killed it");
    }

    void aKilledProcessLosesNothing() {
        MachineProcess process;
        { StitchOutWindow planned(file); }
        QProcess application;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(childFile, file);
        application.setProcessEnvironment(environment);
        application.start(QCoreApplication::applicationFilePath(),
                          {"test_stitch_out_stage", "theOtherProcessSews"});
        QTRY_VERIFY_WITH_TIMEOUT(asked({{"do", "status"}})["sewn"].toInt() > 20, 60'000);
        application.kill();
        QVERIFY(application.waitForFinished(10'000));
        QCOMPARE(application.exitStatus(), QProcess::CrashExit);
        const int whenKilled = asked({{"do", "status"}})["sewn"].toInt();
        QTRY_VERIFY(asked({{"do", "status"}})["sewn"].toInt() > whenKilled); // it sews on
        StitchOutWindow w(file);
        w.page(StitchOutStage::run);
        w.connectMachine();
        QTRY_VERIFY(static_cast<int>(w.machine().record().sewn) >= whenKilled);
        QVERIFY(w.find<QCheckBox>("step-frame-on")->isChecked());
        w.choose("runSpeed", "1000 ×");
        QTRY_VERIFY_WITH_TIMEOUT(w.machine().record().finished, 60'000);
        const auto times = timesSewn(w.machine().record().of);
        QVERIFY(std::all_of(times.begin(), times.end(), [](int n) { return n == 1; }));
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    void afterAPowerCutItGoesOnFromWhatWasReallySewn() {
        MachineProcess process;
        StitchOutWindow w(file);
        w.makeReady("1 ×");
        w.press("startRun");
        QTRY_VERIFY(w.machine().record().sewn > 40);
        asked({{"do", "provoke"}, {"kind", "power-cut"}});
        QTRY_VERIFY(w.machine().state() == MachineRun::State::off);
        const std::size_t sewn = w.machine().record().sewn;
        w.press("powerOn");
        QTRY_VERIFY(w.machine().state() == MachineRun::State::standing);
        // The machine's own counter is older; the journal knows better.
        QCOMPARE(w.machine().status()["sewn"].toInt(), static_cast<int>(sewn / 10 * 10));
        QTRY_VERIFY(w.find<QPushButton>("resumeRun")->isEnabled());
        w.choose("runSpeed", "1000 ×");
        w.press("resumeRun");
        QTRY_VERIFY_WITH_TIMEOUT(w.machine().record().finished, 60'000);
        const auto times = timesSewn(w.machine().record().of);
        // Three are sewn twice, but none of the thread before.
        const RunTask& task = *w.machine().task();
        const std::size_t again = std::max(sewn - 3, threadStart(*task.list, *task.points, sewn));
        for (std::size_t n = 0; n < times.size(); ++n)
            QCOMPARE(times[n], n >= again && n < sewn ? 2 : 1);
        // One thread again, from a stitch: a choice.
        w.choose("startFrom", "from a stitch");
        w.find<QSpinBox>("startStitch")->setValue(static_cast<int>(w.machine().record().of) - 5);
        w.press("startRun");
        QTRY_VERIFY(w.machine().record().finished && w.machine().record().ranges.size() == 3);
        QCOMPARE(w.machine().record().ranges.back().from, w.machine().record().of - 6);
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    void theMachineTakesAHandOverAndGivesItBackEqual() {
        StitchOutWindow w(file);
        w.page(StitchOutStage::handover);
        w.press("toMachine");
        QTRY_VERIFY(w.words("handoverPlan").contains("not connected"));
        QVERIFY(!w.find<QPushButton>("handOver")->isEnabled());
        MachineProcess process;
        w.machine().connectNow();
        QTRY_VERIFY(w.machine().isConnected());
        w.press("toMachine");
        QTRY_VERIFY(w.files().contains("|2|"));
        w.press("handOver");
        QTRY_VERIFY_WITH_TIMEOUT(w.words("handed").startsWith("✓ Stored"), 60'000);
        QCOMPARE(asked({{"do", "list"}})["designs"].toArray().size(), 2);
    }

    void theMachinesPointerGoesWhereTheNeedleLooks() {
        MachineProcess process;
        StitchOutWindow w(file);
        w.connectMachine();
        w.key(Qt::Key_5, Qt::ControlModifier);
        w.press("registerTab1");
        w.press("jog");
        w.settle();
        const auto there = [&](double x, double y) {
            const QJsonArray at = asked({{"do", "status"}})["pointer"].toArray();
            return test::near(at[0].toDouble(), x, 1e-6) && test::near(at[1].toDouble(), y, 1e-6);
        };
        QVERIFY(w.session().registering.pointer());
        const Vec2 start = *w.session().registering.pointer();
        QTRY_VERIFY(there(start.x, start.y));
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        QTest::keyClick(&w.cloth(), Qt::Key_Up, Qt::AltModifier);
        QTRY_VERIFY(there(start.x + 1, start.y - 0.1));
    }

    void stepsThatWereConfirmedStayConfirmed() {
        {
            StitchOutWindow w(file);
            w.page(StitchOutStage::run);
            QTest::qWait(20);
            w.press("step-frame-on");
            w.press("step-bobbin");
            QTRY_VERIFY(w.words("openSteps").startsWith("11 of 13"));
        }
        StitchOutWindow again(file);
        again.page(StitchOutStage::run);
        QTest::qWait(20);
        QVERIFY(again.find<QCheckBox>("step-frame-on")->isChecked());
        QVERIFY(!again.find<QCheckBox>("step-clear")->isChecked());
        // Another hooping has a list of its own.
        again.choose("runHooping", "2 of 2");
        QTest::qWait(20);
        QVERIFY(!again.find<QCheckBox>("step-frame-on")->isChecked());
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    void aMachineThatIsFullSaysSoAndKeepsWhatItHas() {
        MachineProcess process;
        StitchOutWindow w(file);
        w.connectMachine();
        // Somebody else's designs take all its places but one.
        const int places = asked({{"do", "status"}})["places"].toInt();
        for (int i = 0; i + 1 < places; ++i)
            asked({{"do", "store"},
                   {"name", QString("other-%1.stitch.csv").arg(i)},
                   {"text",
                    QString::fromStdString(formatStitchCsv(test::listThrough({{0, 0}, {1, 0}})))}});
        w.page(StitchOutStage::handover);
        w.press("toMachine");
        QTRY_VERIFY(w.words("handoverPlan").contains("holds at most"));
        QVERIFY(!w.find<QPushButton>("handOver")->isEnabled());
        QCOMPARE(asked({{"do", "list"}})["designs"].toArray().size(), places - 1);
        // One hooping alone still has a place.
        w.makeReady("1000 ×");
        w.press("startRun");
        QTRY_VERIFY_WITH_TIMEOUT(w.machine().record().finished, 60'000);
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    void closingWhileItSewsAsks() {
        MachineProcess process;
        StitchOutWindow w(file);
        w.makeReady("1 ×");
        w.press("startRun");
        QTRY_VERIFY(w.machine().state() == MachineRun::State::sewing);
        const auto answer = [](const char* name) {
            QTimer::singleShot(200, [name] {
                for (QWidget* top : QApplication::topLevelWidgets())
                    if (auto* box = qobject_cast<QMessageBox*>(top)) {
                        if (name)
                            box->findChild<QPushButton*>(name)->click();
                        else
                            box->button(QMessageBox::Cancel)->click();
                    }
            });
        };
        answer(nullptr);
        QVERIFY(!w.window.close());
        answer("letSew");
        QVERIFY(w.window.close());
        QCOMPARE(asked({{"do", "status"}})["state"].toString(), QString("sewing"));
        w.window.show();
        answer("stopSewing");
        QVERIFY(w.window.close());
        QTRY_COMPARE(asked({{"do", "status"}})["state"].toString(), QString("standing"));
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    void machinesThatHangLieOrDieAreSurvived() {
        const QString path = QString::fromStdString(machineSocket("six-needle"));
        QDir().mkpath(QFileInfo(path).absolutePath());
        StitchOutWindow w(file);
        w.page(StitchOutStage::run);
        const std::string mark = w.machine().task()->mark;
        const auto of = w.machine().task()->points->count();
        QLocalServer server;
        QLocalServer::removeServer(path);
        QVERIFY(server.listen(path));
        QLocalSocket* peer = nullptr;
        const auto greet = [&](const QByteArray& answer) {
            w.machine().disconnectNow();
            w.machine().connectNow();
            QTRY_VERIFY(server.hasPendingConnections());
            peer = server.nextPendingConnection();
            QTRY_VERIFY(peer->canReadLine());
            peer->readAll();
            if (!answer.isEmpty()) peer->write(answer + "\n");
        };
        // It lies about how far it is.
        QJsonObject lie{{"ok", true},  {"id", 1},          {"state", "sewing"},
                        {"sewn", 1e9}, {"of", double(of)}, {"mark", QString::fromStdString(mark)}};
        greet(QJsonDocument(lie).toJson(QJsonDocument::Compact));
        QTRY_VERIFY(w.words("machineWords").contains("cannot be"));
        QVERIFY(w.machine().record().sewn == 0);
        // It talks nonsense, without end, or says nothing.
        greet("no words");
        QTRY_VERIFY(w.words("machineWords").contains("nonsense"));
        w.machine().wire().setPatience(300);
        greet({});
        QTRY_VERIFY_WITH_TIMEOUT(w.words("machineWords").contains("does not answer"), 60'000);
        // It dies while it sews.
        lie["id"] = 4;
        lie["sewn"] = 12;
        lie["seconds"] = 3;
        w.machine().disconnectNow();
        w.machine().connectNow();
        QTRY_VERIFY(server.hasPendingConnections());
        peer = server.nextPendingConnection();
        QTRY_VERIFY(peer->canReadLine());
        const int id = QJsonDocument::fromJson(peer->readLine()).object()["id"].toInt();
        lie["id"] = id;
        peer->write(QJsonDocument(lie).toJson(QJsonDocument::Compact) + "\n");
        QTRY_VERIFY(w.machine().state() == MachineRun::State::sewing);
        QCOMPARE(w.machine().record().sewn, std::size_t{12});
        peer->write("{\"event\":\"sewn\",\"sewn\":5,\"seconds\":4}\n");
        QTRY_VERIFY(w.words("machineWords").contains("cannot be"));
        server.close();
        peer->abort();
        QTRY_VERIFY(w.machine().state() == MachineRun::State::apart);
        QCOMPARE(w.machine().record().sewn, std::size_t{12});
        QDir(QString::fromStdString(userDataFolder()) + "/runs").removeRecursively();
    }

    void theSocketIsTheOwnersAndBadMessagesEndTheirConnection() {
        MachineProcess process;
        const QString path = QString::fromStdString(machineSocket("six-needle"));
        const auto others = QFile::ReadGroup | QFile::WriteGroup | QFile::ReadOther |
                            QFile::WriteOther | QFile::ExeGroup | QFile::ExeOther;
        QVERIFY(!(QFile::permissions(path) & others));
        QVERIFY(!(QFile::permissions(QFileInfo(path).absolutePath()) & others));
        const auto ended = [&](const QByteArray& bytes) {
            QLocalSocket socket;
            socket.connectToServer(path);
            if (!socket.waitForConnected(3000)) return QByteArray("none");
            socket.write(bytes);
            QByteArray all;
            while (socket.waitForReadyRead(8000)) all += socket.readAll();
            return socket.state() == QLocalSocket::ConnectedState ? QByteArray("open") : all;
        };
        QVERIFY(ended("{bad\n").contains("JSON"));
        QVERIFY(ended("[1]\n").contains("object"));
        QVERIFY(ended(QByteArray(200'000, '[') + "\n").contains("reason"));
        QVERIFY(ended(QByteArray(50'000'000, 'x')).contains("longer"));
        // The others go on.
        QCOMPARE(asked({{"do", "hello"}})["machine"].toString(), QString("six-needle"));
        // A second machine does not take the first one's place.
        QProcess second;
        second.start(QCoreApplication::applicationDirPath() + "/rapt-machine",
                     {"--machine", "six-needle"});
        QVERIFY(second.waitForFinished(10'000));
        QVERIFY(second.readAllStandardError().contains("already"));
    }

    void theQueueIsOrderedMovedAndKept() {
        {
            StitchOutWindow w(file);
            w.page(StitchOutStage::queue);
            auto* list = w.find<QListWidget>("queue");
            QVERIFY(w.words("queueNext").contains("Nothing waits"));
            w.press("queueAdd");
            QTRY_COMPARE(list->count(), 2);
            w.press("queueAdd"); // what waits already is not added twice
            QCOMPARE(list->count(), 2);
            QVERIFY(w.words("queueNext").contains("Now"));
            list->setFocus();
            list->setCurrentRow(0);
            w.window.activateWindow();
            QVERIFY(QTest::qWaitForWindowActive(&w.window));
            QTest::keyClick(list, Qt::Key_Down, Qt::AltModifier);
            QTRY_VERIFY(list->item(0)->text().contains("hooping 2"));
            // What a drop within the list does: back, and there again.
            QVERIFY(list->model()->moveRow({}, 0, {}, 2));
            QTRY_VERIFY(list->item(0)->text().contains("hooping 1"));
            QCOMPARE(w.session().sewing.queue()[0].item.hooping, 1);
            QVERIFY(list->model()->moveRow({}, 0, {}, 2));
            QTRY_VERIFY(list->item(0)->text().contains("hooping 2"));
            // A bar that is dragged behind the other goes there.
            auto* lanes = w.window.findChild<QueueLanes*>();
            QVERIFY(lanes->isVisible());
            const auto dragToTheEnd = [&](int item) {
                QSignalSpy chosen(lanes, &QueueLanes::chosen);
                const int y = lanes->height() - 19;
                for (int x = 130; x < lanes->width(); x += 3) {
                    QTest::mousePress(lanes, Qt::LeftButton, {}, QPoint(x, y));
                    if (!chosen.isEmpty() && chosen.last()[0].toInt() == item) break;
                    QTest::mouseRelease(lanes, Qt::LeftButton, {}, QPoint(x, y));
                }
                QTest::mouseRelease(lanes, Qt::LeftButton, {}, QPoint(lanes->width() - 13, y));
            };
            dragToTheEnd(0);
            QTRY_VERIFY(list->item(0)->text().contains("hooping 1"));
            dragToTheEnd(0);
            QTRY_VERIFY(list->item(0)->text().contains("hooping 2"));
            list->setCurrentRow(1);
            w.choose("queueMachine", "One needle");
            QTRY_VERIFY(list->item(1)->text().contains("One needle"));
        }
        StitchOutWindow again(file);
        again.page(StitchOutStage::queue);
        auto* list = again.find<QListWidget>("queue");
        QCOMPARE(list->count(), 2);
        QVERIFY(list->item(0)->text().contains("hooping 2"));
        list->setCurrentRow(0);
        again.press("queueRemove");
        list->setCurrentRow(0);
        again.press("queueRemove");
        QTRY_COMPARE(list->count(), 0);
    }
};

RAPT_TEST(TestStitchOutStage)
#include "test_stitch_out_stage.moc"
