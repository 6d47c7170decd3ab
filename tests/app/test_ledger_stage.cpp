#include "compose_support.h"

#include "app/kit/rows_table.h"
#include "app/ledger/charts_page.h"
#include "app/ledger/ledger_stage.h"
#include "app/ledger/lessons_page.h"
#include "app/ledger/outcome_dialog.h"
#include "app/ledger/record_model.h"
#include "app/window/stage_summary.h"
#include "formats/run_journal.h"
#include "job/edit_lettering.h"
#include "record/record_csv.h"
#include "standins/year_of_records.h"

#include <QHeaderView>
#include <QListView>
#include <QTableView>

using namespace rapt;
using namespace rapt::app;
using test::DemoWindow;

namespace {

/// The demo job with a ledger of its own.
struct LedgerWindow : DemoWindow {
    QTableView* list = find<QTableView>("recordList");

    LedgerWindow() { settle(); }
    LedgerStage& stage() { return window.ledgerStage(); }
    RecordModel& model() { return *static_cast<RecordModel*>(list->model()); }

    /// Types a search and waits for its answer.
    void search(const QString& words) {
        auto* field = find<QLineEdit>("recordSearch");
        field->setFocus();
        field->selectAll();
        QTest::keyClick(field, Qt::Key_Delete);
        QTest::keyClicks(field, words);
        QTRY_COMPARE(model().query().text, words);
        settle();
    }
    void choose(int row) {
        list->setCurrentIndex(model().index(row, 0));
        settle();
    }
    QString details() { return find<QLabel>("recordDetails")->text(); }
    /// Puts the made-up year into the ledger.
    void fillYear() {
        session().ledger.ask(
            &window,
            [library = session().library](SharedLedger& l) {
                return l.with([&](Ledger& r) {
                    return r.add(standins::yearOfRecords("2026-11-27", 320, 2026, library));
                });
            },
            [this](const Result<std::vector<qint64>>&) { session().ledger.changedSomething(); });
        settle();
    }
};

/// Answers the next dialog, as by keys alone.
void answer(const std::function<void(QDialog*)>& keys) {
    test::whenDialogOpens([keys](QDialog* dialog) {
        keys(dialog);
        // A failed check leaves it open.
        if (dialog->isVisible()) dialog->reject();
    });
}

void type(QDialog* dialog, const char* field, const QString& text) {
    auto* edit = dialog->findChild<QLineEdit*>(field);
    QVERIFY(edit);
    edit->selectAll();
    QTest::keyClicks(edit, text);
}

} // namespace

/// Ledger as a person uses it.
class TestLedgerStage : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    int number = 0;

