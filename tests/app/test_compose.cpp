#include "compose_support.h"

#include "job/edit_threads.h"
#include "job/stitching.h"
#include "place/clearance.h"
#include "thread/measures.h"

#include <QClipboard>
#include <QDropEvent>
#include <QMimeData>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

/// The Compose stage under mouse and keys, in the real window.
class TestCompose : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { test::startApplication(); }
    void init() { forgetEverything(); }

    void theBannersPicturesAreComposedFromAnEmptyJob() {
        AppWindow w;
        w.key(Qt::Key_1, Qt::ControlModifier);
        w.type("Cloth width", "62 cm");
        w.type("Cloth height", "240");
        openShelf(w);
        const Job start = w.job();
        take(w, "Delta kite");
        take(w, "Plain kite"); // an SVG drawing of two elements
        take(w, "Waves");
        // Typed sizes, in inches with a fraction too.
        w.session().selection.choose({"delta-kite"});
        w.type("Width", "3 1/8 in");
        w.settle();
        VERIFY_NEAR(boxOf(w, "delta-kite").width(), 3.125 * 25.4, 1e-3);
        w.type("Height", "104");
        w.settle();
        VERIFY_NEAR(boxOf(w, "delta-kite").height(), 104, 1e-3);
        w.type("Percent", "80 %");
        w.type("Turn", "12");
        w.settle();
        // In line with the datum, then to the left hem's half.
        page(w, ComposeStage::place);
        w.choose("alignTo", "the datum lines");
        w.press("alignCentre");
        w.settle();
        VERIFY_NEAR(boxOf(w, "delta-kite").centre().y, 0, 1e-3);
        w.choose("alignTo", "the cloth");
        w.press("alignLeft");
        w.settle();
        VERIFY_NEAR(boxOf(w, "delta-kite").minX, -310, 1e-3);
        // Mirrored on the right side, linked.
        page(w, ComposeStage::copies);
        w.choose("copiesKind", "mirrored");
        w.settle();
        QCOMPARE(sewn(w, "delta-kite"), std::size_t{2});
        VERIFY_NEAR(boxOf(w, "delta-kite", 2).maxX, 310, 1e-3);
        // The waves along the near hem, as often as typed.
        w.session().selection.choose({w.job().pieces.back().id});
        const std::string waves = w.session().selection.ids()[0];
        w.choose("copiesKind", "rows and columns");
        w.type("Columns", "3");
        w.type("Step across", "5");
        w.settle();
        QCOMPARE(sewn(w, waves), std::size_t{3});
        // Both lines of the drawing are one group: the gap is between groups.
        Box first, second;
        for (const std::string& id : w.session().selection.ids()) {
            first.add(boxOf(w, id, 1));
            second.add(boxOf(w, id, 2));
        }
        VERIFY_NEAR(second.minX - first.maxX, 5, 1e-3);
        // A cutting line round the first kite, exact.
        w.session().selection.choose({"delta-kite"});
        page(w, ComposeStage::outline);
        w.choose("outlineForm", "rectangle");
        w.type("Outline width", "110");
        w.type("Outline height", "4 3/4 in");
        w.settle();
        const auto& spans = w.session().checked()->stitched().spans;
        const auto outline =
            std::find_if(spans.begin(), spans.end(), [](const PieceSpan& s) { return s.outline; });
        QVERIFY(outline != spans.end());
        QCOMPARE(w.job().piece("delta-kite")->outline->heightMm, 4.75 * 25.4);
        // Another colour everywhere.
        page(w, ComposeStage::threads);
        auto* table = w.find<QTableWidget>("threadTable");
        int row = 0;
        while (row < table->rowCount() && table->item(row, 0)->text() != "Sky") ++row;
        QVERIFY(row < table->rowCount());
        table->selectRow(row);
        w.choose("recolourTo", "Teal");
        w.settle();
        for (const Thread& t : threadsOf(w.job())) QVERIFY(t.name != "Sky");
        // Back to nothing, and everything again.
        const Job done = w.job();
        int steps = 0;
        while (!(w.job() == start)) {
            QVERIFY(w.session().document.canUndo());
            w.key(Qt::Key_Z, Qt::ControlModifier);
            ++steps;
        }
        QVERIFY2(steps >= 14, qPrintable(QString::number(steps)));
        QVERIFY(w.job().pieces.empty());
        for (int i = 0; i < steps; ++i) w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(w.job() == done);
        // And it survives the file.
        const QString path = w.dir.filePath("banner.rapt");
        QVERIFY(w.session().document.saveTo(path));
        const auto back = readJobFile(path.toStdString());
        QVERIFY(back);
        QCOMPARE(measure(stitchJob(*back)->list).stitches, measure(stitchJob(done)->list).stitches);
    }

    void theShelfFindsByNameTagSizeAndThreads() {
        AppWindow w;
        openShelf(w);
        const int all = cards(w)->model()->rowCount();
        QCOMPARE(all, 12);
        auto* search = w.find<QLineEdit>("shelfSearch");
        const auto found = [&](const char* words) {
            search->setText(words);
            return cardNames(w);
        };
        QCOMPARE(found("tern"), QStringList{"Tern"});
        QCOMPARE(found("rope sea"), (QStringList{"Lifebuoy", "Rope"}));
        QVERIFY(found("shore").contains("Star")); // by its folder
        QVERIFY(found("<40mm").contains("Lifebuoy"));
        QVERIFY(!found("<40mm").contains("Delta kite"));
        QCOMPARE(found("kite > 4 in"), (QStringList{"Box kite", "Tail of bows"}));
        QCOMPARE(found("1 thread"), (QStringList{"Rope", "Star"}));
        QVERIFY(found("no such thing").isEmpty());
        search->clear();
        w.choose("shelfOrder", "by size");
        const QStringList bySize = cardNames(w);
        QVERIFY(bySize.indexOf("Star") < bySize.indexOf("Delta kite"));
        QVERIFY(bySize.indexOf("Delta kite") < bySize.indexOf("Waves"));
        // A card says what it holds.
        const auto facts =
            cards(w)->model()->index(0, 0).data(ShelfModel::factsRole).value<DesignFacts>();
        QVERIFY(facts.stitches > 50 && facts.widthMm > 5 && !facts.picture.isNull());
    }

    void aBrokenFileAndALostFolderAreSaid() {
        AppWindow w;
        QDir(w.dir.path()).mkpath("folder");
        test::writeFile(w.dir.filePath("folder/torn.stitch.csv"), "# rapt-stitches 1\nop,x_mm\n");
        test::writeFile(w.dir.filePath("folder/loop.svg"),
                        "<svg><g id='a'><use href='#a'/></g></svg>");
        openShelf(w);
        w.window.shelf().setFolders({w.dir.filePath("folder"), w.dir.filePath("gone")});
        settleShelf(w);
        QCOMPARE(cards(w)->model()->rowCount(), 2);
        for (int i = 0; i < 2; ++i) {
            const auto facts =
                cards(w)->model()->index(i, 0).data(ShelfModel::factsRole).value<DesignFacts>();
            QVERIFY2(!facts.problem.isEmpty(), qPrintable(facts.name));
        }
        bool said = false;
        for (const QLabel* label : w.window.shelf().findChildren<QLabel*>())
            said = said || label->text().contains("gone is not there now");
        QVERIFY(said);
        // Sent to the cloth all the same, it is refused with its reason; nothing is added.
        QString words;
        test::answerMessage(QMessageBox::Ok, &words);
        take(w, "torn");
        QVERIFY2(words.contains("torn.stitch.csv"), qPrintable(words));
        QVERIFY(w.job().pieces.empty());
    }

    void fiveHundredDesignsAreListedAtOnceAndReadBehind() {
        AppWindow w;
        QDir(w.dir.path()).mkpath("many");
        const StitchList list = test::listThrough({{0, 0}, {3, 0}, {3, 3}, {0, 3}});
        const QByteArray text = QByteArray::fromStdString(formatStitchCsv(list));
        for (int i = 0; i < 500; ++i)
            test::writeFile(w.dir.filePath(QString("many/d%1.stitch.csv").arg(i)), text);
        openShelf(w);
        w.window.shelf().setFolders({w.dir.filePath("many")});
        // Names are there before the last picture is.
        QTRY_COMPARE(cards(w)->model()->rowCount(), 500);
        settleShelf(w);
        for (const int row : {0, 250, 499})
            QVERIFY(cards(w)->model()->index(row, 0).data(ShelfModel::readRole).toBool());
        // Tags that a person gives are found, also the next time.
        w.window.shelf().model().setOwnTags(w.dir.filePath("many/d17.stitch.csv"), {"favourite"});
        w.find<QLineEdit>("shelfSearch")->setText("favourite");
        QCOMPARE(cardNames(w), QStringList{"d17"});
    }

    void aCardIsDroppedWhereItIsDropped() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        QMimeData mime;
        mime.setData(shelfMimeType, (designs() + "/shore/star.stitch.csv").toUtf8());
        const QPointF at = w.cloth().map().toPixels(Vec2{40, -30});
        QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, &mime, Qt::LeftButton, {});
        QApplication::sendEvent(&w.cloth(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(at, Qt::CopyAction, &mime, Qt::LeftButton, {});
        QApplication::sendEvent(&w.cloth(), &drop);
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{1});
        VERIFY_NEAR(distance(boxOf(w, "star").centre(), {40, -30}), 0, 0.5);
    }

    void aNewerVersionKeepsThePose() {
        AppWindow w;
        openShelf(w);
        take(w, "Star");
        w.session().selection.choose({"star"});
        w.type("Across", "33");
        w.type("Turn", "40");
        const Pose pose = w.job().piece("star")->pose;
        take(w, "Lifebuoy", Qt::ShiftModifier);
        QCOMPARE(w.job().pieces.size(), std::size_t{1});
        QVERIFY(w.job().piece("star")->pose == pose);
        QVERIFY(threadsOf(w.job())[0].name == "Chalk");
        // From a file too, through the menu.
        test::answerFileDialog(designs() + "/drawings/pennant.svg");
        w.key(Qt::Key_R, Qt::ControlModifier | Qt::ShiftModifier);
        w.settle();
        QVERIFY(std::holds_alternative<ShapeContent>(w.job().piece("star")->content));
        QVERIFY(w.job().piece("star")->pose == pose);
    }

    void aBadDrawingIsRefusedAndNothingIsLost() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        const Job before = w.job();
        const QString path = w.dir.filePath("bad.svg");
        test::writeFile(path, "<svg>\n<path d='M0 0 L 4'\n</svg>");
        QString complaint;
        test::answerFileDialog(path, &complaint);
        w.key(Qt::Key_I, Qt::ControlModifier);
        QTRY_VERIFY2(complaint.contains("bad.svg") && complaint.contains("line"),
                     qPrintable(complaint));
        QVERIFY(w.job() == before);
    }

    void aPictureIsTracedIntoAreas() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        QImage logo(600, 400, QImage::Format_RGB32);
        logo.fill(Qt::white);
        {
            QPainter painter(&logo);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor(20, 70, 150));
            painter.drawEllipse(60, 60, 280, 280);
            painter.setBrush(QColor(210, 120, 30));
            painter.drawRect(360, 120, 180, 160);
        }
        const QString path = w.dir.filePath("logo.png");
        QVERIFY(logo.save(path));
        QTimer asked;
        connect(&asked, &QTimer::timeout, &asked, [] {
            const QWidget* dialog = QApplication::activeModalWidget();
            auto* accept = dialog ? dialog->findChild<QPushButton*>("takeDrawing") : nullptr;
            if (accept && accept->isEnabled()) accept->click();
        });
        asked.start(20);
        test::answerFileDialog(path);
        w.key(Qt::Key_I, Qt::ControlModifier);
        QTRY_COMPARE_WITH_TIMEOUT(w.job().pieces.size(), std::size_t{2}, 30'000);
        QCOMPARE(w.job().pieces[0].group, std::string("logo"));
        w.session().document.undo(); // one step
        QVERIFY(w.job().pieces.empty());
        // A photograph is refused in words.
        for (int y = 0; y < logo.height(); ++y)
            for (int x = 0; x < logo.width(); ++x)
                logo.setPixelColor(x, y,
                                   QColor::fromHsv((x * 7919 + y * 104729) % 360, 200,
                                                   (x * y * 31 + 17 * x) % 256));
        QVERIFY(logo.save(path));
        QString complaint;
        test::answerFileDialog(path, &complaint);
        w.key(Qt::Key_I, Qt::ControlModifier);
        QTRY_VERIFY2_WITH_TIMEOUT(complaint.contains("photograph"), qPrintable(complaint), 30'000);
        QVERIFY(w.job().pieces.empty());
    }

    void whatADrawingHoldsBesidesIsListed() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        const QString path = w.dir.filePath("mixed.svg");
        test::writeFile(path, "<svg width='60mm' height='60mm' viewBox='0 0 60 60'><text>x</text>"
                              "<rect width='30' height='20' fill='teal'/>"
                              "<circle cx='40' cy='40' r='9' fill='gold'/></svg>");
        QString words;
        test::answerFileDialog(path);
        QTimer asked;
        bool typed = false;
        connect(&asked, &QTimer::timeout, &asked, [&] {
            const QWidget* dialog = QApplication::activeModalWidget();
            auto* accept = dialog ? dialog->findChild<QPushButton*>("takeDrawing") : nullptr;
            if (!accept || !accept->isEnabled()) return;
            if (std::exchange(typed, true)) {
                for (const auto* label : dialog->findChildren<QLabel*>()) words += label->text();
                return accept->click();
            }
            for (auto* edit : dialog->findChildren<QLineEdit*>())
                if (edit->accessibleName() == "Width") {
                    edit->setFocus();
                    edit->selectAll();
                    QTest::keyClicks(edit, "98");
                    QTest::keyClick(edit, Qt::Key_Return);
                }
        });
        asked.start(20);
        w.key(Qt::Key_I, Qt::ControlModifier);
        QTRY_VERIFY2(words.contains("<text>") && words.contains("2 threads"), qPrintable(words));
        QTRY_VERIFY(!w.job().pieces.empty());
        asked.stop();
        w.settle();
        VERIFY_NEAR(extentsOf(w.session().checked()->stitched().list).width(), 98, 1);
        // Two pieces in one group, chosen together; Alt picks one of them.
        QCOMPARE(w.job().pieces.size(), std::size_t{2});
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        w.settle();
        w.session().selection.choose({});
        click(w, boxOf(w, w.job().pieces[0].id).centre());
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, Qt::AltModifier,
                          w.px(boxOf(w, w.job().pieces[1].id).centre()));
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{w.job().pieces[1].id});
    }

    void draggingCatchesOnLinesAndSaysTheGaps() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        const Box box = boxOf(w, "red");
        const QPoint from = w.px({box.centre().x + 6, box.centre().y + 8});
        // Nearly onto the level datum line.
        const QPoint to =
            from + QPoint(30, static_cast<int>((1.6 - box.centre().y) * w.cloth().map().scale));
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, from);
        for (const QPoint at : {from + QPoint(9, 9), to}) {
            QMouseEvent move(QEvent::MouseMove, QPointF(at), w.cloth().mapToGlobal(QPointF(at)),
                             Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(&w.cloth(), &move);
        }
        const QString words = w.cloth().gestureWords().join("; ");
        QVERIFY2(words.contains("on the level datum line"), qPrintable(words));
        QVERIFY2(words.contains("mm to ") || words.contains("overlaps"), qPrintable(words));
        QVERIFY2(words.contains("field"), qPrintable(words));
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, to);
        w.settle();
        VERIFY_NEAR(boxOf(w, "red").centre().y, 0, 0.06);
        // With Alt held nothing is caught.
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        w.drag(from, to, Qt::AltModifier);
        w.settle();
        QVERIFY(std::abs(boxOf(w, "red").centre().y) > 0.6);
    }

    void whatCannotBeReadIsSaidBesideEveryField() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        const Job before = w.job();
        for (const char* name : {"Across", "Width", "Percent", "Turn"}) {
            w.type(name, "about nine");
            auto* edit = qobject_cast<TypedEdit*>(w.find<QLineEdit>(name)->parentWidget());
            QVERIFY2(!edit->complaint().isEmpty(), name);
            QVERIFY(w.job() == before);
            w.find<QLineEdit>(name)->setModified(false);
        }
        w.type("Width", "-4");
        QVERIFY(w.job() == before);
    }

    void recipesAreChangedByTheirNumbers() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        page(w, ComposeStage::stitch);
        const auto part = [&](std::size_t i) {
            return std::get<ShapeContent>(w.job().piece("red")->content).shape->parts[i];
        };
        w.type("Row spacing", "0.5");
        for (std::size_t i = 0; i < 6; ++i) VERIFY_NEAR(part(i).spacingMm, 0.5, 1e-9);
        w.choose("part", "2, fill");
        w.type("Angle", "77");
        VERIFY_NEAR(part(1).angleDeg, 77, 1e-9);
        QVERIFY(part(0).angleDeg != 77);
        w.choose("underlay", "full");
        w.type("Pull", "0.3");
        QVERIFY(part(1).underlay == Underlay::full && part(0).underlay == Underlay::none);
        VERIFY_NEAR(part(1).pullMm, 0.3, 1e-9);
        w.type("Row spacing", "0.01");
        VERIFY_NEAR(part(1).spacingMm, 0.5, 1e-9); // refused, with the range beside the field
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(part(1).underlay == Underlay::none);
        // Bare stitches have no recipe, and that is said.
        w.session().selection.choose({"green"});
        QVERIFY(!w.find<QLineEdit>("Row spacing")->isVisible());
    }

    void fittingToTheFieldAndBetweenNeighbours() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        page(w, ComposeStage::place);
        w.type("Margin", "6");
        w.press("fitField");
        w.settle();
        const Box box = boxOf(w, "red");
        VERIFY_NEAR(std::max(box.width() / 168, box.height() / 118), 1, 0.003);
        VERIFY_NEAR(distance(box.centre(), {0, 0}), 0, 0.1);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        w.press("fitBetween");
        w.settle();
        const auto gap = Clearance(w.session().checked()->stitched(), {"red"}).nearest({}, 200);
        const double inside = Clearance(w.session().checked()->stitched(), {"red"})
                                  .insideField({}, w.session().field()->hoop, {});
        // Up to the margin from the nearest neighbour or the field, whichever comes first.
        QVERIFY2((gap && std::abs(gap->mm - 6) < 0.4) || std::abs(inside - 6) < 0.4,
                 qPrintable(QString("%1 %2").arg(gap ? gap->mm : -1).arg(inside)));
    }

    void equalGapsNeedThreePieces() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::place);
        w.session().selection.choose({"red", "blue"});
        const Job before = w.job();
        QString words;
        test::answerMessage(QMessageBox::Ok, &words);
        w.press("distributeAcross");
        QTRY_VERIFY(words.contains("three"));
        QVERIFY(w.job() == before);
        w.session().selection.choose({"red", "blue", "green"});
        w.press("distributeAcross");
        w.settle();
        const double a = boxOf(w, "red").minX - boxOf(w, "blue").maxX;
        const double b = boxOf(w, "green").minX - boxOf(w, "red").maxX;
        VERIFY_NEAR(a, b, 1e-3);
    }

    void inchesAreShownAndTyped() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        w.key(Qt::Key_U, Qt::ControlModifier);
        w.type("Width", "2 5/8");
        w.settle();
        QCOMPARE(w.find<QLineEdit>("Width")->text(), QString("2 5/8 in"));
        VERIFY_NEAR(extentsOf(**stitchPiece(*w.job().piece("red"))).width(), 2.625 * 25.4, 1e-3);
        w.type("Width", "70 mm");
        w.settle();
        VERIFY_NEAR(extentsOf(**stitchPiece(*w.job().piece("red"))).width(), 70, 1e-3);
        w.key(Qt::Key_U, Qt::ControlModifier);
    }

    void aScaleIsTypedForBothSidesOrEach() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        const Vec2 middle = boxOf(w, "red").centre();
        w.type("Percent", "150");
        w.settle();
        VERIFY_NEAR(w.job().piece("red")->pose.scaleX, 1.5, 1e-9);
        VERIFY_NEAR(w.job().piece("red")->pose.scaleY, 1.5, 1e-9);
        QVERIFY(!w.find<QLineEdit>("Percent down")->isVisible());
        w.press("proportion");
        QVERIFY(w.find<QLineEdit>("Percent down")->isVisible());
        w.type("Percent down", "80 %");
        w.settle();
        VERIFY_NEAR(w.job().piece("red")->pose.scaleX, 1.5, 1e-9);
        VERIFY_NEAR(w.job().piece("red")->pose.scaleY, 0.8, 1e-9);
        w.type("Percent", "60");
        w.settle();
        VERIFY_NEAR(w.job().piece("red")->pose.scaleX, 0.6, 1e-9);
        w.settle();
        VERIFY_NEAR(distance(boxOf(w, "red").centre(), middle), 0, 1.5);
    }

    void piecesTravelBetweenWindowsByTheClipboard() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red", "red-tail"});
        w.key(Qt::Key_G, Qt::ControlModifier);
        w.key(Qt::Key_C, Qt::ControlModifier);
        // Here again: a group of its own, with ids of its own.
        w.key(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), std::size_t{8});
        const auto pasted = w.session().selection.ids();
        QCOMPARE(pasted.size(), std::size_t{2});
        QVERIFY(w.job().piece(pasted[0])->group != w.job().piece("red")->group);
        QCOMPARE(w.job().piece(pasted[0])->group, w.job().piece(pasted[1])->group);
        QCOMPARE(w.job().piece(pasted[0])->pose.x, w.job().piece("red")->pose.x + 10);
        // And in another window with another job, at the same place.
        AppWindow other;
        other.key(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(other.job().pieces.size(), std::size_t{2});
        QVERIFY(other.job().pieces[0].pose == w.job().piece("red")->pose);
        QCOMPARE(measure(stitchJob(other.job())->list).stitches,
                 measure(**stitchPiece(*w.job().piece("red"))).stitches +
                     measure(**stitchPiece(*w.job().piece("red-tail"))).stitches);
        // Plain words become lettering.
        QApplication::clipboard()->setText("Tide table");
        other.key(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(other.job().pieces.size(), std::size_t{3});
        QCOMPARE(other.session().selection.words()->text, std::string("Tide table"));
        other.key(Qt::Key_X, Qt::ControlModifier);
        QCOMPARE(other.job().pieces.size(), std::size_t{2});
    }

    void severalPiecesAreSizedTurnedAndDraggedAsOne() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red", "blue", "green"});
        w.settle();
        const auto box = [&] { return w.session().selectionBox(); };
        const Box before = box();
        const double apart = boxOf(w, "green").centre().x - boxOf(w, "red").centre().x;
        w.type("Width", "333,3");
        w.type("Width", "301.5"); // typed before the first one is there
        w.settle();
        VERIFY_NEAR(box().width(), 301.5, 0.01);
        VERIFY_NEAR(distance(box().centre(), before.centre()), 0, 0.01);
        const double k = 301.5 / before.width();
        VERIFY_NEAR(box().height(), before.height() * k, 0.3);
        VERIFY_NEAR(boxOf(w, "green").centre().x - boxOf(w, "red").centre().x, apart * k, 0.3);
        w.type("Name", "Kites");
        QCOMPARE(w.job().piece("blue")->group, std::string("Kites"));
        w.type("Turn", "90");
        w.settle();
        VERIFY_NEAR(box().height(), 301.5, 0.3);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        // By the frame's corner, about the one across.
        const Box now = box();
        const QPoint corner = w.px({now.maxX, now.maxY});
        const QPoint half = (w.px({now.minX, now.minY}) + corner) / 2;
        w.drag(corner, half);
        w.settle();
        VERIFY_NEAR(box().width(), now.width() / 2, 3);
        VERIFY_NEAR(distance({box().minX, box().minY}, {now.minX, now.minY}), 0, 1.5);
    }

    void deleteMeansWhatHasTheFocus() {
        DemoWindow w;
        w.key(Qt::Key_4, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        QTableWidget* table = nullptr;
        for (auto* t : w.window.findChildren<QTableWidget*>())
            if (t->isVisible()) table = t;
        QVERIFY(table);
        table->setFocus();
        w.key(Qt::Key_Delete);
        QVERIFY(w.job().piece("red"));
        w.cloth().setFocus();
        w.key(Qt::Key_Delete);
        QVERIFY(!w.job().piece("red"));
    }

    void aSizeLandsInTheJobThatItWasTypedFor() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red", "blue", "green"});
        w.settle();
        w.type("Width", "250");
        Job other = w.job();
        other.name = "Other";
        w.session().document.reset(other, {});
        w.settle();
        QVERIFY(w.job() == other);
    }

    void everyPageRefreshesForAnySelection() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        for (int p = ComposeStage::size; p <= ComposeStage::draw; ++p) {
            page(w, static_cast<ComposeStage::Tab>(p));
            for (const std::vector<std::string>& ids :
                 {std::vector<std::string>{}, {"red"}, {"green"}, {"red", "blue", "green"}}) {
                w.session().selection.choose(ids);
                w.window.repaint();
                QVERIFY(w.judgement().contains("cloth"));
            }
        }
        // With nothing on the cloth, too.
        w.session().selection.choose(
            {"red", "blue", "green", "red-tail", "blue-tail", "green-tail"});
        w.key(Qt::Key_Delete);
        for (int p = ComposeStage::size; p <= ComposeStage::draw; ++p)
            page(w, static_cast<ComposeStage::Tab>(p));
        QCOMPARE(w.judgement(), QString("The cloth is empty."));
    }

    void groupsLocksAndHidingByKeys() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red", "red-tail"});
        w.key(Qt::Key_G, Qt::ControlModifier);
        w.session().selection.choose({});
        w.session().selection.choose({"red"});
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        w.key(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
        w.session().selection.chooseSingly({});
        w.session().selection.choose({"red"});
        QCOMPARE(w.session().selection.ids().size(), std::size_t{1});
        w.key(Qt::Key_K, Qt::ControlModifier);
        const Pose pose = w.job().piece("red")->pose;
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        w.key(Qt::Key_Delete);
        QVERIFY(w.job().piece("red") && w.job().piece("red")->pose == pose);
        w.key(Qt::Key_K, Qt::ControlModifier);
        w.key(Qt::Key_H, Qt::ControlModifier);
        w.settle();
        QCOMPARE(sewn(w, "red"), std::size_t{0});
        w.key(Qt::Key_H, Qt::ControlModifier);
        w.settle();
        QCOMPARE(sewn(w, "red"), std::size_t{1});
    }
};

RAPT_TEST(TestCompose)
#include "test_compose.moc"
