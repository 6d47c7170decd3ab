#include "compose_support.h"

#include "job/edit_threads.h"

#include <QSlider>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

/// Drawing over a picture, and the threads, in the real window.
class TestDrawThreads : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { test::startApplication(); }
    void init() { forgetEverything(); }

    void runsSatinsAndFillsAreDrawnPointByPoint() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::draw);
        w.press("toolRun");
        for (const Vec2 p : {Vec2{-60, -40}, Vec2{-30, -55}, Vec2{0, -40}}) click(w, p);
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.press("toolSatin");
        for (const Vec2 p : {Vec2{-60, 0}, Vec2{-60, 6}, Vec2{-20, -4}, Vec2{-20, 4}, Vec2{20, 0},
                             Vec2{20, 6}, Vec2{99, 9}})
            click(w, p);
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Backspace); // the last one was a slip
        QCOMPARE(w.cloth().drawnPoints().size(), std::size_t{6});
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.press("toolFill");
        for (const Vec2 p : {Vec2{-40, 30}, Vec2{40, 30}, Vec2{40, 70}, Vec2{-40, 70}}) click(w, p);
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{3});
        const auto kind = [&](std::size_t i) {
            return std::get<ShapeContent>(w.job().pieces[i].content).shape->parts[0].kind;
        };
        QVERIFY(kind(0) == StitchKind::run && kind(1) == StitchKind::satin &&
                kind(2) == StitchKind::fill);
        // The satin's sides lie where they were clicked.
        const Box satin = boxOf(w, w.job().pieces[1].id);
        VERIFY_NEAR(satin.minX, -60, 1.2);
        VERIFY_NEAR(satin.maxX, 20, 1.2);
        // One press of a key takes a whole drawing back.
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), std::size_t{2});
        w.press("toolRun");
        click(w, {0, 0});
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QVERIFY(w.cloth().drawnPoints().empty());
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QVERIFY(w.session().tool() == ToolKind::select);
    }

    void pointsAreMovedAddedAndRemoved() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::draw);
        w.press("drawSmooth");
        w.press("toolFill");
        for (const Vec2 p : {Vec2{-40, -30}, Vec2{40, -30}, Vec2{40, 30}, Vec2{-40, 30}})
            click(w, p);
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.settle();
        const auto line = [&] {
            return std::get<ShapeContent>(w.job().pieces[0].content).shape->parts[0].lines[0];
        };
        w.press("toolPoints");
        w.drag(w.px({40, 30}), w.px({60, 50}));
        w.settle();
        VERIFY_NEAR(boxOf(w, w.job().pieces[0].id).maxX, 60, 1.5);
        QCOMPARE(w.session().document.undoName(), QString("Move a point"));
        QTest::mouseDClick(&w.cloth(), Qt::LeftButton, {}, w.px({0, -30}));
        QCOMPARE(line().size(), std::size_t{5});
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, w.px({0, -30}));
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, w.px({0, -30}));
        QTest::keyClick(&w.cloth(), Qt::Key_Backspace);
        QCOMPARE(line().size(), std::size_t{4});
    }

    void aPictureIsLaidUnderAndNeverSewn() {
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::draw);
        QImage picture(90, 60, QImage::Format_RGB32);
        picture.fill(QColor(200, 30, 30));
        picture.save(w.dir.filePath("art.png"));
        test::answerFileDialog(w.dir.filePath("art.png"));
        w.press("layPicture");
        QTRY_VERIFY(w.job().artwork.has_value());
        w.type("Picture width", "9 cm");
        VERIFY_NEAR(w.job().artwork->widthMm, 90, 1e-9);
        w.find<QSlider>("pictureOpacity")->setValue(100);
        w.settle();
        const QImage seen = w.cloth().grab().toImage();
        QVERIFY(seen.pixelColor(w.px({0.5, 20})).red() > 150);
        QVERIFY(seen.pixelColor(w.px({0.5, 20})).green() < 80);
        QVERIFY(seen.pixelColor(w.px({55, 20})).green() > 120); // beside it the cloth
        QVERIFY(w.session().checked()->stitched().list.stitches.empty());
        const QString path = w.dir.filePath("a.rapt");
        QVERIFY(w.session().document.saveTo(path));
        QVERIFY(readJobFile(path.toStdString())->artwork == w.job().artwork);
        // What is no picture is refused.
        test::writeFile(w.dir.filePath("no.png"), "hello");
        QString words;
        test::answerFileDialog(w.dir.filePath("no.png"), &words);
        w.press("layPicture");
        QTRY_VERIFY(words.contains("no.png"));
        w.press("removePicture");
        QVERIFY(!w.job().artwork && w.job().members.empty());
    }

    void palettesComeInAndGoOut() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::threads);
        const std::size_t before = w.session().threads.palette().threads.size();
        test::writeFile(w.dir.filePath("p.gpl"),
                        "GIMP Palette\n#: weight 60, cone 77\n10 200 30 Grass\nwhat is this\n");
        QString words;
        test::answerFileDialog(w.dir.filePath("p.gpl"), &words);
        w.press("paletteIn");
        QTRY_VERIFY2(words.contains("line 4"), qPrintable(words));
        QCOMPARE(w.session().threads.palette().threads.size(), before + 1);
        test::answerFileDialog(w.dir.filePath("out.gpl"));
        w.press("paletteOut");
        QTRY_VERIFY(QFile::exists(w.dir.filePath("out.gpl")));
        QFile out(w.dir.filePath("out.gpl"));
        QVERIFY(out.open(QIODevice::ReadOnly));
        QVERIFY(out.readAll().contains("#: weight 60, cone 77"));
        test::answerFileDialog(w.dir.filePath("demo/reading-room-banner.rapt"), &words);
        w.press("paletteIn");
        QTRY_VERIFY(words.contains("not a GPL palette"));
        QCOMPARE(w.session().threads.palette().threads.size(), before + 1);
    }

    void aTornFileOfThreadsIsSaidAndKept() {
        const QString file = QString::fromStdString(userDataFolder()) + "/threads.json";
        QDir().mkpath(QFileInfo(file).path());
        test::writeFile(file, "{\"threads\": [{\"color\": ");
        AppWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::threads);
        QVERIFY(w.session().threads.palette().threads.size() > 20); // those that ship
        bool said = false;
        for (const QLabel* label : w.window.findChildren<QLabel*>())
            said = said || label->text().contains("could not be read");
        QVERIFY(said);
        QVERIFY(w.session().threads.setPalette(w.session().threads.palette()));
        QFile kept(file + ".unreadable");
        QVERIFY(kept.open(QIODevice::ReadOnly));
        QVERIFY(kept.readAll().startsWith("{\"threads\": [{"));
        kept.remove();
        AppWindow next;
        QVERIFY(next.session().threads.problem().isEmpty());
    }

    void theThreadsOwnedAreEditedInATable() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::threads);
        const std::size_t before = w.session().threads.palette().threads.size();
        QString complaint;
        test::whenDialogOpens([&](QDialog* dialog) {
            auto* table = dialog->findChild<QTableWidget*>("ownedThreads");
            table->selectRow(0);
            QTest::mouseClick(dialog->findChild<QPushButton*>("removeOwned"), Qt::LeftButton);
            QTest::mouseClick(dialog->findChild<QPushButton*>("addOwned"), Qt::LeftButton);
            QTest::mouseClick(dialog->findChild<QPushButton*>("addOwned"), Qt::LeftButton);
            const int last = table->rowCount() - 1;
            table->item(last, 0)->setText("Gorse");
            table->item(last, 1)->setText("yellow");
            table->item(last, 3)->setText("1509");
            auto* buttons = dialog->findChild<QDialogButtonBox*>();
            QTest::mouseClick(buttons->button(QDialogButtonBox::Ok), Qt::LeftButton);
            complaint = dialog->findChild<QLabel*>("ownedComplaint")->text();
            table->item(last, 1)->setText("#e8c61a");
            QTest::mouseClick(buttons->button(QDialogButtonBox::Ok), Qt::LeftButton);
        });
        w.press("paletteEdit");
        QVERIFY2(complaint.contains("yellow"), qPrintable(complaint));
        const auto& threads = w.session().threads.palette().threads;
        QCOMPARE(threads.size(), before + 1);
        QCOMPARE(threads.back().thread.name, std::string("Gorse"));
        QCOMPARE(threads.back().cone, std::string("1509"));
        QVERIFY(threads.front().thread.name != "Deep tide");
        // It is on the disk at once, for the next start.
        AppWindow next;
        QVERIFY(next.session().threads.palette() == w.session().threads.palette());
    }

    void oneThreadInOnePieceOrEverywhere() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"blue"});
        page(w, ComposeStage::threads);
        auto* table = w.find<QTableWidget>("threadTable");
        int row = 0;
        while (table->item(row, 0)->text() != "Chalk") ++row;
        QVERIFY(table->item(row, 2)->text().toDouble() > 1); // metres
        table->selectRow(row);
        w.press("recolourEverywhere");
        w.choose("recolourTo", "Foam");
        const auto uses = [&](const char* id, const char* name) {
            for (const Thread& t : threadsOf(*w.job().piece(id)))
                if (t.name == name) return true;
            return false;
        };
        QVERIFY(uses("blue", "Foam") && !uses("blue", "Chalk") && uses("red", "Chalk"));
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(uses("blue", "Chalk"));
    }
};

RAPT_TEST(TestDrawThreads)
#include "test_draw_threads.moc"
