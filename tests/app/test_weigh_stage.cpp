#include "compose_support.h"

#include "app/weigh/fabric_dialog.h"
#include "app/weigh/findings_list.h"
#include "app/weigh/scale_ruler.h"
#include "app/weigh/weigh_stage.h"
#include "app/window/thread_line.h"
#include "stitch_makers.h"

#include <QCheckBox>
#include <QElapsedTimer>
#include <QListWidget>
#include <QSlider>
#include <QToolButton>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

/// The Weigh stage and the playhead under mouse and keys, in the real window.
class TestWeighStage : public QObject {
    Q_OBJECT

    static StitchList fill(double w, double h, std::uint8_t thread = 1) {
        StitchList list;
        sew(list, fillPoints(rectangleRows(w, h)), thread);
        return list;
    }
    /// A window with a saved job of these pieces, at Weigh.
    static void open(AppWindow& w, std::vector<Piece> pieces, const char* fabric = "cotton") {
        Job job;
        job.name = "weighing";
        job.brief.fabric = fabric;
        job.pieces = std::move(pieces);
        const std::string path = w.dir.filePath("weighing.rapt").toStdString();
        QVERIFY(writeJobFile(path, job));
        QVERIFY(w.window.openFile(QString::fromStdString(path)));
        w.key(Qt::Key_3, Qt::ControlModifier);
        w.settle();
    }
    static std::vector<Piece> pileUp() {
        return {designPiece("low", fill(60, 40)), designPiece("middle", fill(50, 36), 2, 1),
                designPiece("upper", fill(24, 20, 2), 4, 2)};
    }
    static int count(AppWindow& w, const char* kind) {
        int n = 0;
        for (const Finding& f : w.session().checked()->findings()) n += f.kind == kind;
        return n;
    }
    static void page(AppWindow& w, WeighStage::Tab which) {
        QTest::mouseClick(
            w.find<QToolButton>(qPrintable("weighTab" + QString::number(static_cast<int>(which)))),
            Qt::LeftButton);
        QTest::qWait(20);
    }
    /// The first visible button of this name in the readout.
    static QPushButton* shownButton(AppWindow& w, const char* name) {
        for (auto* b : w.window.findChildren<QPushButton*>(name))
            if (b->isVisible()) return b;
        return nullptr;
    }

private slots:
    void initTestCase() { startApplication(); }
    void init() {
        forgetEverything();
        QFile::remove(QString::fromStdString(userDataFolder()) + "/fabrics.json");
    }

    void shrinkUntilItIsTooDenseThenRespaceUndoAndRedo() {
        AppWindow w;
        open(w, {designPiece("kite", fill(60, 50))});
        QCOMPARE(count(w, "layers"), 0);
        w.session().selection.choose({"kite"});
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.window.composeStage().showPage(ComposeStage::size);
        w.choose("keep", "keep the stitches");
        w.settle();
        for (const char* percent : {"70 %", "45 %", "28 %"}) {
            w.type("Percent", percent);
            w.settle();
            if (count(w, "layers") > 0) break;
        }
        QVERIFY(count(w, "layers") > 0);
        w.key(Qt::Key_3, Qt::ControlModifier);
        w.settle();
        QTest::qWait(50);
        QPushButton* remedy = shownButton(w, "remedy");
        QVERIFY(remedy);
        QCOMPARE(remedy->text(), QString("Respace kite"));
        QTest::mouseClick(remedy, Qt::LeftButton);
        w.settle();
        QCOMPARE(count(w, "layers"), 0);
        VERIFY_NEAR(*w.session().checked()->facts()[0].spacingNowMm, 0.4, 0.02);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        QVERIFY(count(w, "layers") > 0);
        w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        w.settle();
        QCOMPARE(count(w, "layers"), 0);
    }

