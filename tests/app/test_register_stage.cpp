#include "window_support.h"

#include "app/register/camera_dialog.h"
#include "app/register/scan_page.h"
#include "registration/guided.h"
#include "standins/camera.h"
#include "standins/motif.h"
#include "standins/practice.h"

#include <QCheckBox>
#include <QClipboard>
#include <QDropEvent>
#include <QListWidget>
#include <QMimeData>
#include <QSlider>

using namespace rapt;
using namespace rapt::app;
using test::DemoWindow;

/// Register as a person uses it: the real window, mouse, keys, files.
class TestRegisterStage : public QObject {
    Q_OBJECT

    /// A picture of a hooping as a file; gives its truth.
    static Photograph shoot(DemoWindow& w, const PhotographOptions& options, const QString& name) {
        auto photo = photograph(w.job(), w.session().library, options);
        if (!photo) qFatal("%s", photo.error().line().c_str());
        test::writeFile(w.dir.filePath(name),
                        QByteArray::fromStdString(*encodePng(photo->picture)));
        return std::move(*photo);
    }
    static void openStage(DemoWindow& w, RegisterStage::Tab page) {
        w.key(Qt::Key_5, Qt::ControlModifier);
        w.press(("registerTab" + std::to_string(page)).c_str());
        w.settle();
    }
    static void readFile(DemoWindow& w, const QString& name) {
        w.press("registerTab0");
        test::answerFileDialog(w.dir.filePath(name));
        w.press("readScan");
        QTRY_VERIFY_WITH_TIMEOUT(w.session().registering.proposed(), 60'000);
    }
    static void planChain(DemoWindow& w) {
        DivideState::Choices choices;
        choices.method = Method::chain;
        w.session().dividing.choose(choices);
        w.planWith("300 × 200");
    }

private slots:
    void initTestCase() { test::startApplication(); }

    void aScanIsProposedLookedAtTakenAndUndone() {
        DemoWindow w;
        w.planWith("300 × 200");
        PhotographOptions options;
        options.seed = 31;
        options.turnDeg = 0.4;
        options.shiftMm = 1;
        const auto photo = shoot(w, options, "scan.png");
        openStage(w, RegisterStage::scan);
        readFile(w, "scan.png");
        auto* list = w.find<QListWidget>("proposals");
        QVERIFY(list->isVisible() && list->count() >= 4); // cards and lines
        QVERIFY(w.job().registrations.empty());
        QTRY_VERIFY(w.session().scan()); // the picture lies on the cloth, nothing counts yet
        // The first card is not trusted.
        list->item(0)->setCheckState(Qt::Unchecked);
        w.press("takeProposed");
        for (const Observation& o : w.job().registration(1)->observations)
            QVERIFY(o.name != w.job().hoopings[0].marks[0].name);
        const auto report = fitOf(*w.job().registration(1));
        VERIFY_NEAR(report->fit.rotationDeg, photo.cloth.rotationDeg, 0.3);
        QVERIFY(!w.session().registering.proposed());
        w.session().document.undo();
        QVERIFY(w.job().registrations.empty());
        QVERIFY(!w.job().members.contains("scans/hooping-01.png"));
    }

    void picturesComeByDropPasteAndFolder() {
        DemoWindow w;
        w.planWith("300 × 200");
        PhotographOptions options;
        options.seed = 3;
        shoot(w, options, "scan.png");
        openStage(w, RegisterStage::scan);
        const auto arrived = [&] {
            QTRY_VERIFY_WITH_TIMEOUT(w.session().registering.proposed(), 60'000);
            w.press("dropProposed");
            QVERIFY(!w.session().registering.proposed());
        };
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(w.dir.filePath("scan.png"))});
        QDragEnterEvent enter(QPoint(20, 20), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w.window.registerStage(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(20, 20), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&w.window.registerStage(), &drop);
        arrived();
        QApplication::clipboard()->setImage(QImage(w.dir.filePath("scan.png")));
        w.window.registerStage().scanPage().paste();
        arrived();
        QDir(w.dir.path()).mkdir("phone");
        w.window.registerStage().scanPage().watch(w.dir.filePath("phone"));
        QFile::copy(w.dir.filePath("scan.png"), w.dir.filePath("phone/new.png"));
        arrived();
        w.window.registerStage().scanPage().watch({});
        // Cancelled, nothing is proposed.
        test::answerFileDialog(w.dir.filePath("scan.png"));
        w.press("readScan");
        w.press("cancelScan");
        QVERIFY(!w.window.registerStage().isReading());
        QTest::qWait(1500);
        QVERIFY(!w.session().registering.proposed());
    }

    void theNeedleFindsTwoMarks() {
        DemoWindow w;
        w.planWith("300 × 200");
        openStage(w, RegisterStage::points);
        w.press("jog");
        QCOMPARE(w.session().tool(), ToolKind::needle);
        QVERIFY(w.session().registering.pointer());
        const Vec2 start = *w.session().registering.pointer();
        w.cloth().setFocus();
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        QTest::keyClick(&w.cloth(), Qt::Key_Up, Qt::AltModifier);
        QTest::keyClick(&w.cloth(), Qt::Key_Right, Qt::AltModifier);
        VERIFY_NEAR(w.session().registering.pointer()->x, start.x + 1.1, 1e-9);
        VERIFY_NEAR(w.session().registering.pointer()->y, start.y - 0.1, 1e-9);
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        QCOMPARE(w.job().registration(1)->observations.size(), std::size_t{1});
        // On to the next mark, which lies just as far off.
        QTest::keyClick(&w.cloth(), Qt::Key_Right);
        QTest::keyClick(&w.cloth(), Qt::Key_Return);
        QCOMPARE(w.job().registration(1)->observations.size(), std::size_t{2});
        const auto report = fitOf(*w.job().registration(1));
        VERIFY_NEAR(report->fit({0, 0}).x, 1, 0.3);
        QCOMPARE(w.job().registration(1)->observations[0].by, std::string("needle"));
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QCOMPARE(w.session().tool(), ToolKind::select);
        // An edge takes several places.
        w.choose("needleTarget", "line across");
        w.press("jog");
        for (const double x : {-60.0, 60.0}) {
            w.session().registering.setPointer(Vec2{x, 2});
            w.press("takePointer");
        }
        QCOMPARE(w.job().registration(1)->observations.back().seenLine.size(), std::size_t{2});
    }

    void stepsOffTwoPlacesOfTheDesignAreARegistration() {
        DemoWindow w;
        w.planWith("300 × 200");
        w.settle();
        openStage(w, RegisterStage::points);
        for (const char* name : {"left end of its axis", "right end of its axis"}) {
            w.choose("needleTarget", name);
            auto* right = w.find<QSpinBox>("stepsRight");
            auto* towards = w.find<QSpinBox>("stepsTowards");
            QCOMPARE(right->value(), 0);
            right->selectAll();
            QTest::keyClicks(right, "15");
            QTest::keyClick(right, Qt::Key_Return);
            towards->selectAll();
            QTest::keyClicks(towards, "-4");
            QTest::keyClick(towards, Qt::Key_Return);
            w.press("takePointer");
        }
        const auto report = fitOf(*w.job().registration(1));
        VERIFY_NEAR(report->fit.translation.x, 1.5, 1e-6);
        VERIFY_NEAR(report->fit.translation.y, -0.4, 1e-6);
        w.settle();
        w.press("registerTab2");
        QTRY_VERIFY(w.find<QLabel>("panelWords")
                        ->text()
                        .contains("Move it 15 steps right and 4 steps away from you"));
        // A list that is moved is not moved again.
        w.session().document.apply(chooseCorrection(1, CorrectionChoice::corrected));
        QTRY_VERIFY(w.find<QLabel>("panelWords")->text().contains("key in nothing"));
    }

    void oneCardTakesTheCornerOfTheDesign() {
        DemoWindow w;
        w.planWith("300 × 200");
        PhotographOptions options;
        options.seed = 12;
        const auto photo = shoot(w, options, "scan.png");
        openStage(w, RegisterStage::scan);
        readFile(w, "scan.png");
        w.press("registerTab1");
        w.choose("anchor", "near right");
        w.press("putOnCard");
        const Registration* r = w.job().registration(1);
        QCOMPARE(r->observations.size(), std::size_t{1});
        const Box box = w.session().derived()->hoopings()[0].extents;
        VERIFY_NEAR(r->observations[0].planned.x, box.maxX, 1e-9);
        VERIFY_NEAR(r->observations[0].planned.y, box.maxY, 1e-9);
        QVERIFY(distance(r->observations[0].seen, photo.truth.cards[0].at) < 0.2);
    }

    void theFitSaysTheSuspectAndTheChoiceIsThePersons() {
        DemoWindow w("mending-patch");
        w.planWith("180 × 130");
        const Hooping h = w.job().hoopings[0];
        std::vector<Observation> found;
        for (const Vec2 p : {Vec2{-70, -50}, {70, -50}, {70, 50}, {-70, 50}, {0, 0}})
            found.push_back(pointSeen(h, {"m" + std::to_string(found.size()), h.pose.affine()(p)},
                                      p + Vec2{0.3, 0.2}, "typed", 0.2));
        found[3].seen = found[3].seen + Vec2{0, 5};
        w.session().document.apply(addObservations(1, found));
        openStage(w, RegisterStage::fit);
        QTRY_VERIFY(w.judgement().contains("Look again"));
        auto* table = w.find<QTableWidget>("seen");
        QVERIFY(table->item(3, 0)->text().contains("⚠"));
        table->item(3, 0)->setCheckState(Qt::Unchecked);
        QVERIFY(w.job().registration(1)->observations[3].leftOut);
        QTRY_VERIFY(w.judgement().contains("Sew it"));
        w.press("trustMap");
        QVERIFY(w.session().registering.showsTrust());
        w.press("sewCorrected");
        QCOMPARE(w.job().registration(1)->choice, CorrectionChoice::corrected);
        QTRY_VERIFY(w.judgement().contains("Ready"));
        w.press("sewPlanned");
        QCOMPARE(w.job().registration(1)->choice, CorrectionChoice::asPlanned);
        w.session().document.undo();
        QCOMPARE(w.job().registration(1)->choice, CorrectionChoice::corrected);
        w.choose("model", "stretch and skew");
        QCOMPARE(w.job().registration(1)->model, MotionModel::skew);
        QTRY_VERIFY(w.find<QLabel>("fitNumbers")->text().contains("across"));
    }

    void whatDoesNotFitSaysTheWayBackAndCannotBeChosen() {
        DemoWindow w;
        w.planWith("300 × 200");
        const Hooping h = w.job().hoopings[0];
        std::vector<Observation> found;
        for (const Mark& m : h.marks)
            found.push_back(
                pointSeen(h, m, h.pose.affine().inverse()(m.at) + Vec2{60, 0}, "typed", 0.2));
        w.session().document.apply(addObservations(1, found));
        openStage(w, RegisterStage::fit);
        QTRY_VERIFY(w.judgement().contains("does not fit"));
        // Said once: the way back above, what would fit below.
        bool wayBack = false;
        for (const QLabel* label : w.window.findChildren<QLabel*>())
            wayBack |= label->isVisible() && label->text().contains("pull the cloth");
        QVERIFY(wayBack);
        QVERIFY(w.find<QLabel>("missWords")->text().contains("At most"));
        QVERIFY(!w.find<QLabel>("missWords")->text().contains("pull the cloth"));
        QVERIFY(!w.find<QPushButton>("sewCorrected")->isEnabled());
    }

    void veinsAndARegionAreDrawnOnTheCottonSquare() {
        DemoWindow w("cotton-square");
        w.planWith("240 × 240");
        PhotographOptions options;
        options.seed = 6;
        options.motif = true;
        const auto photo = shoot(w, options, "scan.png");
        openStage(w, RegisterStage::scan);
        readFile(w, "scan.png");
        w.press("takeProposed");
        w.press("registerTab3");
        // First it is decided how it is sewn; else what is drawn would be moved away.
        QVERIFY(!w.find<QPushButton>("traceRegion")->isEnabled());
        w.session().document.apply(chooseCorrection(1, CorrectionChoice::corrected));
        QTRY_VERIFY(w.find<QPushButton>("traceRegion")->isEnabled());
        QTRY_VERIFY(w.session().scan());
        w.session().showPlace({0, 0});
        w.settle();
        const std::size_t before = w.job().pieces.size();
        w.press("traceRegion");
        QTest::mouseClick(&w.cloth(), Qt::LeftButton, {}, w.px({4, 5}));
        QTRY_COMPARE(w.job().pieces.size(), before + 1);
        const Piece& region = w.job().pieces.back();
        // Where the print was planned on the cloth, though the cloth lies askew: area and place.
        const Contours& lines = std::get<ShapeContent>(region.content).shape->parts[0].lines;
        const Contours print = printedMotif()[0].outline;
        VERIFY_NEAR(areaOf(lines) / areaOf(print), 1, 0.03);
        VERIFY_NEAR(region.pose.x, boundsOf(print).centre().x, 0.5);
        VERIFY_NEAR(region.pose.y, boundsOf(print).centre().y, 0.5);
        // It belongs to the hooping, and is sewn.
        QCOMPARE(w.job().hoopings[0].pieces.back(), region.id);
        w.settle();
        QVERIFY(!w.session().derived()->hoopings().empty());
        QTRY_VERIFY(w.find<QLabel>("traceAccuracy")->text().contains("Drawn region: expect"));
        w.type("veinWidth", "1.6");
        w.press("traceFreehand");
        w.drag(w.px({-18, 0}), w.px({18, 1}));
        QCOMPARE(w.job().pieces.size(), before + 2);
        QCOMPARE(std::get<ShapeContent>(w.job().pieces.back().content).shape->parts[0].kind,
                 StitchKind::satin);
        w.session().document.undo();
        w.session().document.undo();
        QCOMPARE(w.job().pieces.size(), before);
        // Escape in the middle of a line draws nothing.
        w.press("traceFreehand");
        QTest::mousePress(&w.cloth(), Qt::LeftButton, {}, w.px({-10, 0}));
        QTest::keyClick(&w.cloth(), Qt::Key_Escape);
        QTest::mouseRelease(&w.cloth(), Qt::LeftButton, {}, w.px({10, 0}));
        QCOMPARE(w.job().pieces.size(), before);
    }

    void theFadeShowsClothOrStitches() {
        DemoWindow w;
        w.planWith("300 × 200");
        openStage(w, RegisterStage::scan);
        w.press("takePicture");
        w.settle();
        w.press("takeProposed");
        QTRY_VERIFY(w.find<QPushButton>("blink")->isEnabled());
        const auto grab = [&](int fade) {
            w.find<QSlider>("fade")->setValue(fade);
            w.settle();
            return w.cloth().grab().toImage();
        };
        const QImage cloth = grab(0), stitches = grab(100), both = grab(50);
        QVERIFY(cloth != stitches && both != cloth && both != stitches);
        w.press("blink");
        QVERIFY(w.session().registering.isBlinking());
        w.press("blink");
        // The pointer goes round the design and is put away at the end.
        w.press("walkOutline");
        QVERIFY(w.session().registering.pointer());
        w.press("walkOutline");
    }

    void aChainGoesOnAfterTheApplicationWasClosed() {
        QTemporaryDir dir;
        const QString file = dir.filePath("chain.rapt");
        const auto step = [](DemoWindow& w) { return w.find<QLabel>("nextStep")->text(); };
        {
            DemoWindow w;
            planChain(w);
            QVERIFY(w.job().hoopings.size() >= 2);
            w.session().setHooping(1);
            openStage(w, RegisterStage::scan);
            QVERIFY2(step(w).contains("Step 1 of 6"), qPrintable(step(w)));
            w.press("stepDone"); // cards are laid
            QVERIFY(step(w).contains("Step 2"));
            w.press("takePicture");
            QTRY_VERIFY_WITH_TIMEOUT(step(w).contains("Step 3"), 60'000);
            QVERIFY(w.job().registration(2)->placed.size() >= 2);
            w.press("stepDone"); // hooped anew
            QVERIFY(bool(w.session().document.saveTo(file)));
        }
        DemoWindow w;
        w.window.openFile(file);
        w.session().setHooping(1);
        openStage(w, RegisterStage::scan);
        QVERIFY2(step(w).contains("Step 4"), qPrintable(step(w)));
        w.press("takePicture");
        QTRY_VERIFY_WITH_TIMEOUT(w.session().registering.proposed(), 60'000);
        w.press("takeProposed");
        QVERIFY2(step(w).contains("Step 5"), qPrintable(step(w)));
        w.session().document.apply(chooseCorrection(2, CorrectionChoice::asPlanned));
        QVERIFY(step(w).contains("Only now"));
        w.press("stepDone");
        QVERIFY(step(w).contains("All steps are done"));
    }

    void practiceHidesTheClothAndTellsHowFarOff() {
        DemoWindow w("mending-patch");
        w.planWith("180 × 130");
        const Job before = w.job();
        openStage(w, RegisterStage::practice);
        w.find<QCheckBox>("practiseCards")->setChecked(true);
        w.press("practise");
        QTRY_VERIFY_WITH_TIMEOUT(w.job().members.contains("scans/practice.png"), 60'000);
        QVERIFY(!w.find<QPushButton>("reveal")->isEnabled());
        // Registered from the very picture that lies there.
        test::writeFile(w.dir.filePath("seen.png"),
                        QByteArray::fromStdString(*w.job().members.at("scans/practice.png")));
        readFile(w, "seen.png");
        // Taking a scan replaces the member; the practice goes on all the same.
        std::vector<Observation> found = w.session().registering.proposed()->proposals.found;
        w.session().document.apply(addObservations(1, found));
        w.session().registering.dropProposed();
        w.press("registerTab4");
        auto* table = w.find<QTableWidget>("revealed");
        int n = 0;
        while (w.find<QPushButton>("reveal")->isEnabled() && n < 20) {
            w.press("reveal");
            QCOMPARE(table->rowCount(), ++n);
            QVERIFY2(table->item(n - 1, 1)->text().toDouble() < 0.8,
                     qPrintable(table->item(n - 1, 1)->text()));
        }
        QVERIFY(n >= 6);
        QCOMPARE(w.session().library.practice.tries.size(), std::size_t{1});
        w.press("endPractice");
        QVERIFY(!w.job().registration(1) || w.job().registration(1)->observations.empty());
        QVERIFY(w.job().hoopings == before.hoopings);
    }

    void practiceStaysOutOfFilesAndOtherJobs() {
        DemoWindow w;
        w.planWith("180 × 130");
        Registration real;
        real.hooping = 1;
        real.plan = planStamp(w.job(), 1);
        real.observations.push_back({});
        real.observations[0].name = "A";
        w.session().document.apply(setRegistration(real));
        openStage(w, RegisterStage::practice);
        w.press("practise");
        QTRY_VERIFY_WITH_TIMEOUT(w.job().members.contains("scans/practice.png"), 60'000);
        QVERIFY(w.session().document.saveTo(w.dir.filePath("saved.rapt")));
        const Job saved = *readJobFile(w.dir.filePath("saved.rapt").toStdString());
        QCOMPARE(saved.registration(1)->observations.size(), std::size_t{1});
        QVERIFY(!saved.members.contains("scans/practice.png"));
        // On another hooping: what was there before comes back first.
        w.session().setHooping(1);
        w.press("practise");
        QCOMPARE(w.job().registration(1)->observations.size(), std::size_t{1});
        // Another job in the middle of it: nothing lands there.
        Job other = w.job();
        other.name = "Other";
        w.session().document.reset(other, {});
        w.settle();
        QVERIFY(!w.job().members.contains("scans/practice.png"));
        QVERIFY(w.job() == other);
    }

    void damagedAndForeignFilesAreSaidInWords_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("words");
        QTest::newRow("no picture") << QByteArray("hello") << "neither a PNG nor a JPEG";
        QTest::newRow("empty") << QByteArray() << "neither a PNG nor a JPEG";
        QByteArray huge = QByteArray::fromHex("89504E470D0A1A0A0000000D49484452000186A0000186A0"
                                              "08020000001B2EBBFE");
        QTest::newRow("huge") << huge << "PNG";
    }
    void damagedAndForeignFilesAreSaidInWords() {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, words);
        DemoWindow w;
        w.planWith("300 × 200");
        test::writeFile(w.dir.filePath("x.png"), bytes);
        openStage(w, RegisterStage::scan);
        const Job before = w.job();
        QString said;
        test::answerMessage(QMessageBox::Ok, &said);
        w.window.registerStage().readScanFile(w.dir.filePath("x.png"));
        QTRY_VERIFY2(said.contains(words), qPrintable(said));
        QVERIFY(w.job() == before);
    }

    void theBoardIsPrintedAndItsPicturesAreJudged() {
        DemoWindow w;
        CameraDialog dialog(w.session(), &w.window);
        dialog.show();
        test::answerFileDialog(w.dir.filePath("board.pdf"));
        QTest::mouseClick(dialog.findChild<QPushButton*>("printBoard"), Qt::LeftButton);
        QVERIFY(test::readFile(w.dir.filePath("board.pdf")).startsWith("%PDF"));
        QImage(300, 200, QImage::Format_RGB32).save(w.dir.filePath("no.png"));
        dialog.read({w.dir.filePath("no.png")});
        QTRY_VERIFY(dialog.findChild<QLabel*>("calibrationWords")->text().contains("0 of 1"));
        QVERIFY(!dialog.findChild<QPushButton*>("keepCamera")->isEnabled());
    }
};

RAPT_TEST(TestRegisterStage)
#include "test_register_stage.moc"
