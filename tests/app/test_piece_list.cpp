// The list of pieces and their groups, and files that come into it.

#include "compose_support.h"

#include "job/groups.h"
#include "svg/drawing.h"
#include "thread/measures.h"

#include <QClipboard>
#include <QDropEvent>
#include <QMimeData>
#include <QTreeView>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

class TestPieceList : public QObject {
    Q_OBJECT

    static QTreeView& list(AppWindow& w) { return *w.find<QTreeView>("pieces"); }
    static QModelIndex line(AppWindow& w, int row, const QModelIndex& in = {}) {
        return list(w).model()->index(row, 0, in);
    }
    static QStringList lines(AppWindow& w, const QModelIndex& in = {}) {
        QStringList words;
        for (int i = 0; i < list(w).model()->rowCount(in); ++i)
            words << line(w, i, in).data(Qt::EditRole).toString();
        return words;
    }
    static void click(AppWindow& w, const QModelIndex& at) {
        list(w).scrollTo(at);
        QTest::mouseClick(list(w).viewport(), Qt::LeftButton, {}, list(w).visualRect(at).center());
    }
    static std::vector<std::string> order(AppWindow& w) {
        std::vector<std::string> ids;
        for (const Piece& p : w.job().pieces) ids.push_back(p.id);
        return ids;
    }
    /// What the view does when lines are let go there.
    static void dragLines(AppWindow& w, const QModelIndexList& dragged, int row,
                          const QModelIndex& into = {}) {
        const std::unique_ptr<QMimeData> data(list(w).model()->mimeData(dragged));
        list(w).model()->dropMimeData(data.get(), Qt::MoveAction, row, row < 0 ? -1 : 0, into);
        w.settle();
    }
    /// Takes drawings as they are offered.
    static std::unique_ptr<QTimer> acceptDrawings() {
        auto asked = std::make_unique<QTimer>();
        connect(asked.get(), &QTimer::timeout, asked.get(), [] {
            const QWidget* dialog = QApplication::activeModalWidget();
            auto* accept = dialog ? dialog->findChild<QPushButton*>("takeDrawing") : nullptr;
            if (accept && accept->isEnabled()) accept->click();
        });
        asked->start(20);
        return asked;
    }
    using Ids = std::vector<std::string>;

private slots:
    void initTestCase() { startApplication(); }
    void init() { forgetEverything(); }

