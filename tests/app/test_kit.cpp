#include "window_support.h"

#include "app/canvas/labels.h"
#include "app/kit/rows_table.h"
#include "app/window/keys_dialog.h"

#include <QAbstractItemModelTester>
#include <QKeySequenceEdit>
#include <random>

using namespace rapt::app;
using rapt::test::AppWindow;

/// Parts that all stages are made of: tables that keep their place, labels that give way, the
/// middle.
class TestKit : public QObject {
    Q_OBJECT

private slots:
    void initTestCase() { rapt::test::startApplication(); }

    void rowsKeepWhatIsChosenWhateverComesAndGoes() {
        std::mt19937 dice(4);
        RowsTable table({"Name", "Number"}, "t");
        auto* model = qobject_cast<RowsModel*>(table.model());
        const QAbstractItemModelTester tester(
            model, QAbstractItemModelTester::FailureReportingMode::QtTest);
        int resets = 0;
        connect(model, &QAbstractItemModel::modelReset, [&] { ++resets; });
        std::vector<TableRow> rows;
        for (int i = 0; i < 20; ++i) rows.push_back({QString("k%1").arg(i), {"", ""}});
        table.setRows(rows);
        for (int round = 0; round < 300; ++round) {
            table.selectRow(static_cast<int>(dice() % rows.size()));
            const QString chosen = table.row(table.currentRow()).key;
            std::shuffle(rows.begin(), rows.end(), dice);
            std::erase_if(rows,
                          [&](const TableRow& r) { return r.key != chosen && dice() % 4 == 0; });
            while (rows.size() < 20)
                rows.insert(rows.begin() + static_cast<long>(dice() % rows.size()),
                            {QString("n%1").arg(dice()), {"x", QString::number(round)}});
            for (TableRow& r : rows)
                if (dice() % 3 == 0) r.cells[1] = QString::number(round);
            table.setRows(rows);
            QCOMPARE(table.rowCount(), 20);
            for (int i = 0; i < 20; ++i) QVERIFY(table.row(i) == rows[static_cast<std::size_t>(i)]);
            QCOMPARE(table.row(table.currentRow()).key, chosen);
        }
        QCOMPARE(resets, 0);
        // The same again tells nobody of anything.
        QSignalSpy changed(model, &QAbstractItemModel::dataChanged);
        table.setRows(rows);
        QCOMPARE(changed.count(), 0);
    }

    void labelsNeverCoverEachOtherNorMarks() {
        std::mt19937 dice(9);
        const auto real = [&](double a, double b) {
            return std::uniform_real_distribution<double>(a, b)(dice);
        };
        int told = 0;
        for (int round = 0; round < 40; ++round) {
            Labels labels;
            std::vector<QRectF> marks;
            const int count = 2 + round;
            for (int i = 0; i < count; ++i) {
                const QPointF at(real(100, 500), real(100, 400));
                marks.push_back(QRectF(at - QPointF(8, 8), QSizeF(16, 16)));
                labels.keepFree(marks.back());
                labels.add({at, at + QPointF(10, -20), QString("mark %1").arg(i), Qt::white,
                            Qt::black, i % 3});
            }
            QImage image(600, 500, QImage::Format_RGB32);
            QPainter painter(&image);
            labels.paint(painter, image.rect(), {-1, -1});
            const auto& boxes = labels.boxes();
            told += static_cast<int>(boxes.size());
            for (std::size_t i = 0; i < boxes.size(); ++i) {
                QVERIFY(QRectF(image.rect()).contains(boxes[i]));
                for (std::size_t k = 0; k < i; ++k) QVERIFY(!boxes[i].intersects(boxes[k]));
                for (const QRectF& m : marks) QVERIFY(!boxes[i].intersects(m));
            }
            if (count < 12) QCOMPARE(boxes.size(), static_cast<std::size_t>(count));
        }
        QVERIFY(told > 700);
    }

