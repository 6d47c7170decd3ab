#include "window_support.h"

#include "app/divide/divide_stage.h"
#include "app/divide/offers.h"
#include "app/kit/rows_table.h"
#include "app/tools/frame_tool.h"
#include "divide/ring.h"

#include <QCheckBox>
#include <QListWidget>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <QTextBrowser>

using namespace rapt;
using namespace rapt::app;
using rapt::test::AppWindow;
using rapt::test::DemoWindow;

namespace {

void settleOffers(AppWindow& w) {
    auto* offers = w.window.findChild<FrameOffers*>();
    QTRY_VERIFY_WITH_TIMEOUT(!offers->isBusy(), 120'000);
}

/// The middle of a frame's ring on its right side, in pixels.
QPoint ringOf(AppWindow& w, std::size_t hooping) {
    const Hooping& h = w.job().hoopings[hooping];
    const RingShape ring = rapt::ringOf(*w.session().library.hoop(h.hoop));
    const Vec2 at{(ring.opening.maxX + ring.outer.maxX) / 2, 5};
    return w.px(h.frame.affine()(at));
}

Piece block(const std::string& id, double x, double width) {
    return test::shapePiece(id, test::fillOf({test::rectangle(-width / 2, -20, width, 40)}, 0, 1.5),
                            x);
}

/// Laid out in Divide; nothing is waited for.
void layOut(AppWindow& w, std::vector<Piece> pieces) {
    w.session().document.apply({"fill", [pieces](Job job) {
                                    job.cloth.widthMm = 600;
                                    job.cloth.heightMm = 400;
                                    job.brief.hoops = {"field-180x130"};
                                    job.pieces = pieces;
                                    return job;
                                }});
    w.session().setStage(Stage::divide);
}

void fillWith(AppWindow& w, std::vector<Piece> pieces) {
    layOut(w, std::move(pieces));
    w.settle();
    settleOffers(w);
}

} // namespace

class TestDivideStage : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { test::startApplication(); }

    void theBannerIsPlannedInTheEverydayFieldAndTheTwoSidedFrame() {
        DemoWindow w;
        w.planWith("180 × 130");
        QCOMPARE(w.job().hoopings.size(), std::size_t{5});
        QVERIFY2(w.judgement().startsWith("Five hoopings"), qPrintable(w.judgement()));
        w.planWith("360 × 94");
        QVERIFY(w.job().hoopings.size() > 1);
        bool turnedSide = false;
        for (const Hooping& h : w.job().hoopings) turnedSide = turnedSide || h.position == 2;
        QVERIFY(turnedSide);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(w.job().hoopings.size(), std::size_t{5}); // undo of planning restores
    }

    void whatIsSewnStaysAndACopyIsOffered() {
        DemoWindow w;
        w.planWith("180 × 130");
        w.settle();
        const auto before = w.job().hoopings;
        w.press("hoopingSewn");
        QCOMPARE(w.job().hoopings[0].sewn, allSewn);
        QVERIFY(w.find<QListWidget>("hoopings")->item(0)->text().contains("sewn"));
        w.settle();
        const std::string id = w.job().piece(before[0].pieces[0])->id;
        const std::size_t pieces = w.job().pieces.size();
        w.session().selection.choose({id});
        w.session().setStage(Stage::compose);
        const Job sewn = w.job();
        QTest::keyClick(&w.cloth(), Qt::Key_Right); // moves it, were it not sewn
        QCOMPARE(w.job(), sewn);
        auto* box = w.window.findChild<QMessageBox*>("sewnStays");
        QVERIFY(box && box->text().contains("sewn in hooping 1"));
        for (QAbstractButton* b : box->buttons())
            if (b->text().contains("copy")) QTest::mouseClick(b, Qt::LeftButton);
        QCOMPARE(w.job().pieces.size(), pieces + 1);
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        QVERIFY(w.job().pieces.back().pose.x != w.job().piece(id)->pose.x + 10); // the copy moves
        // Planned again, in other frames: the hooping is the first of the new plan, as it was.
        w.session().setStage(Stage::divide);
        w.settle();
        settleOffers(w);
        w.planWith("300 × 200");
        QVERIFY(w.job().hoopings.size() >= 2);
        Hooping first = w.job().hoopings[0];
        QCOMPARE(first.hoop, before[0].hoop);
        QCOMPARE(first.pose, before[0].pose);
        QCOMPARE(first.pieces, before[0].pieces);
        w.session().setHooping(0);
        w.press("hoopingSewn"); // not sewn after all
        QCOMPARE(w.job().hoopings[0].sewn, std::size_t{0});
    }

