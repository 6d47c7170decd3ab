#include "support.h"

#include "app/document/derivation.h"
#include "app/document/document.h"
#include "app/document/recovery.h"
#include "formats/job_file.h"

#include <QSignalSpy>

using namespace rapt;
using namespace rapt::app;

namespace {

Job twoFills() {
    Job job;
    job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 20, 20)})),
                  test::shapePiece("b", test::fillOf({test::rectangle(0, 0, 9, 9)}), 40)};
    return job;
}

} // namespace

class TestDocument : public QObject {
    Q_OBJECT
private slots:
    void undoGoesBackToTheVeryBeginningAndRedoAllTheWay() {
        Document document;
        document.reset(twoFills(), {});
        const Job start = document.job();
        for (int i = 0; i < 300; ++i) document.apply(movePieces({"a"}, {1, 0}));
        const Job end = document.job();
        QVERIFY(document.isChanged());
        while (document.canUndo()) document.undo();
        QVERIFY(document.job() == start);
        QVERIFY(!document.isChanged());
        while (document.canRedo()) document.redo();
        QVERIFY(document.job() == end);
    }

    void anEditThatChangesNothingLeavesNoEntry() {
        Document document;
        document.reset(twoFills(), {});
        document.apply(movePieces({"nobody"}, {1, 1}));
        QVERIFY(!document.canUndo());
    }

    void aBurstOfKeysIsOneEntry() {
        Document document;
        document.reset(twoFills(), {});
        for (int i = 0; i < 5; ++i) document.apply(movePieces({"a"}, {1, 0}), "nudge");
        QCOMPARE(document.job().pieces[0].pose.x, 5.0);
        document.undo();
        QCOMPARE(document.job().pieces[0].pose.x, 0.0);
        document.redo();
        document.endMerge();
        document.apply(movePieces({"a"}, {1, 0}), "nudge");
        document.undo();
        QCOMPARE(document.job().pieces[0].pose.x, 5.0);
    }

    void savedStatesAreKnownThroughUndo() {
        QTemporaryDir dir;
        Document document;
        document.reset(twoFills(), {});
        document.apply(movePieces({"a"}, {1, 0}));
        QVERIFY(bool(document.saveTo(dir.filePath("a.rapt"))));
        QVERIFY(!document.isChanged());
        document.undo();
        QVERIFY(document.isChanged());
        // A new edit from here makes the saved state unreachable.
        document.apply(movePieces({"b"}, {2, 0}));
        document.undo();
        QVERIFY(document.isChanged());
    }

    void aNudgeAfterSavingDoesNotRewriteTheSavedState() {
        QTemporaryDir dir;
        Document document;
        document.reset(twoFills(), {});
        document.apply(movePieces({"a"}, {1, 0}), "nudge");
        QVERIFY(bool(document.saveTo(dir.filePath("a.rapt"))));
        document.apply(movePieces({"a"}, {1, 0}), "nudge");
        QVERIFY(document.isChanged());
    }

    void aFileThatCannotBeReadLeavesTheJob() {
        QTemporaryDir dir;
        test::writeFile(dir.filePath("bad.rapt"), "PK nonsense");
        Document document;
        document.reset(twoFills(), "x.rapt");
        QVERIFY(!document.open(dir.filePath("bad.rapt")));
        QCOMPARE(document.job().pieces.size(), std::size_t{2});
        QCOMPARE(document.path(), QString("x.rapt"));
    }

    void theNewestJobWins() {
        const auto lib = std::make_shared<const Library>(test::library());
        Derivation derivation;
        QSignalSpy ready(&derivation, &Derivation::ready);
        Job job = twoFills();
        for (int i = 1; i <= 40; ++i) {
            job.pieces[0].pose.x = i;
            derivation.request(job, lib);
        }
        QTRY_VERIFY(!derivation.isBusy());
        VERIFY_NEAR(derivation.latest()->stitched().spans[0].extents.minX, 40, 0.3);
        QVERIFY(ready.count() < 40);
    }

    void partsComeInTheOrderOfTheirUse() {
        Derivation derivation;
        std::vector<Phase> order;
        connect(&derivation, &Derivation::ready, this,
                [&](Phase phase) { order.push_back(phase); });
        derivation.request(twoFills(), std::make_shared<const Library>(test::library()));
        QVERIFY(derivation.isBusy());
        QTRY_VERIFY(!derivation.isSeeking());
        QVERIFY(std::is_sorted(order.begin(), order.end()));
        // Nobody compares.
        QVERIFY(std::find(order.begin(), order.end(), Phase::comparison) == order.end());
        QVERIFY(order.front() == Phase::stitches && derivation.latest()->isWhole());
    }

    void onlyWhatAnEditChangesIsWorkedOutAgain() {
        const auto lib = std::make_shared<const Library>(test::library());
        Derivation derivation;
        Job job = twoFills();
        derivation.request(job, lib);
        QTRY_VERIFY(!derivation.isSeeking());
        const auto before = derivation.latest();
        job.name = "Another name";
        derivation.request(job, lib);
        QVERIFY(!derivation.isBusy());
        job.cloth.thickZones.push_back({{{0, 0}, 9, {}}, 0.2, {}});
        derivation.request(job, lib);
        QVERIFY(derivation.isBusy());
        QTRY_VERIFY(!derivation.isSeeking());
        const auto after = derivation.latest();
        QCOMPARE(after->sewn, before->sewn);
        QCOMPARE(after->weighed, before->weighed);
        QVERIFY(after->findings().size() > before->findings().size());
    }

    void aChangedLibraryIsNotTakenForTheOldOne() {
        Library lib = test::library();
        Derivation derivation;
        const Job job = twoFills();
        derivation.request(job, std::make_shared<const Library>(lib));
        QTRY_VERIFY(!derivation.isSeeking());
        QVERIFY(derivation.latest()->findings().size() <= 1); // no hoopings yet
        for (Fabric& f : lib.fabrics)
            if (f.id == job.brief.fabric) f.maxLayers = 0.4;
        derivation.request(job, std::make_shared<const Library>(lib));
        QVERIFY(derivation.isBusy()); // the same job, but not the same judgement
        QTRY_VERIFY(!derivation.isSeeking());
        QVERIFY(anyStop(derivation.latest()->findings()));
        QCOMPARE(*derivation.latest()->findings()[0].limit, 0.4);
    }

    void unsavedWorkSurvivesACrash() {
        QDir(Recovery::folder()).removeRecursively();
        {
            Document document;
            document.reset(twoFills(), "/somewhere/banner.rapt");
            auto* recovery = new Recovery(document); // never deleted: as after a kill
            document.apply(movePieces({"a"}, {7, 0}));
            recovery->writeNow();
            recovery->finish();
            // While that run lives, nobody else takes its copy.
            QCOMPARE(Recovery::leftBehind().size(), std::size_t{0});
        }
        for (const QString& lock : QDir(Recovery::folder()).entryList({"*.lock"}, QDir::Files))
            QFile::remove(Recovery::folder() + "/" + lock); // the process is gone
        auto left = Recovery::leftBehind();
        QCOMPARE(left.size(), std::size_t{1});
        QCOMPARE(left[0].originalPath, QString("/somewhere/banner.rapt"));
        QCOMPARE(left[0].job.pieces[0].pose.x, 7.0);
        Document again;
        again.resetRecovered(std::move(left[0].job), left[0].originalPath);
        QVERIFY(again.isChanged());
        Recovery::remove(left[0]);
        QCOMPARE(Recovery::leftBehind().size(), std::size_t{0});
    }
};

RAPT_TEST(TestDocument)
#include "test_document.moc"
