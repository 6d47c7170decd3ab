#include "window_support.h"

#include "app/raster/thread_raster.h"
#include "app/tools/piece_frame.h"
#include "app/weigh/findings_list.h"
#include "app/window/thread_line.h"

using namespace rapt;
using namespace rapt::app;
using rapt::test::DemoWindow;

/// The cloth and the thread line under mouse and keys, in the real window.
class TestCloth : public QObject {
    Q_OBJECT

    static QPoint handlePx(DemoWindow& w, const std::string& id, Handle handle) {
        w.settle(); // its stitches are there then
        const Piece* p = w.job().piece(id);
        return w.px(handlePlace(handle, *unscaledBox(*p, w.session().stitchesOf(*p)->extents),
                                p->pose, 26 / w.cloth().map().scale));
    }

private slots:
    void initTestCase() { test::startApplication(); }

    void aClickSelectsWhatIsUnderIt() {
        DemoWindow w;
        const Piece* red = w.job().piece("red");
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px({red->pose.x + 6, red->pose.y + 8}));
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{"red"});
        QTest::mouseClick(
            &w.cloth(), Qt::LeftButton, Qt::ShiftModifier,
            w.px({w.job().piece("blue")->pose.x + 8, w.job().piece("blue")->pose.y - 8}));
        QCOMPARE(w.session().selection.ids(), (std::vector<std::string>{"red", "blue"}));
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px({-100, 90}));
        QVERIFY(w.session().selection.ids().empty());
    }

    void aDragMovesAndIsOneUndoStep() {
        DemoWindow w;
        w.session().setCatchesLines(false);
        const Pose before = w.job().piece("red")->pose;
        const QPoint from = w.px({before.x + 6, before.y + 8});
        w.drag(from, from + QPoint(40, 25));
        const Pose after = w.job().piece("red")->pose;
        VERIFY_NEAR(after.x - before.x, 40 / w.cloth().map().scale, 0.06);
        VERIFY_NEAR(after.y - before.y, 25 / w.cloth().map().scale, 0.06);
        QCOMPARE(w.session().document.undoName(), QString("Move"));
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(w.job().piece("red")->pose == before);
        QVERIFY(!w.session().document.canUndo());
        w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(w.job().piece("red")->pose == after);
    }

    void escapeGivesADragUp() {
        DemoWindow w;
        const Pose before = w.job().piece("red")->pose;
        const QPoint from = w.px({before.x + 6, before.y + 8});
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, from);
        QTest::mouseMove(&w.cloth(), from + QPoint(30, 0));
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, from + QPoint(30, 0));
        QVERIFY(w.job().piece("red")->pose == before);
    }

    void arrowKeysMoveByTenthsMillimetresAndTens() {
        DemoWindow w;
        w.session().selection.choose({"red"});
        w.cloth().setFocus();
        const Pose before = w.job().piece("red")->pose;
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        QTest::keyClick(&w.cloth(), Qt::Key_Right, Qt::ShiftModifier);
        QTest::keyClick(&w.cloth(), Qt::Key_Down, Qt::AltModifier);
        const Pose after = w.job().piece("red")->pose;
        VERIFY_NEAR(after.x - before.x, 11, 1e-9);
        VERIFY_NEAR(after.y - before.y, 0.1, 1e-9);
    }

    void aCornerResizesInProportionAndTheOppositeCornerStays() {
        DemoWindow w;
        w.session().selection.choose({"blue"});
        w.settle();
        const Piece before = *w.job().piece("blue");
        const Box box = *unscaledBox(before, w.session().stitchesOf(before)->extents);
        const Vec2 anchor = before.pose.affine()({box.minX, box.minY});
        const QPoint corner = handlePx(w, "blue", {1, 1});
        const QPoint centre = w.px(before.pose.affine()(box.centre()));
        w.drag(corner, corner + (corner - centre) / 4);
        const Piece after = *w.job().piece("blue");
        QVERIFY(after.pose.scaleX > 1.05);
        VERIFY_NEAR(after.pose.scaleX, after.pose.scaleY, 1e-9);
        VERIFY_NEAR(distance(after.pose.affine()({box.minX, box.minY}), anchor), 0, 1e-6);
        QCOMPARE(w.session().document.undoName(), QString("Resize"));
    }

    void aSideResizesOneDirection() {
        DemoWindow w;
        w.session().selection.choose({"red"});
        const QPoint side = handlePx(w, "red", {1, 0});
        const QPoint opposite = handlePx(w, "red", {-1, 0});
        w.drag(side, side + (side - opposite) / 5);
        const Pose pose = w.job().piece("red")->pose;
        QVERIFY(pose.scaleX > 1.1);
        QCOMPARE(pose.scaleY, 1.0);
    }

    void theRoundHandleTurnsInStepsWithShift() {
        DemoWindow w;
        w.session().selection.choose({"red"});
        const Piece before = *w.job().piece("red");
        const Vec2 centre = before.pose.affine()(
            unscaledBox(before, w.session().stitchesOf(before)->extents)->centre());
        const QPoint grip = handlePx(w, "red", {0, -1, true});
        const QPointF arm = grip - w.px(centre);
        const QPoint turned = w.px(centre) + QPointF(-arm.y(), arm.x()).toPoint(); // a quarter on
        w.drag(grip, turned, Qt::ShiftModifier);
        const Pose pose = w.job().piece("red")->pose;
        VERIFY_NEAR(std::fmod(pose.rotationDeg + 360, 15), 0, 1e-6);
        VERIFY_NEAR(pose.rotationDeg, 105, 1e-6); // from 14°, a quarter on, to the nearest step
        VERIFY_NEAR(
            distance(pose.affine()(
                         unscaledBox(before, w.session().stitchesOf(before)->extents)->centre()),
                     centre),
            0, 1e-6);
    }

    void menusTurnMirrorDuplicateAndDelete() {
        DemoWindow w;
        w.session().selection.choose({"red"});
        const double before = w.job().piece("red")->pose.rotationDeg;
        w.key(Qt::Key_R, Qt::ControlModifier);
        VERIFY_NEAR(w.job().piece("red")->pose.rotationDeg, before + 90, 1e-9);
        w.settle();
        w.key(Qt::Key_M, Qt::ControlModifier);
        QVERIFY(w.job().piece("red")->pose.mirror);
        const std::size_t count = w.job().pieces.size();
        w.key(Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), count + 1);
        w.key(Qt::Key_Delete);
        QCOMPARE(w.job().pieces.size(), count);
        QVERIFY(w.session().selection.ids().empty());
        w.key(Qt::Key_A, Qt::ControlModifier);
        QCOMPARE(w.session().selection.ids().size(), count);
    }

    void aBoxSelectsWhatItTouches() {
        DemoWindow w;
        w.drag(w.px({120, -115}), w.px({300, 115}));
        QCOMPARE(w.session().selection.ids(), (std::vector<std::string>{"green", "green-tail"}));
    }

    void theWheelZoomsAboutThePointerAndFitShowsAll() {
        DemoWindow w;
        const QPointF at(400, 300);
        const Vec2 under = w.cloth().map().toMm(at);
        const double scale = w.cloth().map().scale;
        QWheelEvent wheel(at, w.cloth().mapToGlobal(at), {}, QPoint(0, 240), Qt::NoButton, {},
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(&w.cloth(), &wheel);
        VERIFY_NEAR(w.cloth().map().scale, scale * 1.44, 0.01);
        VERIFY_NEAR(distance(w.cloth().map().toMm(at), under), 0, 1.0 / w.cloth().map().scale);
        w.key(Qt::Key_0, Qt::ControlModifier);
        VERIFY_NEAR(w.cloth().map().scale, scale, 1e-9);
    }

    void piecesAreDrawnInTheirColoursOnTheCloth() {
        DemoWindow w;
        const QImage picture = w.cloth().grab().toImage();
        const auto near = [&](Vec2 mm, Rgb c) {
            const QColor seen = picture.pixelColor(w.px(mm));
            return std::abs(seen.red() - c.r) + std::abs(seen.green() - c.g) +
                       std::abs(seen.blue() - c.b) <
                   90;
        };
        const Pose blue = w.job().piece("blue")->pose;
        QVERIFY(near(blue.affine()({-20, -14}), {0x1f, 0x4e, 0x79}));
        QVERIFY(near({-100, 90}, w.job().cloth.color));
    }

    void findingsTakeTheViewToTheirPlaceAndRemediesMendThem() {
        DemoWindow w("mending-patch");
        w.key(Qt::Key_3, Qt::ControlModifier);
        w.settle();
        QVERIFY(w.judgement().contains("25 needle points on the button")); // the worst of them
        const auto stops = [&] {
            return std::count_if(w.session().checked()->findings().begin(),
                                 w.session().checked()->findings().end(),
                                 [](const Finding& f) { return f.severity == Severity::stop; });
        };
        const auto before = stops();
        QVERIFY(before > 0);
        const auto cards = w.window.findChildren<FindingCard*>();
        // What one shrunk piece brings is one card of two findings.
        const auto told = toldTogether(w.session().checked()->findings());
        QCOMPARE(cards.size(), static_cast<qsizetype>(told.size()));
        QVERIFY(told.size() + 1 <= w.session().checked()->findings().size());
        QStringList all;
        for (const QLabel* words : w.window.findChildren<QLabel*>()) all << words->text();
        QVERIFY(all.filter("Also: 11").size() == 1);
        const Finding first = w.session().checked()->findings()[0];
        QTest::mouseClick(cards[0], Qt::LeftButton, {}, QPoint(20, 20));
        QVERIFY(w.cloth().map().scale >= 6);
        const Vec2 middle = w.cloth().map().toMm(QRectF(w.cloth().rect()).center());
        QVERIFY(distance(middle, *first.at) < 6);
        QVERIFY(cards[0]->findChild<QPushButton*>("remedy"));
        QTest::mouseClick(cards[0]->findChild<QPushButton*>("remedy"), Qt::LeftButton);
        w.settle();
        QVERIFY(w.session().checked()->load().layers(cellAt(*first.at)) <= *first.limit);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        QCOMPARE(stops(), before);
    }

    void theThreadLineSelectsAndReorders() {
        DemoWindow w;
        auto* line = w.window.findChild<ThreadLine*>();
        const auto& runs = w.session().derived()->time().runs;
        QVERIFY(runs.size() > 10);
        // Wider runs take longer.
        for (std::size_t i = 1; i < runs.size(); ++i)
            QVERIFY(line->segmentRect(i).left() > line->segmentRect(i - 1).left());
        std::size_t red = 0;
        while (runs[red].piece != "red") ++red;
        const QPoint from = line->segmentRect(red).center().toPoint();
        QTest::mousePress(line, Qt::LeftButton, {}, from);
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{"red"});
        const QPointF to(line->width() - 4, from.y());
        QMouseEvent move(QEvent::MouseMove, to, line->mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                         {});
        QApplication::sendEvent(line, &move);
        QTest::mouseRelease(line, Qt::LeftButton, {}, to.toPoint());
        QCOMPARE(w.job().pieces.back().id, std::string("red"));
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.back().id, std::string("green-tail"));
    }

    void threadIsDrawnAtItsTrueWidth() {
        const StitchList list = test::listThrough({{0, 0}, {10, 0}});
        const StitchIndex index(list);
        for (const double scale : {4.0, 20.0}) {
            const QImage image = drawThread(index, Box{-1, -1, 11, 1}, scale);
            double covered = 0; // pixels at the edge count by how much of them is covered
            for (int y = 0; y < image.height(); ++y)
                covered += qAlpha(image.pixel(image.width() / 2, y)) / 255.0;
            VERIFY_NEAR(covered / scale, 0.4, 0.11);
        }
    }

    void tilesMeetWithoutASeam() {
        Shape shape;
        shape.parts.push_back(test::fillOf({test::rectangle(0, 0, 40, 40)}, 30));
        const StitchList list = stitchShape(shape);
        const StitchIndex index(list);
        const QImage whole = drawThread(index, Box{0, 0, 40, 40}, 4);
        const QImage part = drawThread(index, Box{10, 10, 30, 30}, 4);
        int differing = 0;
        // The seam itself above all: the outermost rows and columns.
        for (int y = 0; y < part.height(); ++y)
            for (int x = 0; x < part.width(); ++x)
                differing += part.pixel(x, y) != whole.pixel(x + 40, y + 40);
        QCOMPARE(differing, 0);
    }
};

RAPT_TEST(TestCloth)
#include "test_cloth.moc"
