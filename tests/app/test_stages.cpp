#include "window_support.h"

#include "app/kit/rows_table.h"
#include "app/register/register_stage.h"
#include "app/window/stage_summary.h"
#include "ledger/ledger.h"
#include "standins/camera.h"

#include <QCheckBox>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTableWidget>

using namespace rapt;
using namespace rapt::app;
using rapt::test::DemoWindow;

/// Each stage's readout, driven through its fields and buttons.
class TestStages : public QObject {
    Q_OBJECT

    static StageSummary summary(DemoWindow& w, Stage stage) {
        return summarise(w.session())[static_cast<std::size_t>(stage)];
    }

private slots:
    void initTestCase() { test::startApplication(); }

    void typedNumbersPlaceAndResizeExactly() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        w.type("Across", "12.5");
        w.type("Down", "-1 1/2 in");
        w.settle();
        // Turned pieces are measured before they are turned; the middle is where it was typed.
        w.type("Width", "84 mm");
        w.settle();
        const Piece* red = w.job().piece("red");
        QCOMPARE(w.find<QLineEdit>("Across")->text(), QString("12.5 mm"));
        QCOMPARE(w.find<QLineEdit>("Down")->text(), QString("-38.1 mm"));
        QCOMPARE(w.find<QLineEdit>("Width")->text(), QString("84.0 mm"));
        VERIFY_NEAR(red->pose.scaleX, red->pose.scaleY, 1e-12);
        w.type("Turn", "30");
        VERIFY_NEAR(w.job().piece("red")->pose.rotationDeg, 30, 1e-9);
    }

    void aFreeWidthLeavesTheHeight() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        w.settle();
        for (auto* box : w.window.findChildren<QCheckBox*>())
            if (box->isVisible())
                QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
        w.type("Width", "40");
        w.settle();
        QCOMPARE(w.job().piece("red")->pose.scaleY, 1.0);
        QVERIFY(w.job().piece("red")->pose.scaleX < 0.7);
    }

    void whatCannotBeReadIsSaidBesideTheFieldAndChangesNothing() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        const Job before = w.job();
        for (const char* text : {"wide", "1/0", "", "-5", "99999"}) {
            w.type("Width", text);
            QVERIFY(w.job() == before);
        }
        auto* edit = qobject_cast<LengthEdit*>(w.find<QLineEdit>("Width")->parentWidget());
        QVERIFY(edit->complaint().contains("allowed"));
        w.type("Width", "50");
        w.settle();
        QVERIFY(edit->complaint().isEmpty());
        QVERIFY(!(w.job() == before));
    }

    void shrinkingAKeptDesignRaisesAFindingAndUndoTakesItBack() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        w.settle();
        auto* keep = [&] {
            for (auto* box : w.window.findChildren<QComboBox*>())
                if (box->isVisible()) return box;
            return static_cast<QComboBox*>(nullptr);
        }();
        keep->setFocus();
        QTest::keyClick(keep, Qt::Key_Down);
        emit keep->activated(1);
        w.type("Width", "34");
        w.settle();
        const auto about = [&] {
            for (const Finding& f : w.session().checked()->findings())
                if (f.severity == Severity::stop && f.pieces == std::vector<std::string>{"red"})
                    return true;
            return false;
        };
        QVERIFY(about());
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        QVERIFY(!about());
    }

    void bringingInADesignAddsAPiece() {
        DemoWindow w;
        test::writeFile(w.dir.filePath("small.stitch.csv"),
                        "# rapt-stitches 1\n# name,Small\nop,x_mm,y_mm,thread\njump,0,0,1\n"
                        "stitch,0,0,1\nstitch,3,0,1\n");
        const std::size_t before = w.job().pieces.size();
        test::answerFileDialog(w.dir.filePath("small.stitch.csv"));
        w.key(Qt::Key_I, Qt::ControlModifier);
        QCOMPARE(w.job().pieces.size(), before + 1);
        QCOMPARE(w.job().pieces.back().name, std::string("Small"));
        QString words;
        test::writeFile(w.dir.filePath("bad.stitch.csv"), "nonsense\n");
        test::answerFileDialog(w.dir.filePath("bad.stitch.csv"), &words);
        w.key(Qt::Key_I, Qt::ControlModifier);
        QVERIFY2(words.contains("line 1"), qPrintable(words));
        QCOMPARE(w.job().pieces.size(), before + 1);
    }

    void theBriefIsEditedInItsFields() {
        DemoWindow w;
        w.key(Qt::Key_1, Qt::ControlModifier);
        w.type("Job name", "Gallery banner");
        QCOMPARE(w.window.windowTitle().remove("[*]"), QString("Gallery banner — Rapt Thimble"));
        w.type("Cloth width", "24 in");
        VERIFY_NEAR(w.job().cloth.widthMm, 609.6, 1e-9);
        auto* fabric = w.find<QComboBox>("Fabric");
        const int sheer = fabric->findData("sheer");
        fabric->setCurrentIndex(sheer);
        emit fabric->activated(sheer);
        w.settle();
        QCOMPARE(w.job().brief.fabric, std::string("sheer"));
        QVERIFY(w.judgement().contains("2.2 layers"));
        QCOMPARE(summary(w, Stage::weigh).state, StageState::attention);
    }

    void ownedHoopsAreTicked() {
        DemoWindow w;
        w.key(Qt::Key_1, Qt::ControlModifier);
        for (auto* list : w.window.findChildren<QListWidget*>()) {
            if (list->accessibleName() != "Hoops owned") continue;
            list->item(0)->setCheckState(Qt::Checked);
        }
        QVERIFY(std::count(w.job().brief.hoops.begin(), w.job().brief.hoops.end(),
                           "field-100x100") == 1);
    }

    void planningSaysHowManyAndWhere() {
        DemoWindow w;
        QCOMPARE(summary(w, Stage::divide).state, StageState::open);
        w.planWith("180 × 130");
        QVERIFY(w.job().hoopings.size() >= 2);
        QVERIFY2(w.judgement().startsWith("Five hoopings"), qPrintable(w.judgement()));
        QCOMPARE(summary(w, Stage::divide).state, StageState::settled);
        // Moving a piece far out of its field makes the plan stale, and says so.
        w.session().document.apply(movePieces({"red"}, {0, 90}));
        w.settle();
        QCOMPARE(summary(w, Stage::divide).state, StageState::attention);
        QVERIFY(w.judgement().contains("no longer suits"));
        w.key(Qt::Key_Z, Qt::ControlModifier);
        w.settle();
        QCOMPARE(summary(w, Stage::divide).state, StageState::settled);
    }

    void aHoopThatIsTooSmallSaysWhy() {
        DemoWindow w;
        w.session().setStage(Stage::divide);
        w.press("mayCut");
        w.press("mayPart");
        w.planWith("70 × 50");
        QVERIFY(w.job().hoopings.empty());
        for (auto* table : w.window.findChildren<QTableWidget*>())
            if (table->accessibleName() == "Frames compared")
                QVERIFY(table->item(table->currentRow(), 0)->toolTip().contains("fits no field"));
    }

    void typedPointsGiveTheCorrection() {
        DemoWindow w;
        w.planWith("300 × 200");
        w.key(Qt::Key_5, Qt::ControlModifier);
        w.press("registerTab1");
        auto* table = w.find<QTableWidget>("marks");
        QVERIFY(table->rowCount() >= 2);
        QVERIFY(w.judgement().contains("not found yet"));
        // The cloth lies 2 mm to the right and 1 mm away from the operator.
        for (int i = 0; i < table->rowCount(); ++i) {
            const QStringList planned = table->item(i, 1)->text().split(", ");
            table->item(i, 2)->setText(QString::number(planned[0].toDouble() + 2));
            table->item(i, 3)->setText(QString::number(planned[1].toDouble() - 1));
        }
        QTRY_VERIFY(w.judgement().contains("Sew it"));
        const auto report = [&] { return fitOf(*w.job().registration(1)); }();
        VERIFY_NEAR(report->fit.translation.x, 2, 0.06);
        VERIFY_NEAR(report->fit.translation.y, -1, 0.06);
        table->item(0, 2)->setText("rubbish");
        QVERIFY(w.judgement().contains("Sew it"));
        table->item(0, 2)->setText("80");
        QTRY_VERIFY(!w.judgement().contains("Sew it"));
    }

    void aScanFileIsReadAndLiesUnderTheDesign() {
        DemoWindow w;
        w.planWith("300 × 200");
        w.session().setHooping(1);
        const auto photo = photograph(w.job(), w.session().library, {2, 77, 6, {}});
        test::writeFile(w.dir.filePath("scan.png"),
                        QByteArray::fromStdString(*encodePng(photo->picture)));
        w.key(Qt::Key_5, Qt::ControlModifier);
        test::answerFileDialog(w.dir.filePath("scan.png"));
        QTest::mouseClick(w.find<QPushButton>("readScan"), Qt::LeftButton);
        w.settle();
        QVERIFY2(!w.job().registration(2), "nothing counts before it was taken");
        w.press("takeProposed");
        const Registration* r = w.job().registration(2);
        QVERIFY(r);
        const auto report = fitOf(*r);
        VERIFY_NEAR(report->fit.rotationDeg, photo->cloth.rotationDeg, 0.3);
        VERIFY_NEAR(report->fit.translation.x, photo->cloth.x, 0.5);
        QTRY_VERIFY(w.session().scan() != nullptr);
        QTRY_VERIFY(w.judgement().contains("Sew it"));
        // A picture of something else is refused in words and changes nothing.
        const Job before = w.job();
        QImage(400, 300, QImage::Format_RGB32).save(w.dir.filePath("other.png"));
        QString words;
        test::answerFileDialog(w.dir.filePath("other.png"), &words);
        QTest::mouseClick(w.find<QPushButton>("readScan"), Qt::LeftButton);
        QTRY_VERIFY2(words.contains("frame tags"), qPrintable(words));
        QVERIFY(w.job() == before);
    }

    void theStandInPictureIsReadInTheSameWay() {
        DemoWindow w;
        w.planWith("300 × 200");
        w.key(Qt::Key_P, Qt::ControlModifier);
        QTRY_VERIFY(w.session().registering.proposed());
        w.settle();
        w.press("takeProposed");
        QTRY_VERIFY(w.judgement().contains("Sew it"));
        QVERIFY(w.job().members.contains("scans/hooping-01.png"));
    }

    void exportAndTemplateWriteFiles() {
        DemoWindow w;
        w.planWith("180 × 130");
        w.key(Qt::Key_6, Qt::ControlModifier);
        QVERIFY(!w.judgement().contains("stop is open"));
        w.session().document.apply(movePieces({"red"}, {3, 400}));
        w.settle();
        QVERIFY(w.judgement().contains("stop is open"));
        w.session().document.undo();
        w.settle();
        QDir(w.dir.path()).mkdir("out");
        test::answerFileDialog(w.dir.filePath("out"));
        QTest::mouseClick(w.find<QPushButton>("export"), Qt::LeftButton);
        QCOMPARE(QDir(w.dir.filePath("out")).entryList(QDir::Files).size(),
                 static_cast<qsizetype>(w.job().hoopings.size()));
        w.press("stitchOutTab0");
        test::answerFileDialog(w.dir.filePath("t.pdf"));
        QTest::mouseClick(w.find<QPushButton>("template"), Qt::LeftButton);
        QVERIFY(test::readFile(w.dir.filePath("t.pdf")).startsWith("%PDF"));
        QVERIFY(w.find<QLabel>("done")->text().contains("t.pdf"));
    }

    void picturesOfTheWorkAreWrittenWhateverIsDoneMeanwhile() {
        DemoWindow w;
        w.settle();
        for (const auto& [words, file, begins] :
             {std::tuple{"Thread, at true scale", "t.png", "\x89PNG"},
              {"Thread as lines", "t.svg", "<svg"},
              {"Shapes", "s.svg", "<svg"},
              {"Film of the sewing", "f.apng", "\x89PNG"}}) {
            QAction* action = nullptr;
            for (QAction* a : w.window.findChildren<QAction*>())
                if (a->text().remove('&').startsWith(words)) action = a;
            QVERIFY2(action, words);
            test::answerFileDialog(w.dir.filePath(file));
            action->trigger();
            w.session().document.apply(movePieces({"red"}, {1, 0})); // goes on meanwhile
            QTRY_VERIFY2_WITH_TIMEOUT(test::readFile(w.dir.filePath(file)).startsWith(begins), file,
                                      30'000);
        }
        QVERIFY(test::readFile(w.dir.filePath("t.svg")).contains("stroke-width"));
        QVERIFY(test::readFile(w.dir.filePath("f.apng")).contains("acTL"));
    }

    void theEstimateFollowsWhatIsTyped() {
        QFile::remove(QString::fromStdString(userDataFolder()) + "/shop.json");
        DemoWindow w;
        w.planWith("300 × 200");
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.press("ledgerTab3");
        w.settle();
        const auto total = [&](int column) {
            auto* table = w.find<RowsTable>("costParts");
            double sum = 0;
            for (int i = 0; i + 1 < table->rowCount(); ++i)
                sum += table->text(i, column).toDouble();
            const double shown = table->text(8, column).toDouble();
            if (std::abs(sum - shown) > 0.05) qFatal("the parts do not add up");
            return shown;
        };
        const double one = total(1);
        QVERIFY(one > 5);
        const auto type = [&](const char* name, const QString& text) {
            QLineEdit* field = nullptr;
            for (auto* edit : w.window.findChildren<QLineEdit*>())
                if (edit->accessibleName() == name && edit->isVisible()) field = edit;
            QVERIFY(field);
            field->setFocus();
            field->selectAll();
            QTest::keyClicks(field, text);
            QTest::keyClick(field, Qt::Key_Return);
            w.settle();
        };
        auto* takes = w.find<RowsTable>("takes");
        QVERIFY(takes->rowCount() > 12);
        QCOMPARE(takes->text(0, 0), QString("Sewing"));
        QVERIFY(takes->text(7, 1).endsWith(" m"));
        type("Blank", "10");
        QCOMPARE(w.job().brief.blankCost, 10.0);
        QVERIFY(total(1) > one + 10);
        type("Quantity", "12");
        QVERIFY(total(2) > 10 * total(1));
        type("Price each", "60");
        QVERIFY(w.find<QLabel>("estimateWords")->text().contains("price 720.00"));
        type("Price each", "-5");
        QCOMPARE(w.job().brief.price, 60.0);
        w.session().document.undo();
        w.settle();
        QCOMPARE(w.job().brief.price, 0.0);
        // The shop's own rates, kept for the next job.
        w.press("ledgerTab4");
        w.type("marginRate", "50");
        w.type("currency", "CHF");
        w.press("ledgerTab3");
        w.settle();
        const QString words = w.find<QLabel>("estimateWords")->text();
        QVERIFY(words.contains("CHF") && words.contains("margin 50 %") && words.contains("own"));
        DemoWindow again;
        again.key(Qt::Key_7, Qt::ControlModifier);
        again.press("ledgerTab4");
        QCOMPARE(again.find<QLineEdit>("currency")->text(), QString("CHF"));
        QFile::remove(QString::fromStdString(userDataFolder()) + "/shop.json");
    }
};

RAPT_TEST(TestStages)
#include "test_stages.moc"
