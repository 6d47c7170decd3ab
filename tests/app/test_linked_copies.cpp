#include "compose_support.h"

#include "app/tools/piece_frame.h"

#include <QListWidget>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

/// Linked copies under mouse and keys, in the real window.
class TestLinkedCopies : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { test::startApplication(); }
    void init() { forgetEverything(); }

    void aCopyThatIsDraggedTakesAllWithIt() {
        AppWindow w;
        openShelf(w);
        take(w, "Star");
        w.session().selection.choose({"star"});
        w.session().setCatchesLines(false);
        w.type("Across", "50");
        w.type("Down", "-40");
        w.key(Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
        w.settle();
        QCOMPARE(sewn(w, "star"), std::size_t{4});
        // The one at the near left is pointed at and dragged.
        const Vec2 grip = boxOf(w, "star", 4).centre();
        w.drag(w.px(grip), w.px(grip + Vec2{10, 6}));
        w.settle();
        QCOMPARE(w.session().selection.copy(), 4);
        VERIFY_NEAR(distance(boxOf(w, "star", 4).centre(), grip + Vec2{10, 6}), 0, 1.2);
        const Vec2 at = boxOf(w, "star", 4).centre();
        VERIFY_NEAR(distance(boxOf(w, "star", 1).centre(), {-at.x, -at.y}), 0, 1e-3);
        // Arrow keys go the way they point for the copy, too.
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        w.settle();
        VERIFY_NEAR(boxOf(w, "star", 4).centre().x, at.x + 1, 1e-3);
        // Unlinked, it goes alone.
        page(w, ComposeStage::copies);
        w.press("unlinkCopies");
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{4});
        w.session().selection.choose({w.job().pieces[3].id});
        const Box first = boxOf(w, "star");
        w.key(Qt::Key_Delete);
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{3});
        QVERIFY(boxOf(w, "star") == first);
    }

    void aHandleOfACopyResizesAllOfThem() {
        AppWindow w;
        openShelf(w);
        take(w, "Star");
        w.session().selection.choose({"star"});
        w.type("Across", "60");
        w.type("Down", "-45");
        w.key(Qt::Key_M, Qt::ControlModifier | Qt::ShiftModifier);
        w.settle();
        click(w, boxOf(w, "star", 2).centre());
        QCOMPARE(w.session().selection.copy(), 2);
        const Piece* star = w.job().piece("star");
        const Affine copy = w.session().copyMapOfSelection();
        const Box own = *unscaledBox(*star, w.session().stitchesOf(*star)->extents);
        const Vec2 corner = copy(handlePlace({1, 1}, own, star->pose, 0));
        const Vec2 middle = copy(star->pose.affine()(own.centre()));
        const double before = boxOf(w, "star", 1).width();
        w.drag(w.px(corner), w.px(corner + (corner - middle) * 0.5));
        w.settle();
        const double grown = boxOf(w, "star", 2).width();
        QVERIFY2(grown > before * 1.15, qPrintable(QString::number(grown / before)));
        for (int copyNumber = 1; copyNumber <= 4; ++copyNumber)
            VERIFY_NEAR(boxOf(w, "star", copyNumber).width(), grown, 1e-3);
        // Turned by the round handle, its mirror image turns the other way.
        const Vec2 grip = w.session().copyMapOfSelection()(handlePlace(
            {0, -1, true}, own, w.job().piece("star")->pose, handleLiftPx / w.cloth().map().scale));
        w.drag(w.px(grip), w.px(grip + Vec2{8, 2}));
        QVERIFY(w.job().piece("star")->pose.rotationDeg < -1);
    }

    void numberedCopiesDifferWhereTheyShould() {
        AppWindow w;
        openShelf(w);
        take(w, "Star");
        w.session().selection.choose({"star"});
        page(w, ComposeStage::copies);
        w.choose("copiesKind", "along a line");
        w.type("Copies", "4");
        w.type("Step across", "3");
        w.settle();
        click(w, boxOf(w, "star", 3).centre());
        QCOMPARE(w.session().selection.copy(), 3);
        w.press("leaveOut");
        w.settle();
        QCOMPARE(sewn(w, "star"), std::size_t{3});
        QVERIFY(w.find<QListWidget>("exceptions")->item(0)->text().contains("Copy 3"));
        click(w, boxOf(w, "star", 2).centre());
        const double before = boxOf(w, "star", 2).minY;
        w.type("Copy down", "4");
        w.settle();
        VERIFY_NEAR(boxOf(w, "star", 2).minY, before + 4, 1e-3);
        w.choose("copiesKind", "no copies");
        w.settle();
        QCOMPARE(sewn(w, "star"), std::size_t{1});
    }

    void aFieldIsFilledWithCopies() {
        AppWindow w;
        openShelf(w);
        take(w, "Star");
        w.key(Qt::Key_2, Qt::ControlModifier);
        Brief brief = w.job().brief;
        brief.hoops = {"field-100x100"};
        w.session().document.apply(setBrief(brief, "Hoops"));
        w.session().selection.choose({"star"});
        page(w, ComposeStage::copies);
        w.choose("copiesKind", "rows and columns");
        w.type("Step across", "4");
        w.type("Step down", "4");
        w.press("fillWithCopies");
        w.settle();
        Box all;
        for (const PieceSpan& span : w.session().checked()->stitched().spans) all.add(span.extents);
        QVERIFY(all.width() <= 100 && all.height() <= 100);
        QVERIFY(sewn(w, "star") >= 9);
        VERIFY_NEAR(distance(all.centre(), {0, 0}), 0, 1e-3);
    }
};

RAPT_TEST(TestLinkedCopies)
#include "test_linked_copies.moc"
