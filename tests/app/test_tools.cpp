#include "window_support.h"

#include "app/tools/choose_tool.h"
#include "app/tools/draw_tool.h"
#include "app/tools/letter_tool.h"
#include "app/tools/piece_frame.h"
#include "app/tools/points_tool.h"
#include "job/edit_lettering.h"
#include "place/hit.h"

using namespace rapt;
using namespace rapt::app;
using rapt::test::AppWindow;
using rapt::test::DemoWindow;

namespace {

/// A world for tools without any window: two pixels a millimetre, the datum at (400, 300).
struct Bench : ToolHost {
    Session session{test::library()};
    ViewMap view{2, {400, 300}};
    int followed = 0;

    explicit Bench(Job job) {
        session.document.reset(std::move(job), {});
        while (session.derivation.isSeeking()) QTest::qWait(5);
    }
    Pointer at(Vec2 mm, Qt::KeyboardModifiers modifiers = {}) const {
        return {view.toPixels(mm), mm, modifiers};
    }
    /// Presses, drags there in two steps and, if `drop`, lets go.
    bool gesture(Tool& tool, Vec2 from, Vec2 to, bool drop = true) {
        if (!tool.press(at(from))) return false;
        tool.drag(at(lerp(from, to, 0.5)));
        tool.drag(at(to));
        if (drop) tool.release(at(to));
        return true;
    }

    const ViewMap& map() const override { return view; }
    QRect visible() const override { return {0, 0, 800, 600}; }
    qreal pixelRatio() const override { return 1; }
    std::optional<Hit> hitAt(QPointF px) const override {
        const PieceSpan* span = spanAt(session.derived()->stitched(), view.toMm(px), 1);
        return span ? std::optional(Hit{span->source, span->copy}) : std::nullopt;
    }
    void apply(const Edit& edit, const QString& key) override { session.document.apply(edit, key); }
    void redraw() override {}
    void setCursorShape(std::optional<Qt::CursorShape>) override {}
    void follow(const std::optional<Affine>& change) override { followed = change ? 1 : -1; }
};

Job jobWithFill() {
    Job job;
    job.pieces = {test::shapePiece("fill", test::fillOf({test::rectangle(-15, -10, 30, 20)}))};
    return job;
}

Job jobWithWords() {
    Job job;
    Piece piece = letteringPiece(test::words("mast"), {});
    piece.id = "words";
    job.pieces = {piece};
    return job;
}

} // namespace

/// Tools edit only when a gesture ends well: tried without a window, then in the real one.
class TestTools : public QObject {
    Q_OBJECT

    /// Half a drag in the real window; then what `interrupt` does; then the button is let go.
    static void interrupted(AppWindow& w, QPoint from, QPoint to,
                            const std::function<void()>& interrupt) {
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, from);
        for (int k = 1; k <= 3; ++k) {
            const QPointF at = from + (to - from) * (k / 3.0);
            QMouseEvent move(QEvent::MouseMove, at, w.cloth().mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, {});
            QApplication::sendEvent(&w.cloth(), &move);
        }
        interrupt();
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, to);
    }
    /// None of the ways to give a gesture up leaves an edit behind.
    static void neverEdits(AppWindow& w, QPoint from, QPoint to) {
        const ToolKind tool = w.session().tool();
        const auto selection = w.session().selection.ids();
        const Job before = w.job();
        interrupted(w, from, to, [&] { QTest::keyClick(&w.cloth(), Qt::Key_Escape); });
        QVERIFY(w.job() == before);
        QCOMPARE(w.session().tool(), tool); // Escape gave up the gesture, nothing more
        QCOMPARE(w.session().selection.ids(), selection);
        interrupted(w, from, to, [&] { w.session().setStage(Stage::divide); });
        QVERIFY(w.job() == before);
        w.session().setStage(Stage::compose);
        w.session().setTool(tool);
        w.session().document.apply(setJobName("Another"));
        interrupted(w, from, to, [&] { w.session().document.undo(); });
        QVERIFY(w.job() == before);
        QVERIFY(!w.session().document.canUndo() || w.session().document.undoName() != "Move");
    }

