#include "window_support.h"

#include "app/window/stage_summary.h"
#include "app/window/work_order.h"

#include <QDropEvent>
#include <QMenu>
#include <QMenuBar>
#include <QMimeData>

using namespace rapt;
using namespace rapt::app;
using rapt::test::DemoWindow;

/// The window as a whole: files, menus, stages, themes, recovery.
class TestWindow : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { test::startApplication(); }
    void init() { QDir(Recovery::folder()).removeRecursively(); }

    void theTitleNamesTheJob() {
        DemoWindow w;
        QCOMPARE(w.window.windowTitle().remove("[*]"),
                 QString("Reading-room banner — Rapt Thimble"));
        QVERIFY(!w.window.isWindowModified());
        w.session().document.apply(movePieces({"red"}, {1, 0}));
        QVERIFY(w.window.isWindowModified());
    }

    void controlAndADigitOpenTheSevenStages() {
        DemoWindow w;
        for (int k = 0; k < stageCount; ++k) {
            w.key(static_cast<Qt::Key>(Qt::Key_1 + k), Qt::ControlModifier);
            QCOMPARE(static_cast<int>(w.session().stage()), k);
            QVERIFY2(!w.judgement().isEmpty(), qPrintable(stageName(static_cast<Stage>(k))));
        }
        auto* button = w.window.findChild<StageButton*>("stage-Weigh");
        QTest::mouseClick(button, Qt::LeftButton);
        QCOMPARE(w.session().stage(), Stage::weigh);
    }

    void theWorkOrderIsComputedFromTheJob() {
        DemoWindow w;
        const auto lines = summarise(w.session());
        QCOMPARE(lines[0].line, QString("Canvas, 3 hoops"));
        QVERIFY(lines[1].line.startsWith("6 pieces, "));
        QCOMPARE(lines[2].state, StageState::settled); // an honest banner
        w.session().document.apply(deletePieces({"green", "green-tail"}));
        w.settle();
        QVERIFY(summarise(w.session())[1].line.startsWith("4 pieces, "));
        QVERIFY(summarise(w.session())[2].state == StageState::settled);
    }

    void savedAndOpenedAgainItIsTheSameJob() {
        DemoWindow w;
        w.session().document.apply(movePieces({"red"}, {1.25, -3.5}));
        test::answerFileDialog(w.dir.filePath("mine"));
        w.key(Qt::Key_S, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(!w.window.isWindowModified());
        const QString saved = w.session().document.path();
        QVERIFY(saved.endsWith(".rapt"));
        const auto back = readJobFile(saved.toStdString());
        QVERIFY(bool(back));
        QCOMPARE(*packJob(*back), *packJob(w.job()));
        MainWindow other(test::library());
        QVERIFY(other.openFile(saved));
        QVERIFY(other.session().job().piece("red")->pose == w.job().piece("red")->pose);
        QCOMPARE(QSettings().value("recent").toStringList().first(), saved);
    }

    void controlSSavesOverTheOpenFile() {
        DemoWindow w;
        w.session().document.apply(setJobName("Renamed"));
        w.key(Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(readJobFile(w.banner().toStdString())->name, std::string("Renamed"));
    }

    void anUnchangedJobClosesWithoutAQuestion() {
        DemoWindow w;
        QVERIFY(w.window.close());
    }

    void aChangedJobAsksBeforeItCloses() {
        DemoWindow w;
        w.session().document.apply(movePieces({"red"}, {1, 0}));
        test::answerMessage(QMessageBox::Cancel);
        QVERIFY(!w.window.close());
        test::answerMessage(QMessageBox::Save);
        QVERIFY(w.window.close());
        QCOMPARE(readJobFile(w.banner().toStdString())->piece("red")->pose.x,
                 w.job().piece("red")->pose.x);
    }

    void aFileThatCannotBeOpenedIsSaidAndTheJobStays() {
        DemoWindow w;
        const Job before = w.job();
        for (const QByteArray& bytes :
             {QByteArray("PK\x03\x04 broken"), QByteArray("nonsense"), QByteArray()}) {
            test::writeFile(w.dir.filePath("bad.rapt"), bytes);
            QString words;
            test::answerMessage(QMessageBox::Ok, &words);
            QVERIFY(!w.window.openFile(w.dir.filePath("bad.rapt")));
            QVERIFY2(words.contains("bad.rapt"), qPrintable(words));
            QVERIFY(w.job() == before);
        }
        test::answerMessage(QMessageBox::Ok);
        QVERIFY(!w.window.openFile(w.dir.path()));
    }

    void aDroppedStitchListBecomesAPiece() {
        DemoWindow w;
        const QString path = QString::fromStdString(dataFolder()) +
                             "/demo/reading-room-banner/designs/box-kite.stitch.csv";
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(path)});
        QDragEnterEvent enter(QPoint(500, 300), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w.window, &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(500, 300), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(&w.window, &drop);
        QCOMPARE(w.job().pieces.size(), std::size_t{7});
        w.settle();
        QVERIFY(w.session().checked()->stitched().spans.size() == 7);
    }

    void undoTellsWhatItUndoes() {
        DemoWindow w;
        w.session().document.apply(movePieces({"red"}, {1, 0}));
        bool told = false;
        for (const QAction* action : w.window.findChildren<QAction*>())
            told = told || action->text() == "&Undo Move";
        QVERIFY(told);
    }

    void everyMenuEntryHasWordsAndTheUsualOnesAShortcut() {
        DemoWindow w;
        QStringList seen;
        int withShortcut = 0, all = 0;
        for (const QAction* menu : w.window.menuBar()->actions())
            for (const QAction* action : menu->menu()->actions()) {
                if (action->isSeparator() || action->menu()) continue;
                ++all;
                QVERIFY(!action->text().isEmpty());
                const QString keys = action->shortcut().toString();
                if (keys.isEmpty()) continue;
                QVERIFY2(!seen.contains(keys), qPrintable(keys));
                seen << keys;
                ++withShortcut;
            }
        QVERIFY(withShortcut >= all - 2);
    }

    void anyCommandIsFoundByAFewLetters() {
        DemoWindow w;
        w.key(Qt::Key_2, Qt::ControlModifier);
        w.session().selection.choose({"red"});
        QVERIFY(!w.job().piece("red")->pose.mirror);
        test::whenDialogOpens([](QDialog* dialog) {
            auto* words = dialog->findChild<QLineEdit*>("commandWords");
            QVERIFY(words);
            QTest::keyClicks(words, "left mirr");
            QTest::keyClick(words, Qt::Key_Return);
        });
        w.key(Qt::Key_F3);
        QVERIFY(w.job().piece("red")->pose.mirror);
    }

    void inchesAndDarkAreRemembered() {
        {
            DemoWindow w;
            w.key(Qt::Key_U, Qt::ControlModifier);
            w.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
            QCOMPARE(w.session().unit(), LengthUnit::inch);
            QVERIFY(theme().dark);
            w.key(Qt::Key_2, Qt::ControlModifier);
            w.session().selection.choose({"red"});
            QVERIFY(w.find<QLineEdit>("Width")->text().endsWith("in"));
            w.window.close();
        }
        DemoWindow again;
        QCOMPARE(again.session().unit(), LengthUnit::inch);
        QVERIFY(theme().dark);
        QSettings().clear();
        applyTheme(Theme::light());
    }

    void textStandsOutFromItsGround() {
        // WCAG 2: relative luminance and contrast ratio.
        const auto luminance = [](const QColor& c) {
            const auto part = [](double v) {
                return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
            };
            return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
        };
        const auto contrast = [&](const QColor& a, const QColor& b) {
            const double x = luminance(a), y = luminance(b);
            return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
        };
        for (const Theme& t : {Theme::light(), Theme::darkOne()})
            for (const QColor& ground : {t.panel, t.paper, t.tideSoft})
                for (const QColor& ink : {t.ink, t.ink2, t.tide, t.stop, t.caution, t.note})
                    QVERIFY2(contrast(ink, ground) >= 4.5,
                             qPrintable(ink.name() + " on " + ground.name() + ": " +
                                        QString::number(contrast(ink, ground))));
    }

    void workLeftBehindIsOfferedAndTakenUp() {
        {
            DemoWindow w;
            w.session().document.apply(movePieces({"red"}, {9, 0}));
            w.session().recovery.writeNow();
            w.session().recovery.finish();
            // As after a kill: the copy stays and its lock is nobody's.
            const QString folder = Recovery::folder();
            for (const QString& name : QDir(folder).entryList({"*.rapt", "*.path"}, QDir::Files))
                QFile::copy(folder + "/" + name, folder + "/left-" + name);
        }
        DemoWindow w;
        const double before = w.job().piece("red")->pose.x;
        test::whenDialogOpens([](QDialog* dialog) {
            auto* box = qobject_cast<QMessageBox*>(dialog);
            for (QAbstractButton* b : box->buttons())
                if (b->text() == "Take it up") QTest::mouseClick(b, Qt::LeftButton);
        });
        w.window.offerRecovery();
        VERIFY_NEAR(w.job().piece("red")->pose.x, before + 9, 1e-9);
        QVERIFY(w.window.isWindowModified());
    }

    void nothingIsCutOffAtTheSmallestSize() {
        DemoWindow w;
        w.window.resize(w.window.minimumSize());
        for (int k = 0; k < stageCount; ++k) {
            w.session().setStage(static_cast<Stage>(k));
            QApplication::processEvents();
            for (const QPushButton* button : w.window.findChildren<QPushButton*>()) {
                if (!button->isVisible()) continue;
                QVERIFY2(button->width() >= button->fontMetrics().horizontalAdvance(button->text()),
                         qPrintable(button->text()));
            }
        }
    }
};

RAPT_TEST(TestWindow)
#include "test_window.moc"
