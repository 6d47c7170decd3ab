#include "window_support.h"

#include "app/register/register_stage.h"
#include "app/weigh/findings_list.h"
#include "app/window/stage_summary.h"
#include "app/window/thread_line.h"
#include "app/window/work_order.h"
#include "standins/camera.h"

#include <QMenu>
#include <QMenuBar>
#include <QTableWidget>

using namespace rapt;
using namespace rapt::app;
using rapt::test::DemoWindow;

/// The whole slice in one window, as a specialist would go through it; and the panels on the way.
class TestSlice : public QObject {
    Q_OBJECT

    static bool hasStop(DemoWindow& w) { return anyStop(w.session().checked()->findings()); }

private slots:
    void initTestCase() { test::startApplication(); }
    void init() { QDir(Recovery::folder()).removeRecursively(); }

    void fromTheOpenBannerToTheRecordAndBackAgain() {
        DemoWindow w;
        // Compose: move by mouse and key, resize by a typed number.
        w.key(Qt::Key_2, Qt::ControlModifier);
        const Pose red = w.job().piece("red")->pose;
        w.drag(w.px({red.x + 6, red.y + 8}), w.px({red.x + 6, red.y + 8}) + QPoint(12, 0));
        QTest::keyClick(&w.cloth(), Qt::Key_Left, Qt::AltModifier);
        w.type("Width", "3 in");
        w.settle();
        VERIFY_NEAR(w.job().piece("red")->pose.scaleX * 68, 76.2, 3);
        // Weigh: mend what is open, one finding after the other.
        w.key(Qt::Key_3, Qt::ControlModifier);
        for (int round = 0; round < 6 && hasStop(w); ++round) {
            FindingCard* mendable = nullptr;
            for (auto* card : w.window.findChildren<FindingCard*>())
                if (!mendable && card->isVisible() && card->findChild<QPushButton*>("remedy"))
                    mendable = card;
            QVERIFY(mendable);
            QTest::mouseClick(mendable->findChild<QPushButton*>("remedy"), Qt::LeftButton);
            w.settle();
        }
        QVERIFY(!hasStop(w));
        QVERIFY(w.judgement().contains("takes this layout"));
        // Divide and register.
        w.planWith("240 × 150");
        const std::size_t hoopings = w.job().hoopings.size();
        QVERIFY(hoopings >= 2);
        w.key(Qt::Key_Period, Qt::ControlModifier);
        QCOMPARE(w.session().hooping(), 1);
        w.key(Qt::Key_P, Qt::ControlModifier);
        w.settle();
        w.press("takeProposed");
        QTRY_VERIFY(w.judgement().contains("Sew it"));
        // Stitch-out.
        w.key(Qt::Key_6, Qt::ControlModifier);
        w.settle();
        QVERIFY2(w.judgement().contains("Ready"), qPrintable(w.judgement()));
        QDir(w.dir.path()).mkdir("out");
        test::answerFileDialog(w.dir.filePath("out"));
        QTest::mouseClick(w.find<QPushButton>("export"), Qt::LeftButton);
        QCOMPARE(QDir(w.dir.filePath("out")).entryList({"hooping-*.stitch.csv"}).size(),
                 static_cast<qsizetype>(hoopings));
        // Saved, opened again: the same job, scan and all.
        w.key(Qt::Key_S, Qt::ControlModifier);
        const Job saved = w.job();
        MainWindow again(test::library());
        QVERIFY(again.openFile(w.banner()));
        QCOMPARE(*packJob(again.session().job()), *packJob(saved));
        // And undone back to the beginning.
        while (w.session().document.canUndo()) w.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(w.job().piece("red")->pose == red);
        QVERIFY(w.job().hoopings.empty());
    }

    void aJpegScanIsReadToo() {
        DemoWindow w;
        w.planWith("300 × 200");
        const auto photo = photograph(w.job(), w.session().library, {1, 5, 6, {}});
        const Image& p = photo->picture;
        const QImage image(p.pixels.data(), p.width, p.height, p.width * 3, QImage::Format_RGB888);
        QVERIFY(image.save(w.dir.filePath("scan.jpg"), "JPG", 92));
        w.session().setStage(Stage::registration);
        w.window.registerStage().readScanFile(w.dir.filePath("scan.jpg"));
        w.settle();
        w.press("takeProposed");
        QVERIFY(w.job().members.contains("scans/hooping-01.jpg"));
        const Registration* r = w.job().registration(1);
        for (std::size_t i = 0; i < photo->truth.cards.size(); ++i)
            QVERIFY(distance(r->observations[i].seen, photo->truth.cards[i].at) < 0.3);
        // Cut off, it is refused and nothing changes.
        const QByteArray bytes = test::readFile(w.dir.filePath("scan.jpg"));
        test::writeFile(w.dir.filePath("cut.jpg"), bytes.left(bytes.size() / 2));
        const Job before = w.job();
        QString words;
        test::answerMessage(QMessageBox::Ok, &words);
        w.window.registerStage().readScanFile(w.dir.filePath("cut.jpg"));
        QTRY_VERIFY(words.contains("cut.jpg"));
        QVERIFY(w.job() == before);
    }

    void aPointThatDoesNotFitIsNamedInTheReadout() {
        DemoWindow w;
        w.planWith("300 × 200");
        Registration r;
        r.hooping = 1;
        const Vec2 places[] = {{-90, -60}, {90, -60}, {90, 60}, {-90, 60}, {0, 0}};
        for (int i = 0; i < 5; ++i) {
            Observation o;
            o.name = "M" + std::to_string(i);
            o.planned = places[i];
            o.seen = places[i] + (i == 2 ? Vec2{5, 4} : Vec2{1, 1});
            r.observations.push_back(o);
        }
        w.session().document.apply(setRegistration(r));
        w.key(Qt::Key_5, Qt::ControlModifier);
        QTRY_VERIFY(w.judgement().contains("Look again"));
        bool named = false;
        for (QLabel* label : w.window.findChildren<QLabel*>())
            named = named || (label->isVisible() && label->text().contains("M2 does not fit"));
        QVERIFY(named);
        QCOMPARE(summarise(w.session())[4].state, StageState::attention);
    }