    void aPlanIsThereBeforeItIsProvedAndTheSearchCanBeStopped() {
        AppWindow w;
        test::Dice dice(4);
        std::vector<Piece> many;
        for (int i = 0; i < 110; ++i) {
            Piece p = block("p" + std::to_string(i), dice.between(-270, 270), dice.between(8, 60));
            p.pose.y = dice.between(-170, 170);
            many.push_back(p);
        }
        layOut(w, many);
        auto* offers = w.window.findChild<FrameOffers*>();
        auto* table = w.find<QTableWidget>("framesCompared");
        QTRY_VERIFY(!offers->list().empty() && offers->list()[0].division);
        QVERIFY(offers->list()[0].improving && offers->isBusy());
        QVERIFY(table->item(0, 1)->text().endsWith("…"));
        QVERIFY(table->item(0, 0)->toolTip().contains("still looked for"));
        w.press("stopOffers");
        QVERIFY(!offers->isBusy() && !offers->list()[0].improving);
        QVERIFY(!table->item(0, 1)->text().endsWith("…"));
        w.press("plan");
        QCOMPARE(w.job().hoopings.size(), offers->list()[0].division->hoopings.size());
    }

    void whatMayNotBeIsNoOffer() {
        AppWindow w;
        fillWith(w, {block("a", -200, 60), block("b", 200, 60)});
        auto* table = w.find<QTableWidget>("framesCompared");
        const auto cell = [&](const QString& size, int column) {
            for (int i = 0; i < table->rowCount(); ++i)
                if (table->item(i, 0)->text().remove("✓ ").startsWith(size))
                    return table->item(i, column);
            return static_cast<QTableWidgetItem*>(nullptr);
        };
        QTRY_COMPARE(cell("180×130", 1)->text(), QString("2"));
        auto* most = w.find<QSpinBox>("mostHoopings");
        most->setFocus();
        QTest::keyClick(most, Qt::Key_Up);
        QCOMPARE(most->value(), 1);
        settleOffers(w);
        QTRY_COMPARE(cell("180×130", 1)->text(), QString("no"));
        QVERIFY(cell("180×130", 0)->toolTip().contains("at most 1"));
        QTest::keyClick(most, Qt::Key_Down);
        // A machine that reaches less than a frame's field.
        QVERIFY(cell("240×240", 1)->text() != "no");
        Brief brief = w.job().brief;
        brief.machine = "one-needle";
        w.session().document.apply(setBrief(brief, "Another machine"));
        w.settle();
        settleOffers(w);
        QTRY_COMPARE(cell("180×130", 1)->text(), QString("2"));
        QTRY_COMPARE(cell("240×240", 1)->text(), QString("no"));
        QVERIFY(cell("240×240", 0)->toolTip().contains("sews 300 × 200 mm at most"));
    }

    void whatFitsOneFrameIsHoopedByItself() {
        AppWindow w;
        fillWith(w, {block("a", 30, 40)});
        w.settle();
        w.session().setStage(Stage::registration);
        QTRY_COMPARE(w.job().hoopings.size(), std::size_t{1});
        VERIFY_NEAR(w.job().hoopings[0].pose.x, 30, 0.5);
        w.settle();
        // It follows what is moved, once a hooping is needed again.
        w.session().document.apply(movePieces({"a"}, {400, 0}));
        w.session().setStage(Stage::compose);
        w.settle();
        w.session().setStage(Stage::stitchOut);
        QTRY_VERIFY(std::abs(w.job().hoopings[0].pose.x - 430) < 0.5);
        // Taken back it stays so, and a pinned one stays where it is.
        w.session().document.undo();
        w.settle();
        VERIFY_NEAR(w.job().hoopings[0].pose.x, 30, 0.5);
        w.session().document.apply(pinClamping(1, true));
        w.session().setStage(Stage::compose);
        w.settle();
        w.session().setStage(Stage::registration);
        w.settle();
        VERIFY_NEAR(w.job().hoopings[0].pose.x, 30, 0.5);
    }