    void aPileUpIsRelievedAndStaysLinked() {
        AppWindow w;
        open(w, pileUp(), "sheer");
        QVERIFY(count(w, "layers") > 0);
        QTest::qWait(50);
        QPushButton* remedy = shownButton(w, "remedy");
        QVERIFY(remedy && remedy->accessibleName().startsWith("Relieve"));
        const std::size_t before = sewn(w, "low");
        QTest::mouseClick(remedy, Qt::LeftButton);
        w.settle();
        QCOMPARE(count(w, "layers"), 0);
        const auto stitches = [&] {
            std::size_t n = 0;
            for (const PieceFacts& f : w.session().checked()->facts())
                if (f.piece == "middle") n = f.stitches;
            return n;
        };
        const std::size_t relieved = stitches();
        // The upper piece goes aside: the middle one is whole again there.
        w.session().selection.choose({"upper"});
        w.cloth().setFocus();
        for (int k = 0; k < 5; ++k) QTest::keyClick(&w.cloth(), Qt::Key_Right, Qt::ShiftModifier);
        w.settle();
        QVERIFY(stitches() > relieved);
        QCOMPARE(sewn(w, "low"), before);
    }

    void theMapFollowsADraggedPiece() {
        AppWindow w;
        open(w, pileUp(), "canvas");
        const double high = w.session().checked()->load().summary().peakLayers;
        QVERIFY(high > 2.7);
        const QPoint from = w.px({4, 2});
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, from);
        const auto moveBy = [&](int k) {
            const QPointF at = w.px({4 + 3.0 * k, 2 - 2.2 * k});
            QMouseEvent move(QEvent::MouseMove, at, w.cloth().mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(&w.cloth(), &move);
            w.cloth().repaint();
        };
        moveBy(1);
        moveBy(2);
        QTRY_VERIFY(w.cloth().liveMap()); // it is made in the background
        for (int k = 3; k <= 20; ++k) moveBy(k);
        QVERIFY(w.cloth().liveMap()->summary().peakLayers < high - 0.7);
        QVERIFY(w.cloth().gestureWords().filter("layers at most").size() == 1);
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, w.px({64, -42}));
        w.settle();
        QVERIFY(!w.cloth().liveMap());
        QVERIFY(w.session().checked()->load().summary().peakLayers < high - 0.7);
        // A drag that a change of stage gave up leaves nothing behind.
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, w.px({64, -42}));
        moveBy(3);
        moveBy(4);
        QTRY_VERIFY(w.cloth().liveMap());
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.key(Qt::Key_3, Qt::ControlModifier);
        w.settle();
        QVERIFY(!w.cloth().liveMap());
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, w.px({10, -10}));
    }

    void piecesAreListedWithTheirNumbers() {
        AppWindow w;
        std::vector<Piece> pieces = pileUp();
        pieces[2].pose.scaleX = pieces[2].pose.scaleY = 0.5;
        pieces[2].keep = Keep::stitches;
        open(w, std::move(pieces));
        page(w, WeighStage::pieces);
        auto* table = w.find<QTableWidget>("weighTable");
        QCOMPARE(table->rowCount(), 3);
        QVERIFY(table->item(2, 0)->text().startsWith("upper"));
        QCOMPARE(table->item(2, 1)->text(), QString("50 %"));
        QVERIFY(table->item(2, 2)->text().contains("0.40→0.20"));
        QVERIFY(table->item(2, 3)->text().toDouble() > 3);
        table->selectRow(1);
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{"middle"});
    }

    void mendingIsChosenFreely() {
        AppWindow w;
        StitchList two = fill(30, 24);
        sew(two, runPoints({{-15, 20}, {15, 20}}), 2);
        Piece piece = designPiece("kite", two);
        piece.pose.scaleX = piece.pose.scaleY = 1.2;
        open(w, {piece});
        w.session().selection.choose({"kite"});
        page(w, WeighStage::mend);
        auto* ruler = w.window.findChild<ScaleRuler*>();
        QTRY_VERIFY_WITH_TIMEOUT(std::abs(ruler->range().most.scale - 1.25) < 0.03, 60'000);
        w.find<QSlider>("keepShare")->setValue(0);
        w.settle();
        VERIFY_NEAR(*w.session().checked()->facts()[0].spacingNowMm, 0.48, 0.01);
        w.find<QSlider>("keepShare")->setValue(100);
        w.settle();
        VERIFY_NEAR(*w.session().checked()->facts()[0].spacingNowMm, 0.40, 0.02);
        w.type("Lay at", "0.55");
        w.settle();
        VERIFY_NEAR(*w.session().checked()->facts()[0].spacingNowMm, 0.55, 0.03);
        w.press("ownSpacing");
        w.settle();
        QVERIFY(!w.job().pieces[0].respacing.spacingMm);
        auto* runs = w.find<QListWidget>("runs");
        QCOMPARE(runs->count(), 2);
        runs->item(1)->setCheckState(Qt::Unchecked);
        w.settle();
        QCOMPARE(w.job().pieces[0].leftOutRuns, std::vector<int>{2});
        QVERIFY(boxOf(w, "kite").maxY < 20);
    }

    void beforeAndAfterAreParted() {
        AppWindow w;
        std::vector<Piece> pieces = pileUp();
        for (Piece& p : pieces) p.relief.emplace();
        open(w, std::move(pieces), "canvas");
        page(w, WeighStage::mend);
        w.find<QCheckBox>("compare")->setChecked(true);
        w.settle();
        VERIFY_NEAR(*w.session().weighing.parting(), 0.5, 1e-9);
        const auto before = w.session().derived()->before;
        QVERIFY(before && before->load.summary().peakLayers >
                              w.session().checked()->load().summary().peakLayers + 0.8);
        const QPoint middle(20 + (w.cloth().width() - 20) / 2, w.cloth().height() / 2);
        QPoint line = middle;
        for (int x = middle.x() - 20; x < middle.x() + 20; ++x) {
            // The line is where the cursor can take it.
            QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, {x, middle.y()});
            const bool held = w.cloth().cursor().shape() == Qt::SplitHCursor;
            QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, {x, middle.y()});
            if (held) {
                line = {x + 6, middle.y()};
                break;
            }
        }
        w.drag(line, line + QPoint(120, 0));
        QVERIFY(*w.session().weighing.parting() > 0.55);
        w.key(Qt::Key_2, Qt::ControlModifier);
        QVERIFY(!w.session().weighing.parting());
    }

    void threadsAreOrderedByOneButton() {
        AppWindow w;
        open(w, {designPiece("a", fill(10, 8, 1), -40, 0), designPiece("b", fill(10, 8, 2), -20, 0),
                 designPiece("c", fill(10, 8, 1), 0, 0), designPiece("d", fill(10, 8, 2), 20, 0)});
        page(w, WeighStage::mend);
        QCOMPARE(w.session().derived()->time().threadChanges, std::size_t{3});
        w.press("orderThreads");
        QTRY_COMPARE_WITH_TIMEOUT(w.session().derived()->time().threadChanges, std::size_t{1},
                                  60'000);
        w.settle();
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        QCOMPARE(w.session().derived()->time().threadChanges, std::size_t{3});
    }

    void placesAreDrawnOnTheCloth() {
        AppWindow w;
        open(w, {designPiece("a", fill(30, 24))}, "canvas");
        page(w, WeighStage::cloth);
        w.press("drawForbidden");
        for (const Vec2 at : {Vec2{-8, -8}, Vec2{8, -8}, Vec2{8, 8}, Vec2{-8, 8}})
            QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px(at));
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.settle();
        QCOMPARE(w.job().cloth.forbiddenZones.size(), std::size_t{1});
        QCOMPARE(count(w, "forbidden-zone"), 1);
        w.press("drawSeam");
        for (const Vec2 at : {Vec2{-40, 5}, Vec2{40, 5}})
            QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px(at));
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.settle();
        QCOMPARE(count(w, "seam-cover"), 1);
        auto* places = w.find<QListWidget>("places");
        QCOMPARE(places->count(), 2);
        places->setCurrentRow(0);
        w.press("removePlace");
        w.settle();
        QCOMPARE(count(w, "forbidden-zone"), 0);
    }

    void aFabricIsChangedAndKept() {
        AppWindow w;
        open(w, pileUp(), "canvas"); // takes 3.6 layers
        QCOMPARE(count(w, "layers"), 0);
        page(w, WeighStage::cloth);
        QTimer::singleShot(0, [] {
            auto* dialog = qobject_cast<FabricDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog);
            dialog->findChild<QDoubleSpinBox*>("maxLayers")->setValue(2.0);
            QTest::mouseClick(dialog->findChild<QPushButton*>("keepFabric"), Qt::LeftButton);
        });
        w.press("editFabric");
        w.settle();
        QVERIFY(count(w, "layers") > 0);
        AppWindow later; // reads the library anew
        const auto read = loadLibrary(dataFolder(), userDataFolder())->fabric("canvas");
        QCOMPARE(read->maxLayers, 2.0);
        QCOMPARE(sourceOf(*read), std::string("your own value"));
    }

    void whatIsNotTouchedInAFabricStaysAsExactAsItWas() {
        AppWindow w;
        open(w, pileUp(), "denim");
        Fabric learnt = *w.session().library.fabric("denim");
        learnt.maxLayers = 3.124;
        learnt.source = "learnt from 40 stitch-outs";
        QVERIFY(w.session().setFabric(learnt));
        page(w, WeighStage::cloth);
        QTimer::singleShot(0, [] {
            auto* dialog = qobject_cast<FabricDialog*>(QApplication::activeModalWidget());
            QVERIFY(dialog);
            QTest::mouseClick(dialog->findChild<QPushButton*>("keepFabric"), Qt::LeftButton);
        });
        w.press("editFabric");
        QVERIFY(*w.session().library.fabric("denim") == learnt);
    }

    void theStitchOutIsPlayedAndScrubbed() {
        AppWindow w;
        open(w, pileUp(), "canvas");
        ThreadLine& line = w.window.threadLineView();
        const std::size_t all = w.session().checked()->stitched().list.stitches.size();
        line.setFocus();
        QTest::keyClick(&line, Qt::Key_Home);
        QCOMPARE(*w.session().playback.head(), Playhead{0});
        QTest::keyClick(&line, Qt::Key_Period);
        QTest::keyClick(&line, Qt::Key_Period);
        QCOMPARE(stitchesDone(w.session().checked()->stitched().list, *w.session().playback.head()),
                 std::size_t{2});
        QTest::keyClick(&line, Qt::Key_PageDown); // to the thread change
        w.settle();
        const TimeLine& time = w.session().derived()->time();
        QCOMPARE(*w.session().playback.head(), time.runs[2].first);
        // The load has grown to what is sewn so far: two fills, not three.
        VERIFY_NEAR(w.cloth().liveMap()->summary().peakLayers, 2.05, 0.15);
        const QImage partly = w.cloth().grab().toImage();
        w.find<QComboBox>("playSpeed")->setEditText("250"); // any speed can be typed
        w.press("play");
        QVERIFY(line.transport().isPlaying());
        const Playhead start = *w.session().playback.head();
        QTRY_VERIFY_WITH_TIMEOUT(
            !w.session().playback.head() || *w.session().playback.head() > start + 20, 60'000);
        w.press("toEnd");
        QVERIFY(!w.session().playback.head());
        w.settle();
        QVERIFY(w.cloth().grab().toImage() != partly);
        // Dragging along the minutes scrubs.
        const QPoint from(300, line.height() - 10);
        QTest::mousePress(&line, Qt::LeftButton, {}, from);
        const Playhead there = *w.session().playback.head();
        QVERIFY(there > 0 && there < all);
        QMouseEvent move(QEvent::MouseMove, QPointF(500, from.y()), line.mapToGlobal(from),
                         Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&line, &move);
        QTest::mouseRelease(&line, Qt::LeftButton, {}, {500, from.y()});
        QVERIFY(*w.session().playback.head() > there);
        // An edit shows everything again.
        w.session().selection.choose({"upper"});
        w.key(Qt::Key_Delete);
        w.settle();
        QVERIFY(!w.session().playback.head());
    }
};

RAPT_TEST(TestWeighStage)
#include "test_weigh_stage.moc"