    void theWorkOrderIsReachedAndReadByKeyboard() {
        DemoWindow w("mending-patch");
        auto* brief = w.find<StageButton>("stage-Brief");
        brief->setFocus();
        QTest::keyClick(brief, Qt::Key_Space);
        QCOMPARE(w.session().stage(), Stage::brief);
        QVERIFY(brief->accessibleName().contains("settled"));
        QVERIFY(w.find<StageButton>("stage-Weigh")->accessibleName().contains("needs attention"));
        w.key(Qt::Key_F6);
        QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(&w.cloth()));
        w.key(Qt::Key_F7);
        QVERIFY(QApplication::focusWidget() != &w.cloth());
    }

    void thePointerIsMeasuredFromTheNearestHem() {
        DemoWindow w;
        const QPoint px = w.px({-300, 20}); // 10 mm from the left hem
        QMouseEvent move(QEvent::MouseMove, px, w.cloth().mapToGlobal(px), Qt::NoButton,
                         Qt::NoButton, {});
        QApplication::sendEvent(&w.cloth(), &move);
        bool said = false;
        for (QLabel* label : w.window.findChildren<QLabel*>())
            said = said || label->text().contains("from the left hem");
        QVERIFY(said);
    }

    void arrowKeysWalkAlongTheThreadLine() {
        DemoWindow w;
        auto* line = w.window.findChild<ThreadLine*>();
        line->setFocus();
        QTest::keyClick(line, Qt::Key_Right);
        const auto& runs = w.session().derived()->time().runs;
        QCOMPARE(w.session().selection.ids(), std::vector<std::string>{runs[1].piece});
        const std::string first = w.job().pieces[0].id;
        QTest::keyClick(line, Qt::Key_Right, Qt::ControlModifier);
        QCOMPARE(w.job().pieces[1].id, first);
    }

    void findingsAreCountedInWords() {
        std::vector<Finding> findings;
        QCOMPARE(FindingsList::countText(findings), QString("none open"));
        Finding f;
        for (const Severity s :
             {Severity::stop, Severity::caution, Severity::caution, Severity::note}) {
            f.severity = s;
            findings.push_back(f);
        }
        QCOMPARE(FindingsList::countText(findings), QString("1 stop · 2 cautions · 1 note"));
    }

    void everySeverityHasItsOwnShape() {
        // Told apart without colour: as silhouettes they must differ.
        QList<QImage> shapes;
        for (const Severity s : {Severity::stop, Severity::caution, Severity::note}) {
            QImage image(32, 32, QImage::Format_ARGB32);
            image.fill(Qt::transparent);
            QPainter painter(&image);
            paintSeverity(painter, {16, 16}, 12, s);
            shapes << image.convertToFormat(QImage::Format_Alpha8);
        }
        for (int a = 0; a < 3; ++a)
            for (int b = 0; b < a; ++b) {
                int differing = 0;
                for (int y = 0; y < 32; ++y)
                    for (int x = 0; x < 32; ++x)
                        differing += (shapes[a].pixel(x, y) != shapes[b].pixel(x, y));
                QVERIFY(differing > 60);
            }
    }

    void everyIconOfAnActionExistsInBothThemes() {
        DemoWindow w;
        int icons = 0;
        for (const bool dark : {false, true}) {
            w.window.setDark(dark);
            for (const QAction* action : w.window.findChildren<QAction*>()) {
                const QString name = action->property("iconName").toString();
                if (name.isEmpty()) continue;
                ++icons;
                const QImage image = action->icon().pixmap(18, 18).toImage();
                QVERIFY2(!image.isNull(), qPrintable(name));
                int inked = 0;
                for (int y = 0; y < image.height(); ++y)
                    for (int x = 0; x < image.width(); ++x) {
                        const QColor c = image.pixelColor(x, y);
                        inked += c.alpha() > 150 && (c.lightness() > 128) == dark;
                    }
                QVERIFY2(inked > 8, qPrintable(name));
            }
        }
        QVERIFY(icons >= 20);
        w.window.setDark(false);
    }

    void aNewJobIsEmptyAndEveryStageSaysSo() {
        DemoWindow w;
        w.key(Qt::Key_N, Qt::ControlModifier);
        QVERIFY(w.job().pieces.empty());
        w.settle();
        for (int k = 0; k < stageCount; ++k) {
            w.session().setStage(static_cast<Stage>(k));
            QVERIFY(!w.judgement().isEmpty());
        }
        w.session().setStage(Stage::compose);
        QVERIFY(w.judgement().contains("empty"));
    }

    void recentFilesAreOffered() {
        DemoWindow w;
        bool offered = false;
        for (const QAction* action : w.window.findChildren<QAction*>())
            offered = offered || action->text() == w.banner();
        QVERIFY(offered);
    }

    void rulersAndReadoutsSwitchToInches() {
        DemoWindow w;
        w.key(Qt::Key_U, Qt::ControlModifier);
        const auto lines = summarise(w.session());
        QVERIFY2(lines[1].line.endsWith("in"), qPrintable(lines[1].line));
        const QImage inches = w.cloth().grab().toImage();
        w.key(Qt::Key_U, Qt::ControlModifier);
        QVERIFY(w.cloth().grab().toImage() != inches);
    }
};

RAPT_TEST(TestSlice)
#include "test_slice.moc"