    void aFrameIsDraggedAtItsRingAndPinned() {
        AppWindow w;
        fillWith(w, {block("a", -140, 60), block("b", 140, 60)});
        w.planWith("180 × 130");
        QCOMPARE(w.job().hoopings.size(), std::size_t{2});
        const Pose was = w.job().hoopings[0].frame;
        const QPoint from = ringOf(w, 0);
        const QPoint to = from + QPoint(12, 8);
        // Given up in the middle: nothing has happened.
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&w.cloth(), to);
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, to);
        QVERIFY(w.job().hoopings[0].frame == was);
        w.drag(from, to);
        const Hooping& moved = w.job().hoopings[0];
        QVERIFY(moved.pinned);
        VERIFY_NEAR(moved.frame.x - was.x, 12 / w.cloth().map().scale, 0.6);
        VERIFY_NEAR(moved.pose.y - was.y, 8 / w.cloth().map().scale, 0.6);
        w.settle();
        QVERIFY(!w.session().derived()->hoopings().empty()); // it still reaches what it sews
        // Planned again it stays; freed it is placed anew.
        const Pose pinned = moved.frame;
        settleOffers(w);
        w.planWith("180 × 130");
        QVERIFY(std::any_of(w.job().hoopings.begin(), w.job().hoopings.end(),
                            [&](const Hooping& h) { return h.frame == pinned; }));
        w.press("pinClamping");
        QVERIFY(!w.job().hoopings[static_cast<std::size_t>(w.session().hooping())].pinned);
    }

    void aFrameDraggedTooFarSaysSo() {
        AppWindow w;
        fillWith(w, {block("a", -140, 170), block("b", 140, 60)});
        w.planWith("180 × 130");
        std::size_t wide = 0;
        while (w.job().hoopings[wide].pieces[0] != "a") ++wide;
        w.session().setHooping(static_cast<int>(wide));
        w.drag(ringOf(w, wide), ringOf(w, wide) + QPoint(40, 0));
        w.settle();
        QCOMPARE(w.judgement(), QString("The plan no longer suits the layout."));
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        QVERIFY(w.judgement().contains("hoopings"));
    }

    void keysMoveAndTurnAFrame() {
        AppWindow w;
        fillWith(w, {block("a", 0, 60)});
        w.planWith("180 × 130");
        const Pose was = w.job().hoopings[0].frame;
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(w.job().hoopings[0].frame.x, was.x + 10);
        QTest::keyClick(&w.cloth(), Qt::Key_R);
        QCOMPARE(w.job().hoopings[0].frame.rotationDeg, 90.0);
        QCOMPARE(w.job().hoopings[0].pose.rotationDeg, 90.0);
    }

    void aNearMissIsOfferedTakenAndPlanned() {
        AppWindow w;
        fillWith(w, {block("a", -66, 52), block("b", 0, 52), block("tail", 66, 52)});
        auto* take = w.window.findChild<QPushButton*>("takeNearMiss");
        QTRY_VERIFY((take = w.window.findChild<QPushButton*>("takeNearMiss")) != nullptr);
        QTest::mouseClick(take, Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(w.job().hoopings.size(), std::size_t{1}, 60'000);
        QVERIFY(std::any_of(w.job().pieces.begin(), w.job().pieces.end(), [](const Piece& p) {
            return std::abs(std::abs(p.pose.x) - 66) < 5 && std::abs(p.pose.x) != 66;
        }));
    }

    void aLargeGroundIsCutAndItsCutDragged() {
        AppWindow w;
        fillWith(w, {block("ground", 0, 300)});
        w.planWith("180 × 130");
        QCOMPARE(w.job().hoopings.size(), std::size_t{2});
        QVERIFY(w.judgement().contains("cut"));
        QCOMPARE(w.job().cuts.size(), std::size_t{1});
        const Cut before = w.job().cuts[0];
        const auto grips = FrameTool::gripsOf(before);
        const QPoint at = w.px(before.path[grips[grips.size() / 2]]);
        w.drag(at, at + QPoint(8, 0));
        QVERIFY(w.job().cuts[0].path != before.path);
        VERIFY_NEAR(w.job().cuts[0].path[grips[grips.size() / 2]].x -
                        before.path[grips[grips.size() / 2]].x,
                    8 / w.cloth().map().scale, 0.6);
        w.settle();
        QCOMPARE(w.session().derived()->hoopings().size(), std::size_t{2});
        // Not allowed to be cut, no frame of this size does it.
        w.press("mayCut");
        w.press("mayPart");
        settleOffers(w);
        auto* table = w.window.findChildren<QTableWidget*>()[0];
        for (auto* t : w.window.findChildren<QTableWidget*>())
            if (t->accessibleName() == "Frames compared") table = t;
        for (int i = 0; i < table->rowCount(); ++i)
            if (table->item(i, 0)->text().contains("180×130"))
                QVERIFY(table->item(i, 0)->toolTip().contains("fits no field"));
    }

    void steppingChoosesHoopingAfterHooping() {
        AppWindow w;
        fillWith(w, {block("a", -140, 60), block("b", 140, 60)});
        w.planWith("180 × 130");
        w.press("stepThrough");
        QVERIFY(w.session().dividing.isStepping());
        w.session().setHooping(0);
        w.press("hoopingOn");
        QCOMPARE(w.session().hooping(), 1);
        w.press("hoopingBack");
        QCOMPARE(w.session().hooping(), 0);
        // A click on a piece chooses the hooping that sews it.
        const std::string last = w.job().hoopings[1].pieces[0];
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px({w.job().piece(last)->pose.x, 0.3}));
        QCOMPARE(w.session().hooping(), 1);
    }

    void theMarkingPlanSaysWhatToDraw() {
        AppWindow w;
        fillWith(w, {block("a", -140, 60), block("b", 140, 60)});
        w.planWith("180 × 130");
        w.press("divideTab1");
        const QString plan = w.find<QTextBrowser>("markingPlan")->toPlainText();
        QVERIFY(plan.contains("level line lies 200.0 mm (7 7/8 in)"));
        QVERIFY(plan.contains("Hooping 2"));
        for (const Mark& m : w.job().hoopings[1].marks)
            QVERIFY(plan.contains(QString::fromStdString(m.name) + ": draw a cross"));
    }

    void aBatchIsCountedAndLaidOutWithNames() {
        DemoWindow w;
        QVERIFY(w.window.openFile(w.dir.filePath("demo/book-tag.rapt")));
        w.session().setStage(Stage::divide);
        w.press("divideTab2");
        auto* table = w.find<RowsTable>("batchTable");
        QTRY_VERIFY(table->rowCount() > 3);
        for (int i = 0; i < table->rowCount(); ++i)
            if (table->text(i, 0).contains("180 × 130")) table->selectRow(i);
        const int each = table->text(table->currentRow(), 1).toInt();
        QVERIFY(each > 10);
        w.find<QPlainTextEdit>("batchNames")->setPlainText("Kestrel\nTern\nKnot");
        const QString file = w.dir.filePath("three.rapt");
        test::answerFileDialog(file);
        w.press("layBatch");
        QTRY_COMPARE_WITH_TIMEOUT(w.session().document.path(), file, 60'000);
        QCOMPARE(w.job().pieces.size(), std::size_t{6});
        QCOMPARE(w.job().hoopings.size(), std::size_t{1});
        std::set<std::string> names;
        for (const Piece& p : w.job().pieces)
            if (const auto* words = std::get_if<LetteringContent>(&p.content))
                names.insert(words->lettering->text);
        QCOMPARE(names, (std::set<std::string>{"Kestrel", "Knot", "Tern"}));
    }

    void anOwnFrameIsTypedInInchesAndKept() {
        AppWindow w;
        w.session().setStage(Stage::divide);
        w.press("divideTab3");
        w.press("newFrame");
        w.type("frameName", "Template-measured");
        w.choose("frameKind", "two-sided");
        const auto typeInto = [&](const char* name, const QString& text) {
            for (auto* edit : w.window.findChildren<QLineEdit*>())
                if (edit->accessibleName() == name && edit->isVisible()) {
                    edit->setFocus();
                    edit->selectAll();
                    QTest::keyClicks(edit, text);
                    QTest::keyClick(edit, Qt::Key_Return);
                    return;
                }
            QFAIL(name);
        };
        typeInto("Field width", "7 1/2 in");
        typeInto("Field height", "80");
        typeInto("Step", "92");
        typeInto("Outer height", "100"); // less than both fields together
        QVERIFY(!w.find<QPushButton>("keepFrame")->isEnabled());
        typeInto("Outer height", "230");
        w.press("keepFrame");
        const auto kept = w.session().library.hoop("own-1");
        QVERIFY(bool(kept));
        QCOMPARE(kept->widthMm, 190.5);
        QCOMPARE(kept->positions.size(), std::size_t{2});
        VERIFY_NEAR(kept->positions[1].at.y - kept->positions[0].at.y, 92, 1e-9);
        QCOMPARE(w.job().brief.hoops.back(), std::string("own-1"));
        const auto again = loadLibrary(dataFolder(), userDataFolder());
        QVERIFY(again && again->hoop("own-1")->positions == kept->positions);
    }

    void aBorderIsMadeOfTheChosenPiece() {
        DemoWindow w;
        w.session().setStage(Stage::compose);
        const std::string id = w.job().pieces[0].id;
        w.session().selection.choose({id});
        w.press("tab3"); // copies
        w.press("borderFrame");
        QTRY_VERIFY(w.find<QPushButton>("makeBorder")->isEnabled());
        w.press("makeBorder");
        QVERIFY(!w.job().piece(id));
        const auto sewn = stitchJob(w.job());
        QVERIFY(w.job().repeats.size() >= 2);
        Box box;
        for (const PieceSpan& s : sewn->spans)
            if (s.source.starts_with("far") || s.source.starts_with("near") ||
                s.source.starts_with("corner") || s.source.starts_with("left") ||
                s.source.starts_with("right"))
                box.add(s.extents);
        VERIFY_NEAR(box.width(), 400, 0.05);
        VERIFY_NEAR(box.height(), 300, 0.05);
    }
};

RAPT_TEST(TestDivideStage)
#include "test_divide_stage.moc"