private slots:
    void initTestCase() { test::startApplication(); }

    void aMoveIsOneEditAndCanBeGivenUp() {
        Bench bench(jobWithFill());
        ChooseTool tool(bench, bench.session);
        QVERIFY(bench.gesture(tool, {3, 2}, {12, 2}, false));
        QVERIFY(tool.words().join(" ").contains("moved 9"));
        QCOMPARE(bench.followed, 1);
        tool.cancel();
        QCOMPARE(bench.followed, -1);
        QVERIFY(!bench.session.document.canUndo());
        QVERIFY(bench.gesture(tool, {3, 2}, {12, 2}));
        QCOMPARE(bench.session.document.undoName(), QString("Move"));
        VERIFY_NEAR(bench.session.job().pieces[0].pose.x, 9, 1e-9);
    }

    void aBoxChoosesWhatItTouches() {
        Bench bench(jobWithFill());
        ChooseTool tool(bench, bench.session);
        QVERIFY(bench.gesture(tool, {-60, -60}, {-40, -40}));
        QVERIFY(bench.session.selection.ids().empty());
        QVERIFY(bench.gesture(tool, {-60, -60}, {-10, -5}));
        QCOMPARE(bench.session.selection.ids(), std::vector<std::string>{"fill"});
    }

    void drawnPointsBecomeAPieceOrNothing() {
        Bench bench({});
        bench.session.setTool(ToolKind::drawFill);
        DrawTool tool(bench, bench.session);
        for (const Vec2 p : {Vec2{0, 0}, Vec2{20, 0}}) tool.press(bench.at(p));
        tool.doubleClick(bench.at({20, 0})); // two points are no fill
        QVERIFY(bench.session.job().pieces.empty());
        tool.press(bench.at({20, 15}));
        tool.doubleClick(bench.at({20, 15}));
        QCOMPARE(bench.session.job().pieces.size(), std::size_t{1});
        tool.press(bench.at({0, 0}));
        tool.putDown();
        QVERIFY(tool.points().empty());
    }

    void aPointMovesOnlyWhenItIsDropped() {
        Bench bench(jobWithFill());
        bench.session.selection.chooseSingly({"fill"});
        PointsTool tool(bench, bench.session);
        QVERIFY(bench.gesture(tool, {15, 10}, {30, 25}, false));
        tool.cancel();
        tool.release(bench.at({30, 25}));
        QVERIFY(!bench.session.document.canUndo());
        QVERIFY(bench.gesture(tool, {15, 10}, {30, 25}));
        QCOMPARE(bench.session.document.undoName(), QString("Move a point"));
    }

    void aLetterStaysWhereItWasWhenTheDragIsGivenUp() {
        Bench bench(jobWithWords());
        bench.session.selection.chooseSingly({"words"});
        bench.session.setTool(ToolKind::letter);
        LetterTool tool(bench, bench.session);
        QTRY_VERIFY(bench.session.letters.setting());
        const Vec2 letter = bench.session.letters.setting()->setting.letters[1].at - Vec2{0, 5};
        QVERIFY(bench.gesture(tool, letter, letter + Vec2{4, 0}, false));
        tool.cancel();
        tool.release(bench.at(letter + Vec2{4, 0}));
        QVERIFY(!bench.session.document.canUndo());
        QVERIFY(bench.gesture(tool, letter, letter + Vec2{4, 0}));
        QCOMPARE(bench.session.document.undoName(), QString("Nudge a letter"));
    }

    void escapeStageAndUndoGiveUpEveryGesture() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        const Piece red = *w.job().piece("red");
        const QPoint on = w.px({red.pose.x + 6, red.pose.y + 8});
        neverEdits(w, on, on + QPoint(40, 10));
        const Box box = *unscaledBox(red, w.session().stitchesOf(red)->extents);
        const QPoint corner =
            w.px(handlePlace({1, 1}, box, red.pose, handleLiftPx / w.cloth().map().scale));
        neverEdits(w, corner, corner + QPoint(30, 30));
    }

    void theyGiveUpPointsAndLettersToo() {
        AppWindow w;
        w.session().document.reset(jobWithFill(), {});
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.settle();
        w.session().selection.chooseSingly({"fill"});
        w.session().setTool(ToolKind::editPoints);
        neverEdits(w, w.px({15, 10}), w.px({25, 20}));
        w.session().document.reset(jobWithWords(), {});
        w.settle();
        w.session().setStage(Stage::compose);
        w.session().selection.chooseSingly({"words"});
        w.session().setTool(ToolKind::letter);
        QTRY_VERIFY(w.session().letters.setting());
        const Vec2 letter = w.session().letters.setting()->setting.letters[1].at - Vec2{0, 5};
        neverEdits(w, w.px(letter), w.px(letter + Vec2{8, 3}));
    }
};

RAPT_TEST(TestTools)
#include "test_tools.moc"
