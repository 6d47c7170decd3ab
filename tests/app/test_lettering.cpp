#include "compose_support.h"

#include "app/kit/rows_table.h"
#include "app/letter/letter_page.h"
#include "job/edit_copies.h"
#include "job/edit_lettering.h"
#include "letter/caret.h"
#include "letter/faces.h"

#include <QListWidget>
#include <QPlainTextEdit>

using namespace rapt;
using namespace rapt::app;
using namespace rapt::test;

/// Words in the real window: typed on the cloth and in the readout, on lines, curves and necks.
class TestLettering : public QObject {
    Q_OBJECT

    static void openLetters(AppWindow& w, LetterPage::Sub sub = LetterPage::words) {
        w.key(Qt::Key_2, Qt::ControlModifier);
        page(w, ComposeStage::letter);
        w.press(("letterTab" + std::to_string(sub)).c_str());
    }
    static void typeOnCloth(AppWindow& w, Vec2 at, const QString& text) {
        if (w.session().tool() != ToolKind::letter) w.press("typeOnCloth");
        click(w, at);
        w.cloth().setFocus();
        QTest::keyClicks(&w.cloth(), text);
        w.settle();
    }
    static const Lettering& wordsOf(AppWindow& w, const std::string& id = "words") {
        const Lettering* l = letteringOf(w.job(), id);
        if (!l) qFatal("there are no words %s", id.c_str());
        return *l;
    }
    static void chooseFace(AppWindow& w, const QString& id) {
        auto* faces = w.find<QListWidget>("faces");
        for (int i = 0; i < faces->count(); ++i)
            if (faces->item(i)->data(Qt::UserRole).toString() == id) {
                faces->scrollToItem(faces->item(i));
                QTest::mouseClick(faces->viewport(), Qt::LeftButton, {},
                                  faces->visualItemRect(faces->item(i)).center());
            }
        QCOMPARE(faces->currentItem()->data(Qt::UserRole).toString(), id);
    }
    /// Middle of a letter on the cloth.
    static Vec2 letterPlace(AppWindow& w, int index) {
        const StitchedLettering* set = w.session().letters.setting();
        if (!set) qFatal("nothing is set");
        const Affine map = w.job().piece(w.session().selection.ids()[0])->pose.affine();
        for (const PlacedLetter& l : set->setting.letters)
            if (l.index == index) {
                const auto frame = letterFrame(l, wordsOf(w, w.session().selection.ids()[0]));
                return map(lerp(frame[0], frame[2], 0.5));
            }
        qFatal("no letter");
        return {};
    }

private slots:
    void initTestCase() { test::startApplication(); }
    void init() {
        forgetEverything();
        QFile::remove(QString::fromStdString(userDataFolder()) + "/ledger.sqlite");
    }