    void theMiddleFollowsThePage() {
        AppWindow w;
        auto& line = w.window.threadLineView();
        QVERIFY(w.cloth().isVisible() && line.isVisible());
        w.key(Qt::Key_7, Qt::ControlModifier);
        auto* records = w.find<QTableView>("recordList");
        QVERIFY(records->isVisible() && !w.cloth().isVisible() && !line.isVisible());
        w.press("ledgerTab3");
        QVERIFY(!records->isVisible() && w.find<RowsTable>("costParts")->isVisible());
        w.press("ledgerTab4"); // the rates, beside what they make of the job
        QVERIFY(w.find<RowsTable>("costParts")->isVisible());
        w.key(Qt::Key_6, Qt::ControlModifier);
        w.press("stitchOutTab1");
        QVERIFY(w.find<QWidget>("needleRow")->isVisible());
        w.press("stitchOutTab3"); // the run is watched on the cloth
        QVERIFY(w.cloth().isVisible() && line.isVisible());
        w.key(Qt::Key_T, Qt::ControlModifier);
        QVERIFY(!line.isVisible());
        w.press("stitchOutTab1");
        w.press("stitchOutTab3");
        QVERIFY(!line.isVisible()); // as the person wanted it
        w.key(Qt::Key_T, Qt::ControlModifier);
        QVERIFY(line.isVisible());
    }

    void keysAreChangedKeptAndNeverGivenTwice() {
        QSettings().remove("keys");
        {
            AppWindow w;
            const auto find = [&](const QString& id) {
                for (const Command& c : commandsOf(*w.window.menuBar()))
                    if (commandId(*c.action) == id) return c.action;
                return static_cast<QAction*>(nullptr);
            };
            QAction* duplicate = find("Edit/Duplicate");
            QVERIFY(duplicate && duplicate->shortcut() == QKeySequence("Ctrl+D"));
            KeysDialog dialog(*w.window.menuBar(), &w.window);
            auto* table = dialog.findChild<RowsTable*>("keys");
            auto* edit = dialog.findChild<QKeySequenceEdit*>("newKeys");
            const auto give = [&](const QString& keys) {
                edit->setKeySequence(QKeySequence(keys));
                emit edit->editingFinished();
            };
            for (int i = 0; i < table->rowCount(); ++i)
                if (table->row(i).key == "Edit/Duplicate") table->selectRow(i);
            give("Ctrl+Z"); // Undo has it
            QCOMPARE(duplicate->shortcut(), QKeySequence("Ctrl+D"));
            QVERIFY(dialog.findChild<QLabel*>("keysWords")->text().contains("Undo"));
            give("Ctrl+Shift+K");
            QCOMPARE(duplicate->shortcut(), QKeySequence("Ctrl+Shift+K"));
            // Every command has an id of its own, and no two the same keys.
            std::set<QString> ids, keys;
            for (const Command& c : commandsOf(*w.window.menuBar())) {
                if (commandId(*c.action).isEmpty()) continue; // a file opened lately
                QVERIFY2(ids.insert(commandId(*c.action)).second, qPrintable(c.path));
                const QString own = c.action->shortcut().toString();
                QVERIFY2(own.isEmpty() || keys.insert(own).second, qPrintable(c.path + own));
            }
        }
        AppWindow again;
        for (const Command& c : commandsOf(*again.window.menuBar()))
            if (commandId(*c.action) == "Edit/Duplicate")
                QCOMPARE(c.action->shortcut(), QKeySequence("Ctrl+Shift+K"));
        QSettings().remove("keys");
    }

    void aRightClickOffersWhatCanBeDoneThere() {
        rapt::test::DemoWindow w;
        w.session().selection.choose({});
        const auto& span = w.session().checked()->stitched().spans.front();
        const rapt::Stitch* on = nullptr;
        for (const rapt::Stitch& s : w.session().checked()->stitched().list.stitches)
            if (s.op == rapt::Op::stitch && span.extents.contains(s.at())) on = &s;
        QVERIFY(on);
        const QPoint px = w.cloth().map().toPixels(on->at()).toPoint();
        QStringList offered;
        QTimer::singleShot(200, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (!menu) return;
            for (QAction* action : menu->actions())
                if (action->isEnabled()) offered << action->text().remove('&');
            menu->close();
        });
        QTest::mouseClick(&w.cloth(), Qt::RightButton, {}, px);
        QVERIFY(offered.contains("Copy") && offered.contains("Delete"));
        QCOMPARE(w.session().selection.ids().size(), std::size_t{1});
        // A drag with that button still pans.
        const auto before = w.cloth().map().origin;
        QTest::mousePress(&w.cloth(), Qt::RightButton, {}, px);
        QTest::mouseMove(&w.cloth(), px + QPoint(40, 10));
        QTest::mouseMove(&w.cloth(), px + QPoint(60, 20));
        QTest::mouseRelease(&w.cloth(), Qt::RightButton, {}, px + QPoint(60, 20));
        QVERIFY(w.cloth().map().origin != before);
    }
};

RAPT_TEST(TestKit)
#include "test_kit.moc"