private slots:
    void initTestCase() { test::startApplication(); }
    void init() {
        qputenv("RAPT_LEDGER",
                "sqlite:" + dir.filePath(QString("l%1.sqlite").arg(++number)).toUtf8());
        QFile::remove(QString::fromStdString(userDataFolder()) + "/learnt.json");
        QDir home(QString::fromStdString(userDataFolder()));
        QDir(home.filePath("runs")).removeRecursively();
        for (const QString& name : home.entryList({"ledger-unsent-*"})) home.remove(name);
    }

    void aRunIsKeptByKeysAndFoundByAWord() {
        LedgerWindow w;
        w.planWith("300 × 200");
        // Both hoopings were sewn; the thread broke once.
        const auto* handing = w.session().handing();
        QTRY_VERIFY((handing = w.session().handing()) && *handing);
        const std::string runs = userDataFolder() + "/runs";
        for (const auto& task : (**handing)->tasks) {
            RunRecord record;
            record.mark = task->mark;
            record.job = task->job;
            record.hooping = task->hooping;
            record.of = task->points->count();
            auto journal = RunJournal::open(runs, record);
            QVERIFY(journal);
            journal->began(0);
            if (task->hooping == 1) journal->stopped({300, 2500, StopKind::threadBreak});
            if (task->hooping == 1) journal->began(2497);
            journal->finished(record.of, 900);
        }
        w.key(Qt::Key_7, Qt::ControlModifier);
        QVERIFY(w.judgement().contains("no record"));
        answer([](QDialog* d) {
            auto* spot = d->findChild<SpotPicker*>();
            QTest::qWait(1500);
            QTest::keyClick(d, Qt::Key_M);
            auto* cause = d->findChild<QComboBox*>("cause");
            QVERIFY(cause->isEnabled() && cause->hasFocus());
            QTest::keyClicks(cause, "the thread");
            type(d, "outcomeNote", "Green tail frayed");
            type(d, "outcomeGaps", "0,3 0.45 x");
            QVERIFY(!d->findChild<QPushButton*>("keepOutcome")->isEnabled());
            type(d, "outcomeGaps", "0,3 0.45");
            type(d, "outcomeMinutes", "42");
            QTest::mouseClick(spot, Qt::LeftButton, {}, spot->rect().center() + QPoint(40, 10));
            QTest::keyClick(d->findChild<QLineEdit*>("outcomeMinutes"), Qt::Key_Return);
        });
        w.key(Qt::Key_J, Qt::ControlModifier);
        w.settle();
        QVERIFY2(w.judgement().contains("mended"), qPrintable(w.judgement()));
        QCOMPARE(summarise(w.session())[6].state, StageState::settled);
        w.search("frayed");
        QCOMPARE(w.model().rowCount(), 1);
        w.choose(0);
        QVERIFY2(w.details().contains("the thread broke") && w.details().contains("0.3, 0.45"),
                 qPrintable(w.details()));
        Ledger ledger;
        QVERIFY(ledger.open(*ledgerPlace()));
        const StitchOut r = ledger.find({}, 1)->front();
        QCOMPARE(r.events.size(), 1u);
        QCOMPARE(r.events[0].kind, std::string("thread-break"));
        QVERIFY(r.events[0].layers > 0.5);
        QVERIFY(r.secondsTaken && *r.secondsTaken > 1800);
        QCOMPARE(r.labourMinutes, std::optional(42.0));
        QVERIFY(r.spotX && *r.spotX > 10 && r.spotY && *r.spotY > 1);
        QVERIFY(r.peakLayers && r.threads.size() == 7 && r.hoopings == 2.0);
        QVERIFY2(!*readRunJournal(runs, (**handing)->tasks[0]->mark), "the next run begins afresh");
        w.search("nothing like it");
        QCOMPARE(w.model().rowCount(), 0);
    }

    void anEarlierJobIsOpenedAndRepeatedWithAnotherName() {
        LedgerWindow w;
        QVERIFY(w.window.openFile(test::demoJobs() + "/library-title.rapt"));
        w.settle();
        const Job before = w.job();
        answer([](QDialog* d) {
            QTest::keyClick(d, Qt::Key_G);
            QTest::keyClick(d->findChild<QLineEdit*>("outcomeNote"), Qt::Key_Return);
        });
        w.key(Qt::Key_J, Qt::ControlModifier);
        w.settle();
        w.session().document.reset(Job{}, {});
        w.choose(0);
        w.press("openRecord");
        w.settle();
        QVERIFY2(*packJob(w.job()) == *packJob(before), "as it was");
        QVERIFY(w.session().document.isChanged() && w.session().document.path().isEmpty());

        test::whenDialogOpens([](QDialog* d) {
            auto* edit = d->findChild<QLineEdit*>();
            edit->selectAll();
            QTest::keyClicks(edit, "Curlew");
            QTest::keyClick(edit, Qt::Key_Return);
            test::answerMessage(QMessageBox::Discard);
        });
        w.press("againRecord");
        w.settle();
        const auto words = letteringRecords(w.job());
        QVERIFY(std::any_of(words.begin(), words.end(),
                            [](const LetteringRecord& r) { return r.text == "Curlew"; }));
        QVERIFY(QString::fromStdString(w.job().name).endsWith("Curlew"));
        w.session().document.reset(Job{}, {});
    }

    void recordsAreSortedAndComparedSideBySide() {
        LedgerWindow w;
        w.fillYear();
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.settle();
        const auto widths = [&] {
            std::vector<double> list;
            for (int i = 0; i < w.model().rowCount(); ++i)
                list.push_back(w.model().at(i).widthMm.value_or(-1));
            return list;
        };
        QHeaderView* heads = w.list->horizontalHeader();
        const int size = static_cast<int>(RecordColumn::size);
        const auto clickHead = [&] {
            QTest::mouseClick(heads->viewport(), Qt::LeftButton, {},
                              QPoint(heads->sectionViewportPosition(size) + 20, 8));
            w.settle();
        };
        clickHead();
        QTRY_VERIFY((w.list->scrollToBottom(), w.model().rowCount() > 200));
        auto list = widths();
        QVERIFY(std::is_sorted(list.begin(), list.end()));
        std::set<std::string> uids; // pages do not repeat records
        for (int i = 0; i < w.model().rowCount(); ++i) uids.insert(w.model().at(i).uid);
        QCOMPARE(uids.size(), static_cast<std::size_t>(w.model().rowCount()));
        clickHead();
        list = widths();
        QVERIFY(std::is_sorted(list.rbegin(), list.rend()));
        // Two are looked at side by side; what is of one record waits until one is meant.
        w.choose(0);
        QVERIFY(w.find<QPushButton>("changeRecord")->isEnabled());
        w.list->selectionModel()->select(w.model().index(3, 0),
                                         QItemSelectionModel::Select | QItemSelectionModel::Rows);
        w.settle();
        const auto panes = w.window.findChildren<QLabel*>("recordDetails");
        QCOMPARE(panes.size(), 2);
        QVERIFY(panes[1]->isVisible() && !panes[1]->text().isEmpty());
        QVERIFY(!w.find<QPushButton>("changeRecord")->isEnabled());
        // The gallery shows the same choice.
        w.press("recordPictures");
        QVERIFY(w.find<QListView>("recordGallery")->isVisible());
        QCOMPARE(w.find<QListView>("recordGallery")->selectionModel()->selectedRows().size(), 2);
    }

    void aRecordIsChangedAndRemoved() {
        LedgerWindow w;
        w.fillYear();
        w.key(Qt::Key_7, Qt::ControlModifier);
        QCOMPARE(w.model().total(), 320);
        QVERIFY(w.model().rowCount() < 320);
        QTRY_VERIFY((w.list->scrollToBottom(), w.model().rowCount() > 200));
        w.find<QComboBox>("recordOutcome")->setCurrentText("spoilt");
        emit w.find<QComboBox>("recordOutcome")->activated(3);
        w.settle();
        const qint64 spoilt = w.model().total();
        QVERIFY(spoilt > 3 && spoilt < 100);
        // What they took in all.
        double metres = 0;
        for (const StitchOut& r :
             standins::yearOfRecords("2026-11-27", 320, 2026, w.session().library))
            if (r.outcome == "spoilt")
                for (const ThreadUsed& t : r.threads) metres += t.lengthM;
        const QString words = w.find<QLabel>("recordCount")->text();
        QVERIFY2(words.contains(QString("0 good, 0 mended, %1 spoilt").arg(spoilt)),
                 qPrintable(words));
        QVERIFY2(words.contains(QString(", %L1 m,").arg(metres, 0, 'f', 0)), qPrintable(words));
        w.choose(0);
        answer([](QDialog* d) {
            QTest::keyClick(d, Qt::Key_M);
            type(d, "outcomeNote", "Unpicked and saved");
            QTest::keyClick(d->findChild<QLineEdit*>("outcomeNote"), Qt::Key_Return);
        });
        w.press("changeRecord");
        w.settle();
        QCOMPARE(w.model().total(), spoilt - 1);
        w.search("unpicked");
        QCOMPARE(w.model().total(), 0);
        w.find<QComboBox>("recordOutcome")->setCurrentIndex(0);
        emit w.find<QComboBox>("recordOutcome")->activated(0);
        w.settle();
        QCOMPARE(w.model().total(), 1);
        w.choose(0);
        test::answerMessage(QMessageBox::Cancel);
        w.press("removeRecord");
        w.settle();
        QCOMPARE(w.model().total(), 1);
        test::whenDialogOpens([](QDialog* d) {
            for (QAbstractButton* b : d->findChildren<QAbstractButton*>())
                if (b->text() == "Remove") b->click();
        });
        w.press("removeRecord");
        w.settle();
        QCOMPARE(w.model().total(), 0);
    }

    void aLearntLimitIsAcceptedAndWeighJudgesByIt() {
        LedgerWindow w;
        w.fillYear();
        const auto overloads = [&] {
            w.settle();
            int n = 0;
            for (const Finding& f : w.session().checked()->findings()) n += f.kind == "layers";
            return n;
        };
        QCOMPARE(overloads(), 0);
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.press("ledgerTab1");
        w.settle();
        QVERIFY2(w.find<QLabel>("lessonWords")->text().contains("proposals"),
                 qPrintable(w.find<QLabel>("lessonWords")->text()));
        const double house = w.session().library.fabric("canvas")->maxLayers;
        w.press("accept-layers-canvas");
        w.settle();
        const double learnt = w.session().library.fabric("canvas")->maxLayers;
        QVERIFY2(learnt < 0.9 * house, qPrintable(QString::number(learnt)));
        QVERIFY2(overloads() > 0, "what lay under the house limit lies over the learnt one");
        w.key(Qt::Key_3, Qt::ControlModifier);
        w.settle();
        // It stays so in a new window, and can be undone.
        {
            test::AppWindow other;
            const auto kept = loadLibrary(dataFolder(), userDataFolder());
            QCOMPARE(kept->fabric("canvas")->maxLayers, learnt);
        }
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.settle();
        w.press("undo-layers-canvas");
        w.settle();
        QCOMPARE(w.session().library.fabric("canvas")->maxLayers, house);
        QCOMPARE(overloads(), 0);
        // A refusal is remembered and changes nothing.
        w.press("refuse-layers-canvas");
        w.settle();
        QCOMPARE(w.session().library.fabric("canvas")->maxLayers, house);
        QVERIFY(!w.window.findChild<QPushButton*>("accept-layers-canvas"));
        QVERIFY(w.window.findChild<QPushButton*>("undo-layers-canvas"));
    }

    void chartsShowTheirNumbersAndAreSaved() {
        LedgerWindow w;
        w.fillYear();
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.press("ledgerTab2");
        w.settle();
        auto* table = w.find<RowsTable>("chartTable");
        auto* kind = w.find<QComboBox>("chartKind");
        for (int k = 0; k < kind->count(); ++k) {
            kind->setCurrentIndex(k);
            emit kind->activated(k);
            QVERIFY2(table->rowCount() > 1, qPrintable(kind->currentText()));
            QVERIFY(table->text(0, 1).toDouble() >= 0);
        }
        for (const char* name : {"c.png", "c.svg", "c.csv"}) {
            test::answerFileDialog(w.dir.filePath(name));
            w.press("saveChart");
        }
        QVERIFY(QImage(w.dir.filePath("c.png")).width() > 500);
        QVERIFY(test::readFile(w.dir.filePath("c.svg")).contains("<svg"));
        QVERIFY(test::readFile(w.dir.filePath("c.csv")).startsWith("Cause,Stitch-outs"));
    }

    void aQuoteTellsNothingOfTheShop() {
        LedgerWindow w;
        w.planWith("300 × 200");
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.press("ledgerTab3");
        w.settle();
        test::answerFileDialog(w.dir.filePath("quote.pdf"));
        w.press("saveQuote");
        QProcess text;
        text.start("pdftotext", {"-layout", w.dir.filePath("quote.pdf"), "-"});
        QVERIFY(text.waitForFinished());
        const QString words = text.readAllStandardOutput();
        QVERIFY2(words.contains("Quote: Reading-room banner") && words.contains("Marigold") &&
                     words.contains("EUR"),
                 qPrintable(words));
        const auto shown = w.window.findChild<QLabel*>("estimateWords")->text();
        QVERIFY(shown.contains(words.section("Together, EUR", 1).simplified().section(' ', 1, 1)));
        for (const char* inner : {"margin", "labour", "Margin", "Labour", "cost", "Overhead"})
            QVERIFY2(!words.contains(inner), inner);
    }

    void whatWouldSaveIsDoneAndUndone() {
        LedgerWindow w;
        w.planWith("300 × 200");
        w.key(Qt::Key_7, Qt::ControlModifier);
        w.press("ledgerTab3");
        w.settle();
        auto* savings = w.find<RowsTable>("savings");
        w.press("lookForSavings");
        QTRY_VERIFY(savings->rowCount() > 0);
        const QString words = w.find<QLabel>("savingWords")->text();
        QVERIFY2(words.contains("EUR less") && words.contains(" min"), qPrintable(words));
        const auto total = [&] {
            w.settle();
            return w.find<RowsTable>("costParts")->text(8, 1).toDouble();
        };
        const double before = total(), less = savings->text(0, 2).toDouble();
        QVERIFY(less < 0);
        w.press("useSaving");
        VERIFY_NEAR(total(), before + less, 0.02);
        w.session().document.undo();
        VERIFY_NEAR(total(), before, 1e-9);
    }

    void backupPruningAndRestoring() {
        LedgerWindow w;
        w.fillYear();
        answer([](QDialog* d) {
            QTest::keyClick(d, Qt::Key_G);
            QTest::keyClick(d->findChild<QLineEdit*>("outcomeNote"), Qt::Key_Return);
        });
        w.key(Qt::Key_J, Qt::ControlModifier);
        w.settle();
        QCOMPARE(w.model().total(), 321);
        const QString backup = w.dir.filePath("backup.sqlite");
        const auto press = [](QDialog* d, const char* name) {
            d->findChild<QPushButton*>(name)->click();
        };
        answer([&](QDialog* d) {
            auto* done = d->findChild<QLabel*>("keepingDone");
            test::answerFileDialog(backup);
            press(d, "backUp");
            QTRY_VERIFY2(done->text().startsWith("321 records in"), qPrintable(done->text()));
            d->findChild<QSpinBox*>("pruneMonths")->setValue(0);
            d->findChild<QCheckBox*>("pruneRecords")->setChecked(true);
            QVERIFY(!d->findChild<QPushButton*>("prune")->isEnabled());
            press(d, "prunePreview");
            auto* what = d->findChild<QLabel*>("pruneWhat");
            QTRY_VERIFY2(what->text().contains("records from 2025-"), qPrintable(what->text()));
            test::whenDialogOpens([](QDialog* sure) {
                for (QAbstractButton* b : sure->findChildren<QAbstractButton*>())
                    if (b->text() == "Clear out") b->click();
            });
            press(d, "prune");
            QTRY_VERIFY2(done->text().contains("cleared out"), qPrintable(done->text()));
        });
        w.press("keeping");
        w.settle();
        const qint64 left = w.model().total();
        QVERIFY2(left > 20 && left < 200, "what made trouble stays");
        answer([&](QDialog* d) {
            test::answerFileDialog(backup);
            press(d, "restore");
            auto* done = d->findChild<QLabel*>("keepingDone");
            QTRY_VERIFY2(done->text().contains("came back"), qPrintable(done->text()));
        });
        w.press("keeping");
        w.settle();
        QCOMPARE(w.model().total(), 321);
    }

    void lastTimeStandsBesideTheBrief() {
        LedgerWindow w;
        w.fillYear();
        w.key(Qt::Key_1, Qt::ControlModifier);
        w.settle();
        QLabel* last = nullptr;
        for (QLabel* l : w.window.findChildren<QLabel*>("lastTime"))
            if (l->isVisible()) last = l;
        QVERIFY(last);
        QVERIFY2(last->text().contains("Last time on this cloth") && last->text().contains(" of "),
                 qPrintable(last->text()));
        Brief brief = w.job().brief;
        brief.fabric = "terry";
        w.session().document.apply(setBrief(brief, "Another cloth"));
        w.settle();
        QVERIFY(!last->isVisible());
    }

    void aServerThatIsAwayIsSaidAndTheRecordWaits() {
        qputenv("RAPT_LEDGER", "postgresql://bench@127.0.0.1:1/kites");
        LedgerWindow w;
        answer([](QDialog* d) {
            QTest::keyClick(d, Qt::Key_G);
            QTest::keyClick(d->findChild<QLineEdit*>("outcomeNote"), Qt::Key_Return);
        });
        w.key(Qt::Key_J, Qt::ControlModifier);
        w.settle();
        QTRY_VERIFY(w.session().ledger.unsent() == 1);
        QVERIFY(w.session().ledger.notice().contains("sent when it does"));
    }
};

RAPT_TEST(TestLedgerStage)
#include "test_ledger_stage.moc"