    void theBannerIsLetteredOnTheCloth() {
        DemoWindow w;
        const std::size_t before = w.job().pieces.size();
        openLetters(w);
        typeOnCloth(w, {95, -20}, "SALTMARSH");
        QCOMPARE(w.job().pieces.size(), before + 1);
        QCOMPARE(wordsOf(w).text, std::string("SALTMARSH"));
        VERIFY_NEAR(w.job().piece("words")->pose.x, 95, 1);
        // A burst of typing is one step back.
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), before);
        w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(w.job().pieces.size(), before + 1);
        w.session().selection.chooseSingly({"words"});
        chooseFace(w, "garamond");
        w.type("Letter height", "18 mm");
        w.choose("heightOf", "Capitals");
        QCOMPARE(wordsOf(w).capHeightMm, 18.0);
        QCOMPARE(wordsOf(w).face, std::string("garamond"));
        w.settle();
        VERIFY_NEAR(boxOf(w, "words").height(), 19.2, 1.0);
        // On an arc, at a radius that was typed; the words stay about where they were.
        w.press("letterTab1");
        w.choose("lineKind", "an arc");
        w.type("Radius", "200");
        QCOMPARE(wordsOf(w).line.radiusMm, 200.0);
        QVERIFY(wordsOf(w).line.even);
        w.settle();
        for (const PlacedLetter& l : w.session().letters.setting()->setting.letters)
            VERIFY_NEAR(length(l.at), 200, 0.15);
        w.choose("arcSide", "inside");
        QVERIFY(wordsOf(w).line.side == ArcSide::inside);
        w.choose("arcFrom", "its top");
        QCOMPARE(wordsOf(w).line.middleDeg, 180.0);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(wordsOf(w).line.side == ArcSide::outside);
        // The pull is that of the banner's canvas.
        QCOMPARE(wordsOf(w).pullMm, w.session().library.fabric("canvas")->pullMm);
    }

    void composedLettersAreTypedAndMenusKeepTheirKeys() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "Caf");
        QInputMethodQueryEvent asks(Qt::ImEnabled);
        QApplication::sendEvent(&w.cloth(), &asks);
        QVERIFY(asks.value(Qt::ImEnabled).toBool());
        QInputMethodEvent composed;
        composed.setCommitString(QString::fromUtf8("é"));
        QApplication::sendEvent(&w.cloth(), &composed);
        QCOMPARE(wordsOf(w).text, std::string("Café"));
        // F3 finds commands, also while words are typed.
        bool asked = false;
        test::whenDialogOpens([&asked](QDialog* dialog) {
            asked = dialog->findChild<QLineEdit*>("commandWords");
            dialog->reject();
        });
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_F3);
        QVERIFY(asked);
        QCOMPARE(wordsOf(w).text, std::string("Café"));
    }

    void wordsAreEditedAtTheCaret() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "Kte");
        QTest::keyClick(&w.cloth(), Qt::Key_Home);
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        QTest::keyClicks(&w.cloth(), "i");
        QCOMPARE(wordsOf(w).text, std::string("Kite"));
        QTest::keyClick(&w.cloth(), Qt::Key_End);
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        QTest::keyClicks(&w.cloth(), "libx");
        QTest::keyClick(&w.cloth(), Qt::Key_Backspace);
        QCOMPARE(wordsOf(w).text, std::string("Kite\nlib"));
        QTest::keyClick(&w.cloth(), Qt::Key_Left);
        QTest::keyClick(&w.cloth(), Qt::Key_Delete);
        QCOMPARE(wordsOf(w).text, std::string("Kite\nli"));
        w.settle();
        // A click puts the caret between two letters.
        click(w, letterPlace(w, 1) + Vec2{1, 0});
        QTest::keyClicks(&w.cloth(), "X");
        QCOMPARE(wordsOf(w).text, std::string("KiXte\nli"));
        // Without its last letter a piece is gone; typing goes on in its place.
        w.session().document.apply(
            changeLettering("words", "", [](Lettering& l) { l.text = "a"; }));
        QTest::keyClick(&w.cloth(), Qt::Key_End);
        QTest::keyClick(&w.cloth(), Qt::Key_Backspace);
        QVERIFY(w.job().pieces.empty());
        QTest::keyClicks(&w.cloth(), "new");
        QCOMPARE(wordsOf(w).text, std::string("new"));
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QVERIFY(w.session().tool() == ToolKind::select);
    }

    void wordsAreTypedInTheReadoutToo() {
        AppWindow w;
        openLetters(w);
        auto* field = w.find<QPlainTextEdit>("words");
        field->setFocus();
        QTest::keyClicks(field, "Terns");
        QCOMPARE(wordsOf(w).text, std::string("Terns"));
        w.type("Tracking", "1.5");
        w.type("Word gap", "3");
        w.type("Line gap", "1 in");
        w.choose("letterAlign", "right");
        QCOMPARE(wordsOf(w).trackingMm, 1.5);
        QCOMPARE(wordsOf(w).wordGapMm, 3.0);
        QCOMPARE(wordsOf(w).lineGapMm, 25.4);
        QVERIFY(wordsOf(w).alignment == Alignment::right);
        // Sizes can be asked for by the small letters.
        w.choose("heightOf", "Small x");
        w.type("Letter height", "10");
        VERIFY_NEAR(wordsOf(w).capHeightMm, 10 / (*openFace("lato"))->xHeight(), 1e-6);
        // What cannot be read changes nothing.
        w.type("Letter height", "tall");
        VERIFY_NEAR(wordsOf(w).capHeightMm, 10 / (*openFace("lato"))->xHeight(), 1e-6);
        w.type("Letter height", "90000");
        VERIFY_NEAR(wordsOf(w).capHeightMm, 10 / (*openFace("lato"))->xHeight(), 1e-6);
    }

    void aLetterIsNudgedTurnedSizedAndColoured() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "KITE");
        w.settle();
        const Vec2 place = letterPlace(w, 2);
        w.drag(w.px(place), w.px(place + Vec2{0, -6}));
        VERIFY_NEAR(wordsOf(w).change(2)->dyMm, -6, 0.5);
        VERIFY_NEAR(wordsOf(w).change(2)->dxMm, 0, 0.5);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!wordsOf(w).change(2));
        w.settle();
        click(w, letterPlace(w, 2));
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Right, Qt::AltModifier);
        QTest::keyClick(&w.cloth(), Qt::Key_Down, Qt::AltModifier | Qt::ShiftModifier);
        VERIFY_NEAR(wordsOf(w).change(2)->dxMm, 0.1, 1e-9);
        VERIFY_NEAR(wordsOf(w).change(2)->dyMm, 1, 1e-9);
        w.press("letterTab3");
        w.type("Letter turn", "12");
        w.type("Letter size", "150");
        QCOMPARE(wordsOf(w).change(2)->turnDeg, 12.0);
        QCOMPARE(wordsOf(w).change(2)->scale, 1.5);
        auto* thread = w.find<QComboBox>("singleThread");
        thread->setCurrentIndex(3);
        emit thread->activated(3);
        QVERIFY(wordsOf(w).change(2)->thread.has_value());
        w.settle();
        QCOMPARE(w.session().checked()->stitched().list.threads.size(), std::size_t{2});
        w.press("letterReset");
        QVERIFY(!wordsOf(w).change(2));
        w.press("letterNext");
        QCOMPARE(w.session().letters.cursor().letter, 3);
    }

    void columnsAreSeenTurnedAndFilled() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "H");
        w.press("letterTab3");
        w.press("letterNext");
        const QImage plain = w.cloth().grab().toImage();
        w.press("showColumns");
        QVERIFY(w.session().letters.cursor().columns);
        QVERIFY(w.cloth().grab().toImage() != plain);
        QCOMPARE(w.find<QComboBox>("columnChoice")->count(), 3);
        w.choose("columnChoice", "2 of");
        w.type("Turn the rows", "15");
        QCOMPARE(wordsOf(w).change(0)->columns.at(0).column, 1);
        QCOMPARE(wordsOf(w).change(0)->columns.at(0).turnDeg, 15.0);
        w.press("columnFill");
        QVERIFY(wordsOf(w).change(0)->columns.at(0).fill);
        w.settle();
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!wordsOf(w).change(0)->columns.at(0).fill);
    }

    void aScriptIsJoinedAndAnOpenJoinIsSaid() {
        AppWindow w;
        openLetters(w);
        chooseFace(w, "dancing-script");
        w.type("Letter height", "20");
        typeOnCloth(w, {0, 0}, "winnow");
        for (const LetterJoin& j : w.session().letters.setting()->setting.joins) QVERIFY(j.closed);
        const auto hasFinding = [&] {
            for (const Finding& f : w.session().checked()->findings())
                if (f.kind == "letters-join") return true;
            return false;
        };
        QVERIFY(!hasFinding());
        w.type("Tracking", "3");
        w.settle();
        QVERIFY(hasFinding());
        w.type("Tracking", "0");
        w.settle();
        QVERIFY(!hasFinding());
    }

    void wordsFollowADrawnPath() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "tides");
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        w.press("letterTab1");
        w.choose("lineKind", "a drawn path");
        for (const Vec2 p : {Vec2{-80, 30}, Vec2{-20, 50}, Vec2{40, 30}, Vec2{90, 55}}) click(w, p);
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        QVERIFY(w.session().tool() == ToolKind::select);
        QVERIFY(wordsOf(w).line.kind == LineKind::path);
        w.settle();
        VERIFY_NEAR(boxOf(w, "words").centre().y, 38, 12);
        // Too long for its path: said, and the job is as before after a step back.
        w.press("letterTab0");
        w.type("Letter height", "200");
        w.settle();
        QVERIFY(w.find<QPlainTextEdit>("words")->toPlainText() == "tides");
        bool stopped = false;
        for (const Finding& f : w.session().checked()->findings())
            stopped = stopped ||
                      (f.kind == "not-stitched" && f.text.find("would fit") != std::string::npos);
        QVERIFY(stopped);
    }

    void theCollarIsLetteredByItsMeasuredNeck() {
        AppWindow w;
        const auto written =
            writeDemoJobs(dataFolder() + "/demo", w.dir.filePath("demo").toStdString());
        QVERIFY(bool(written));
        QVERIFY(w.window.openFile(w.dir.filePath("demo/guides-collar.rapt")));
        w.settle();
        w.session().selection.chooseSingly({"words"});
        openLetters(w, LetterPage::neckline);
        w.type("Neck width", "200");
        w.type("Neck depth", "80");
        w.type("From the edge", "15");
        w.choose("neckPlace", "from the centre");
        w.type("Along the edge", "60");
        w.press("setNeckline");
        w.settle();
        const double radius = (100.0 * 100 + 80 * 80) / 160;
        VERIFY_NEAR(wordsOf(w).line.radiusMm, radius + 15 + 11, 1e-6);
        const double angle = 60 / radius * 180 / M_PI;
        VERIFY_NEAR(wordsOf(w).line.middleDeg, -angle, 1e-6);
        QVERIFY(boxOf(w, "words").centre().x > 40);
        QCOMPARE(w.job().cloth.guides.size(), std::size_t{4});
        // No needle point comes nearer to the neck's edge than it was asked.
        const Vec2 centre{0, -radius};
        for (const Stitch& s : w.session().checked()->stitched().list.stitches)
            if (s.op == Op::stitch) QVERIFY(distance(s.at(), centre) > radius + 14);
        // For a one-sided hoop the words lie level, and the garment turns instead.
        w.press("neckLevel");
        w.press("setNeckline");
        QCOMPARE(wordsOf(w).line.middleDeg, 0.0);
        QVERIFY(w.job().cloth.guides[1].line.back().x < -20);
        w.key(Qt::Key_Z, Qt::ControlModifier);
        VERIFY_NEAR(wordsOf(w).line.middleDeg, -angle, 1e-6);
        // The same neck by three clicks.
        w.choose("neckMeasured", "points");
        w.press("traceNeck");
        for (const Vec2 p : {Vec2{-100, -80}, Vec2{0, 0}, Vec2{100, -80}}) click(w, p);
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        w.press("setNeckline");
        VERIFY_NEAR(wordsOf(w).line.radiusMm, radius + 26, 1.5);
        // Its template, plain and mirrored.
        w.settle();
        for (const char* name : {"neckTemplate", "neckTemplateMirrored"}) {
            const QString pdf = w.dir.filePath(QString(name) + ".pdf");
            answerFileDialog(pdf);
            w.press(name);
            QVERIFY(QFileInfo(pdf).size() > 1000);
        }
    }

    void theTagsAreLetteredFromAList() {
        AppWindow w;
        const auto written =
            writeDemoJobs(dataFolder() + "/demo", w.dir.filePath("demo").toStdString());
        QVERIFY(bool(written));
        QVERIFY(w.window.openFile(w.dir.filePath("demo/name-tags.rapt")));
        w.settle();
        w.session().selection.chooseSingly({"name"});
        openLetters(w, LetterPage::names);
        QFile list(w.dir.filePath("kites.csv"));
        QVERIFY(list.open(QIODevice::WriteOnly));
        list.write("no,name\n1,Kestrel\n2,Tern\n3,Dunlin\n4,Avocet\n5,Plover\n6,Curlew\n7,Tern\n8,"
                   "Whimbrel\n9,Knot\n10,Ruff\n11,Smew\n12,Sanderling\n");
        list.close();
        answerFileDialog(list.fileName());
        w.press("openNames");
        auto* table = w.find<RowsTable>("nameTable");
        QCOMPARE(table->rowCount(), 12);
        QVERIFY(table->text(1, 3).contains("2 times"));
        QVERIFY(!table->text(0, 3).contains("times"));
        w.type("Room for a name", "44");
        w.press("lettersOnCopies");
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{12});
        QVERIFY(w.job().repeats.empty());
        QCOMPARE(wordsOf(w, w.job().pieces[11].id).text, std::string("Sanderling"));
        // The longest decides: all are of one height, and none is wider than the room.
        for (const Piece& p : w.job().pieces) {
            QCOMPARE(wordsOf(w, p.id).capHeightMm, wordsOf(w, "name").capHeightMm);
            QVERIFY(boxOf(w, p.id).width() <= 44.6);
            QVERIFY(p.outline.has_value());
        }
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), std::size_t{1});
        QCOMPARE(w.job().repeats.size(), std::size_t{1});
    }

    void everyNameBecomesAJobOfItsOwn() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "Name");
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        w.press("letterTab4");
        w.find<QPlainTextEdit>("nameList")->setPlainText("Tern\nAvocet of the far marsh");
        w.choose("nameSizing", "each");
        w.type("Room for a name", "60");
        const QString folder = w.dir.filePath("jobs");
        QDir().mkpath(folder);
        answerFileDialog(folder);
        w.press("namesAsJobs");
        const QStringList files = QDir(folder).entryList({"*.rapt"}, QDir::Files, QDir::Name);
        QCOMPARE(files, (QStringList{"01-tern.rapt", "02-avocet-of-the-far-marsh.rapt"}));
        const auto first = readJobFile((folder + "/" + files[0]).toStdString());
        const auto second = readJobFile((folder + "/" + files[1]).toStdString());
        QCOMPARE(letteringOf(*first, "words")->text, std::string("Tern"));
        // Each as large as it can be: the short one keeps its height, the long one is fitted down.
        QCOMPARE(letteringOf(*first, "words")->capHeightMm, 15.0);
        QVERIFY(letteringOf(*second, "words")->capHeightMm < 8);
        QCOMPARE(w.job().pieces.size(), std::size_t{1});
    }

    void resizingChangesTheRealHeight() {
        AppWindow w;
        openLetters(w);
        typeOnCloth(w, {0, 0}, "HHH");
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        w.session().selection.chooseSingly({"words"});
        w.press("tab0");
        w.type("Percent", "200");
        w.settle();
        page(w, ComposeStage::letter);
        QCOMPARE(w.find<QLineEdit>("Letter height")->text(), QString("30.0 mm"));
        VERIFY_NEAR(boxOf(w, "words").height(), 30.1, 0.4);
        // Typed anew, the height is met whatever the scale was.
        w.type("Letter height", "24");
        w.settle();
        VERIFY_NEAR(boxOf(w, "words").height(), 24.1, 0.4);
        // The caret and the letters are found at the new size, too.
        w.press("typeOnCloth");
        const Box box = boxOf(w, "words");
        click(w, {box.maxX - 1, box.centre().y});
        QCOMPARE(w.session().letters.cursor().letter, 2);
    }

    void aMonogramIsMadeInItsFrame() {
        AppWindow w;
        openLetters(w, LetterPage::monogram);
        QTest::keyClicks(w.find<QLineEdit>("monogramGiven"), "Mira");
        QTest::keyClicks(w.find<QLineEdit>("monogramMiddle"), "Jo");
        QTest::keyClicks(w.find<QLineEdit>("monogramSurname"), "Sand");
        w.choose("monogramFrame", "oval");
        w.press("makeMonogram");
        w.settle();
        QCOMPARE(w.job().pieces.size(), std::size_t{2});
        QCOMPARE(wordsOf(w, "monogram").text, std::string("MSJ"));
        QVERIFY(boxOf(w, "monogram frame").width() > boxOf(w, "monogram").width() + 6);
        QCOMPARE(w.session().selection.ids().size(), std::size_t{2});
        w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(w.job().pieces.empty());
    }

    void whatWasLetteredIsFoundAgain() {
        AppWindow w;
        openLetters(w);
        chooseFace(w, "garamond");
        w.type("Letter height", "13");
        typeOnCloth(w, {0, 0}, "Oystercatcher");
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        const QString file = w.dir.filePath("tag.rapt");
        answerFileDialog(file);
        w.key(Qt::Key_S, Qt::ControlModifier);
        QVERIFY(QFile::exists(file));
        AppWindow next;
        openLetters(next);
        chooseFace(next, "lato");
        whenDialogOpens([](QDialog* dialog) {
            QTest::keyClicks(dialog->findChild<QLineEdit*>("letteredSearch"), "oyster");
            QCOMPARE(dialog->findChild<QTableWidget*>("letteredTable")->rowCount(), 1);
            dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Ok)->click();
        });
        next.press("letteredBefore");
        QCOMPARE(next.session().letters.look.face, std::string("garamond"));
        QCOMPARE(next.session().letters.look.capHeightMm, 13.0);
    }
};

RAPT_TEST(TestLettering)
#include "test_lettering.moc"
