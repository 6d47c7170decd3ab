#include "pulse.h"
#include "window_support.h"

#include "job/edit_lettering.h"
#include "job/edit_weigh.h"

using namespace rapt;
using namespace rapt::app;
using rapt::test::DemoWindow;

/// The interface thread stays free while demo jobs are opened, edited, dragged and lettered. The
/// aim is 50 ms on a quiet machine (`./thimble bench` says what it is); here only what nobody would
/// bear.
class TestPulse : public QObject {
    Q_OBJECT
    static constexpr double bearableMs = 400;
    inline static double worstMs = 0;
    inline static QString worstIs;

    /// What a person does, step by step; each is followed by the event loop.
    static void live(DemoWindow& w, const std::function<void()>& step, test::Pulse& pulse,
                     const char* what) {
        QApplication::processEvents();
        pulse.forget();
        step();
        pulse.beat();
        QApplication::processEvents();
        QTRY_VERIFY_WITH_TIMEOUT(w.cloth().isSettled() && !w.session().derivation.isSeeking(),
                                 60'000);
        QVERIFY2(pulse.longestMs() < bearableMs,
                 qPrintable(QString("%1: %2 ms").arg(what).arg(pulse.longestMs())));
        if (pulse.longestMs() <= worstMs) return;
        worstMs = pulse.longestMs();
        worstIs = QString("%1 in %2").arg(what, QTest::currentDataTag());
    }

    /// As w.drag, but the event loop runs between the moves, as it does for a person.
    static void dragSlowly(DemoWindow& w, QPoint from, QPoint by) {
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, from);
        for (int k = 1; k <= 5; ++k) {
            const QPoint at = from + by * (k / 5.0);
            QMouseEvent move(QEvent::MouseMove, at, w.cloth().mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, {});
            QApplication::sendEvent(&w.cloth(), &move);
            QTest::qWait(4);
        }
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, from + by);
    }

private slots:
    void initTestCase() { test::startApplication(); }
    void cleanupTestCase() {
        qInfo("worst gap of the interface thread: %.0f ms of its own time (%s)", worstMs,
              qPrintable(worstIs));
    }

    void demoJobsNeverHoldUpTheInterface_data() {
        QTest::addColumn<QString>("job");
        for (const QString& name : QDir(test::demoJobs()).entryList({"*.rapt"}))
            QTest::newRow(qPrintable(name)) << name;
    }
    void demoJobsNeverHoldUpTheInterface() {
        QFETCH(QString, job);
        DemoWindow w;
        test::Pulse pulse;
        live(
            w, [&] { w.window.openFile(w.dir.filePath("demo/" + job)); }, pulse, "opened");
        for (int stage = 0; stage < stageCount; ++stage)
            live(
                w, [&] { w.session().setStage(static_cast<Stage>(stage)); }, pulse, "a stage");
        w.session().setStage(Stage::weigh);
        const std::string id = w.job().pieces.back().id;
        live(
            w, [&] { w.session().selection.choose({id}); }, pulse, "chosen");
        const Box box = w.session().selectionBox();
        live(
            w, [&] { dragSlowly(w, w.px(box.centre()), QPoint(30, 12)); }, pulse, "dragged");
        live(
            w, [&] { w.session().document.apply(setRespacing({id}, {})); }, pulse, "respaced");
        w.session().setStage(Stage::compose);
        for (const Piece& p : w.job().pieces)
            if (letteringOf(w.job(), p.id)) {
                live(
                    w, [&] { w.session().selection.choose({p.id}); }, pulse, "words chosen");
                w.session().setTool(ToolKind::letter);
                for (const char key : {'W', 'e', 'y'})
                    live(
                        w, [&] { QTest::keyClick(&w.cloth(), key); }, pulse, "typed");
                break;
            }
    }
};

RAPT_TEST(TestPulse)
#include "test_pulse.moc"