    void theListChoosesDuplicatesAndSplits() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        click(w, line(w, 1));
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{"blue"});
        w.key(Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), std::size_t{7});
        w.session().selection.choose({"blue"});
        const std::size_t stitches = measure(stitchJob(w.job())->list).stitches;
        w.key(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{10}); // dark, light, dark again, edges
        QCOMPARE(measure(w.session().checked()->stitched().list).stitches, stitches);
        QVERIFY(w.session().selection.ids().size() >= 1);
        w.session().selection.choose({"blue"});
        QCOMPARE(w.session().selection.ids().size(), std::size_t{4}); // one group now
    }

    void aGroupOpensWithADoubleClickAndClosesWithEscape() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red", "red-tail"});
        w.key(Qt::Key_G, Qt::ControlModifier);
        w.settle();
        const Pose pose = w.job().piece("red")->pose;
        const QPoint at = w.px({pose.x + 6, pose.y + 8});
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, at);
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        QTest::mouseDClick(&w.cloth(), Qt::LeftButton, {}, at);
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{"red"});
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QVERIFY(w.session().selection.empty());
    }

    void groupsNestAndOpenLevelByLevel() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red", "red-tail"});
        w.key(Qt::Key_G, Qt::ControlModifier);
        w.session().selection.choose({"red", "blue"});
        w.key(Qt::Key_G, Qt::ControlModifier);
        QCOMPARE(w.job().piece("red")->group, std::string("group 2/group 1"));
        QCOMPARE(w.job().piece("blue")->group, std::string("group 2"));
        w.settle();
        const Pose pose = w.job().piece("red")->pose;
        const QPoint at = w.px({pose.x + 6, pose.y + 8});
        const auto chosen = [&] { return w.session().selection.ids().size(); };
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, at);
        QCOMPARE(chosen(), std::size_t{3});
        QTest::mouseDClick(&w.cloth(), Qt::LeftButton, {}, at);
        QCOMPARE(chosen(), std::size_t{2});
        QTest::mouseDClick(&w.cloth(), Qt::LeftButton, {}, at);
        QCOMPARE(w.session().selection.ids(), Ids{"red"});
        for (const std::size_t n : {2, 3, 0}) {
            QTest::keyClick(&w.cloth(), Qt::Key_Escape);
            QCOMPARE(chosen(), n);
        }
        // What was grouped inside a group that is undone is grouped outside of it.
        QTest::mouseDClick(&w.cloth(), Qt::LeftButton, {}, at);
        w.session().document.undo();
        QVERIFY(w.session().selection.opened().empty());
        w.session().document.redo();
        // The outer group is dissolved, the one inside stays.
        w.session().selection.choose({"blue"});
        w.key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(w.job().piece("red")->group, std::string("group 1"));
        QVERIFY(w.job().piece("blue")->group.empty());
    }

    void aGroupIsALineWithItsPiecesBelow() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        const QStringList before = lines(w);
        QCOMPARE(before.size(), 6);
        w.session().document.apply(groupPieces({order(w)[1], order(w)[2]}, "", "Kites"));
        w.settle();
        QCOMPARE(lines(w).size(), 5);
        QCOMPARE(lines(w)[1], QString("Kites"));
        QCOMPARE(lines(w, line(w, 1)), before.mid(1, 2));
        // The line chooses all of it; one below it, that one.
        click(w, line(w, 1));
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        QCOMPARE(w.session().selection.group(), std::string("Kites"));
        list(w).expand(line(w, 1));
        click(w, line(w, 0, line(w, 1)));
        QCOMPARE(w.session().selection.ids(), Ids{order(w)[1]});
        // An edit leaves it opened and chosen.
        w.session().document.apply(movePieces({order(w)[1]}, {3, 0}));
        w.settle();
        QVERIFY(list(w).isExpanded(line(w, 1)));
        QCOMPARE(list(w).selectionModel()->selectedRows(), QModelIndexList{line(w, 0, line(w, 1))});
        // What is sewn between two of a group shows as such.
        w.session().document.apply(sewBefore({order(w)[0]}, order(w)[2]));
        w.settle();
        QCOMPARE(lines(w).filter("Kites").size(), 2);
    }

    void namesAreTypedInTheList() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().document.apply(groupPieces({order(w)[0], order(w)[1]}, "", "Kites"));
        w.settle();
        const auto type = [&](const QModelIndex& at, const QString& name) {
            list(w).setFocus();
            click(w, at);
            QTest::keyClick(&list(w), Qt::Key_F2);
            auto* editor = list(w).viewport()->findChild<QLineEdit*>();
            QVERIFY(editor);
            editor->selectAll();
            QTest::keyClicks(editor, name);
            // What arrives meanwhile does not take the name out of the hands.
            w.session().document.apply(movePieces({order(w)[4]}, {1, 0}));
            w.settle();
            QTest::keyClick(editor, Qt::Key_Return);
            w.settle();
        };
        type(line(w, 2), "Long tail");
        QTRY_COMPARE(w.job().pieces[3].name, std::string("Long tail"));
        type(line(w, 0), "High / low");
        QTRY_COMPARE(w.job().pieces[0].group, std::string("High - low"));
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(w.job().pieces[0].group, std::string("Kites"));
    }

    void linesAreDraggedToAnotherPlaceAndIntoGroups() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        const Ids was = order(w);
        dragLines(w, {line(w, 4), line(w, 1)}, 0);
        QCOMPARE(order(w), (Ids{was[1], was[4], was[0], was[2], was[3], was[5]}));
        w.key(Qt::Key_Z, Qt::ControlModifier); // one step
        QCOMPARE(order(w), was);
        w.session().document.apply(groupPieces({was[2], was[3]}, "", "Kites"));
        w.settle();
        dragLines(w, {line(w, 0)}, -1, line(w, 2)); // on the group: its end
        QCOMPARE(w.job().piece(was[0])->group, std::string("Kites"));
        QCOMPARE(order(w), (Ids{was[1], was[2], was[3], was[0], was[4], was[5]}));
        dragLines(w, {line(w, 2, line(w, 1))}, 0); // out of it
        QVERIFY(w.job().piece(was[0])->group.empty());
        // A group goes as one, and not into itself.
        const Job before = w.job();
        dragLines(w, {line(w, 2)}, 0, line(w, 2));
        QVERIFY(w.job() == before);
        dragLines(w, {line(w, 2)}, 5);
        QCOMPARE(order(w).back(), was[3]);
        QCOMPARE(w.job().piece(was[2])->group, std::string("Kites"));
    }

    void piecesAreFoundByName() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        for (int i = 0; i < 4; ++i) {
            w.session().selection.choose({"red"});
            w.key(Qt::Key_D, Qt::ControlModifier);
        }
        w.session().document.apply(renamePiece(order(w).back(), "Lighthouse"));
        w.session().selection.choose({"blue"});
        w.settle();
        auto* search = w.find<QLineEdit>("findPiece");
        QVERIFY(search->isVisible());
        QTest::keyClicks(search, "light");
        QCOMPARE(lines(w), QStringList{"Lighthouse"});
        QCOMPARE(w.session().selection.ids(), Ids{"blue"}); // looking chooses nothing
        click(w, line(w, 0));
        QCOMPARE(w.session().selection.ids(), Ids{order(w).back()});
        search->clear();
        QCOMPARE(lines(w).size(), 10);
    }

    void aDrawingIsPastedAndShapesAreCopiedAsSvg() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        QApplication::clipboard()->setText("<svg width='40mm' height='20mm' viewBox='0 0 40 20'>"
                                           "<rect width='40' height='20' fill='#1f4e79'/></svg>");
        const auto accept = acceptDrawings();
        w.key(Qt::Key_V, Qt::ControlModifier);
        QTRY_COMPARE(w.job().pieces.size(), std::size_t{1});
        w.settle();
        VERIFY_NEAR(boxOf(w, w.job().pieces[0].id).width(), 40, 1);
        w.key(Qt::Key_C, Qt::ControlModifier);
        const QByteArray svg = QApplication::clipboard()->mimeData()->data("image/svg+xml");
        const auto read = readSvg(svg.toStdString(), "copied");
        QVERIFY(read && read->items.size() == 1);
        // Here what was copied is the piece itself, not its picture.
        w.key(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), std::size_t{2});
    }

    void filesThatAreDroppedTogetherAllCome() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        QMimeData data;
        QList<QUrl> urls;
        for (const char* name : {"a", "b", "c"}) {
            // Each takes longer to read than is waited for.
            QByteArray svg = "<svg width='60mm' height='60mm' viewBox='0 0 60 60'>";
            for (int i = 0; i < 400; ++i)
                svg += QString("<circle cx='%1' cy='%2' r='2' fill='#1f4e79'/>")
                           .arg(3 + i % 20 * 2.7)
                           .arg(3 + i / 20 * 2.7)
                           .toUtf8();
            const QString path = w.dir.filePath(QString("%1.svg").arg(name));
            test::writeFile(path, svg + "</svg>");
            urls << QUrl::fromLocalFile(path);
        }
        test::writeFile(w.dir.filePath("d.stitch.csv"),
                        "# rapt-stitches 1\n# name,Last\nop,x_mm,y_mm,thread\n"
                        "jump,0,0,1\nstitch,0,0,1\nstitch,3,0,1\n");
        data.setUrls(urls << QUrl::fromLocalFile(w.dir.filePath("d.stitch.csv")));
        const auto accept = acceptDrawings();
        QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w.window, &enter);
        QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w.window, &drop);
        QTRY_VERIFY(!w.job().pieces.empty() && w.job().pieces.back().name == "Last");
        for (const char* name : {"a", "b", "c"})
            QVERIFY2(std::any_of(w.job().pieces.begin(), w.job().pieces.end(),
                                 [&](const Piece& p) { return p.name == name || p.group == name; }),
                     name);
    }
};

RAPT_TEST(TestPieceList)
#include "test_piece_list.moc"
