#include "window_support.h"

#include "app/shelf/shelf_panel.h"

#include <QListView>
#include <QMenu>
#include <QSignalSpy>

using namespace rapt;
using namespace rapt::app;

namespace {

void writeDesign(const QString& path, double width, const QByteArray& head = {}) {
    StitchList list = test::listThrough({{0, 0}, {width, 0}, {width, 5}, {0, 5}});
    QByteArray text = QByteArray::fromStdString(formatStitchCsv(list));
    if (!head.isEmpty()) text.insert(text.indexOf('\n') + 1, head + "\n");
    test::writeFile(path, text);
}

DesignFacts factsAt(const ShelfModel& model, int row) {
    return model.index(row).data(ShelfModel::factsRole).value<DesignFacts>();
}

} // namespace

/// The shelf's model and cache, and its panel under mouse and keys.
class TestShelf : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString at(const QString& name) { return dir.filePath(name); }

    void settle(ShelfModel& model) { QTRY_VERIFY_WITH_TIMEOUT(model.isSettled(), 60'000); }

private slots:
    void initTestCase() { test::startApplication(); }
    void init() {
        QSettings().clear();
        QDir(at("f")).removeRecursively();
        QDir(at("cache")).removeRecursively();
        QDir(dir.path()).mkpath("f/inner");
    }

    void factsAreThoseOfTheDesign() {
        writeDesign(at("f/a.stitch.csv"), 12.5, "# tags,sea, kite");
        const DesignFacts facts = readDesignFacts(at("f/a.stitch.csv"));
        QVERIFY(facts.problem.isEmpty());
        VERIFY_NEAR(facts.widthMm, 12.5, 1e-9);
        VERIFY_NEAR(facts.heightMm, 5, 1e-9);
        QCOMPARE(facts.stitches, 4);
        QCOMPARE(facts.threads, 1);
        QCOMPARE(facts.tags, (QStringList{"sea", "kite"}));
        QVERIFY(facts.seconds > 0 && facts.seconds < 5);
        QCOMPARE(facts.name, QString("a"));
    }

    void thePictureShowsItsThread() {
        writeDesign(at("f/a.stitch.csv"), 12);
        const QImage picture = readDesignFacts(at("f/a.stitch.csv")).picture;
        QVERIFY(std::max(picture.width(), picture.height()) <= picturePx + 2);
        int inked = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) inked += qAlpha(picture.pixel(x, y)) > 128;
        QVERIFY(inked > 50);
    }

    void theCacheGivesTheSameUntilTheFileChanges() {
        const QString file = at("f/a.stitch.csv");
        writeDesign(file, 10, "# tags,sea");
        const DesignFacts fresh = cachedDesignFacts(file, at("cache"));
        QCOMPARE(QDir(at("cache")).entryList(QDir::Files).size(), 1);
        const DesignFacts kept = cachedDesignFacts(file, at("cache"));
        QCOMPARE(kept.name, fresh.name);
        QCOMPARE(kept.stitches, fresh.stitches);
        QCOMPARE(kept.tags, fresh.tags);
        VERIFY_NEAR(kept.widthMm, fresh.widthMm, 1e-9);
        VERIFY_NEAR(kept.seconds, fresh.seconds, 1e-6);
        QCOMPARE(kept.picture.size(), fresh.picture.size());
        writeDesign(file, 123.5);
        VERIFY_NEAR(cachedDesignFacts(file, at("cache")).widthMm, 123.5, 1e-9);
    }

    void aTornCacheIsReadAfresh() {
        const QString file = at("f/a.stitch.csv");
        writeDesign(file, 10);
        cachedDesignFacts(file, at("cache"));
        const QString kept = at("cache/") + QDir(at("cache")).entryList(QDir::Files).value(0);
        test::writeFile(kept, "not a picture");
        QCOMPARE(cachedDesignFacts(file, at("cache")).stitches, 4);
        // A cache that cannot be written costs time, nothing else.
        test::writeFile(at("plain"), "a file, no folder");
        QCOMPARE(cachedDesignFacts(file, at("plain")).stitches, 4);
    }

    void whatIsBrokenSaysWhereAndIsNotCached() {
        test::writeFile(at("f/a.stitch.csv"),
                        "# rapt-stitches 1\nop,x_mm,y_mm,thread\nstitch,a,0,1\n");
        const DesignFacts facts = cachedDesignFacts(at("f/a.stitch.csv"), at("cache"));
        QVERIFY2(facts.problem.contains("3"), qPrintable(facts.problem)); // the line
        QVERIFY(!QDir(at("cache")).exists() || QDir(at("cache")).isEmpty());
        test::writeFile(at("f/b.stitch.csv"), "# rapt-stitches 1\nop,x_mm,y_mm,thread\n");
        QVERIFY(readDesignFacts(at("f/b.stitch.csv")).problem.contains("no stitches"));
    }

    void foldersBelowAreListedAndAreTags() {
        writeDesign(at("f/top.stitch.csv"), 10);
        writeDesign(at("f/inner/low.stitch.csv"), 20);
        test::writeFile(at("f/notes.txt"), "no design");
        ShelfModel model(at("cache"));
        model.setFolders({at("f")});
        settle(model);
        QCOMPARE(model.rowCount(), 2);
        QStringList tags;
        for (int i = 0; i < 2; ++i)
            tags << model.index(i).data(ShelfModel::tagsRole).toStringList();
        QVERIFY(tags.contains("f") && tags.contains("inner"));
    }

    void aNewListDropsTheWorkOfTheOldOne() {
        for (int i = 0; i < 60; ++i) writeDesign(at(QString("f/d%1.stitch.csv").arg(i)), 10 + i);
        QDir(dir.path()).mkpath("g");
        writeDesign(at("g/only.stitch.csv"), 33);
        ShelfModel model(at("cache"));
        model.setFolders({at("f")});
        model.setFolders({at("g")});
        settle(model);
        QCOMPARE(model.rowCount(), 1);
        VERIFY_NEAR(factsAt(model, 0).widthMm, 33, 1e-9);
        // A model that goes while it reads leaves nothing running.
        auto* shortLived = new ShelfModel(at("cache"));
        shortLived->setFolders({at("f")});
        QCoreApplication::processEvents();
        delete shortLived;
    }

    void aFolderThatGoesIsSaidAndComesBack() {
        writeDesign(at("f/a.stitch.csv"), 10);
        ShelfModel model(at("cache"));
        model.setFolders({at("f"), at("away")});
        settle(model);
        QCOMPARE(model.missing(), QStringList{at("away")});
        QDir(dir.path()).mkpath("away");
        writeDesign(at("away/b.stitch.csv"), 10);
        model.reload();
        settle(model);
        QVERIFY(model.missing().isEmpty());
        QCOMPARE(model.rowCount(), 2);
    }

    void searchesAreReadAsTheyAreTyped_data() {
        QTest::addColumn<QString>("search");
        QTest::addColumn<QStringList>("found");
        const QStringList all{"ant", "bee", "cat"};
        QTest::addRow("nothing") << "" << all;
        QTest::addRow("name") << "be" << QStringList{"bee"};
        QTest::addRow("capitals") << "CAT" << QStringList{"cat"};
        QTest::addRow("tag") << "insect" << QStringList{"ant", "bee"};
        QTest::addRow("two words") << "insect a" << QStringList{"ant"};
        QTest::addRow("under") << "<25mm" << QStringList{"ant"};
        QTest::addRow("under, spaced") << "< 25 mm" << QStringList{"ant"};
        QTest::addRow("over") << ">45mm" << QStringList{"cat"};
        QTest::addRow("between") << ">25mm <45mm" << QStringList{"bee"};
        QTest::addRow("inches") << ">2in" << QStringList{"cat"};
        QTest::addRow("inches with a fraction") << ">1 1/2in" << QStringList{"bee", "cat"};
        QTest::addRow("threads") << "1 thread" << all;
        QTest::addRow("more threads") << "2 threads" << QStringList{};
        QTest::addRow("all of it") << "insect >25 1 thread" << QStringList{"bee"};
    }
    void searchesAreReadAsTheyAreTyped() {
        QFETCH(QString, search);
        QFETCH(QStringList, found);
        writeDesign(at("f/ant.stitch.csv"), 20, "# tags,insect");
        writeDesign(at("f/bee.stitch.csv"), 40, "# tags,insect");
        writeDesign(at("f/cat.stitch.csv"), 60);
        ShelfModel model(at("cache"));
        ShelfFilter filter;
        filter.setSourceModel(&model);
        filter.sort(0);
        model.setFolders({at("f")});
        settle(model);
        filter.setSearch(search);
        QStringList names;
        for (int i = 0; i < filter.rowCount(); ++i) names << filter.index(i, 0).data().toString();
        QCOMPARE(names, found);
    }

    void ordersAreBySizeStitchesAndThreads() {
        writeDesign(at("f/wide.stitch.csv"), 90);
        writeDesign(at("f/slim.stitch.csv"), 8);
        ShelfModel model(at("cache"));
        ShelfFilter filter;
        filter.setSourceModel(&model);
        model.setFolders({at("f")});
        settle(model);
        for (const auto order : {ShelfFilter::Order::size, ShelfFilter::Order::name}) {
            filter.setOrder(order);
            QCOMPARE(filter.index(0, 0).data().toString(), QString("slim"));
        }
    }

    void aFolderIsAddedByAskingAndStays() {
        writeDesign(at("f/a.stitch.csv"), 10);
        {
            test::AppWindow w;
            w.key(Qt::Key_L, Qt::ControlModifier);
            settle(w.window.shelf().model());
            const int before = w.window.shelf().model().rowCount();
            test::whenDialogOpens([this](QDialog* dialog) {
                auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
                name->setText(at("f"));
                dialog->done(QDialog::Accepted);
            });
            w.press("addFolder");
            settle(w.window.shelf().model());
            QCOMPARE(w.window.shelf().model().rowCount(), before + 1);
        }
        test::AppWindow again;
        settle(again.window.shelf().model());
        QVERIFY(again.window.shelf().model().folders().contains(at("f")));
    }

    void aDoubleClickBringsACardAndTheStageOpens() {
        test::AppWindow w;
        w.key(Qt::Key_L, Qt::ControlModifier);
        settle(w.window.shelf().model());
        auto* cards = w.find<QListView>("shelfCards");
        const QModelIndex first = cards->model()->index(0, 0);
        const QPoint middle = cards->visualRect(first).center();
        QTest::mouseClick(cards->viewport(), Qt::LeftButton, {}, middle);
        QTest::mouseDClick(cards->viewport(), Qt::LeftButton, {}, middle);
        QTRY_COMPARE(w.job().pieces.size(), std::size_t{1});
        QCOMPARE(w.session().document.undoName(), "Add " + first.data().toString());
        // The shelf belongs to Compose: elsewhere it makes room, and comes back.
        w.key(Qt::Key_3, Qt::ControlModifier);
        QVERIFY(!w.window.shelf().isVisible());
        w.key(Qt::Key_2, Qt::ControlModifier);
        QVERIFY(w.window.shelf().isVisible());
        w.key(Qt::Key_L, Qt::ControlModifier);
        QVERIFY(!w.window.shelf().isVisible());
    }

    void replacingNeedsOneChosenPiece() {
        test::AppWindow w;
        w.key(Qt::Key_L, Qt::ControlModifier);
        settle(w.window.shelf().model());
        auto* cards = w.find<QListView>("shelfCards");
        cards->setCurrentIndex(cards->model()->index(0, 0));
        QString words;
        test::answerMessage(QMessageBox::Ok, &words);
        QTest::keyClick(cards, Qt::Key_Return, Qt::ShiftModifier);
        QTRY_VERIFY(words.contains("one piece"));
        QVERIFY(w.job().pieces.empty());
    }
};

RAPT_TEST(TestShelf)
#include "test_shelf.moc"
