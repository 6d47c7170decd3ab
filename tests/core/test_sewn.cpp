// What is sewn stays sewn: to the stitch, whatever is done to the rest.

#include "random_designs.h"

#include "divide/sewn_hoopings.h"
#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "job/edit_weigh.h"
#include "job/sewn_lock.h"
#include "run/sewn.h"
#include "sequence/job_order.h"

using namespace rapt;

namespace {

Library lib;

/// Several designs over a wide cloth, some of which no field takes whole.
Job jobOf(quint64 seed) {
    test::Dice dice(seed + 4000);
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 2000;
    for (int i = 0; i < 4; ++i)
        job.pieces.push_back(
            test::designPiece("design " + std::to_string(i),
                              test::randomDesign(seed * 7 + quint64(i), i == 0 ? 150 : 60),
                              i * 110 - 165, dice.between(-40, 40)));
    return job;
}

Result<Job> divided(const Job& job) {
    StitchCache cache;
    DivideOptions options{{*lib.hoop("field-100x100")}};
    options.seconds = 0.3;
    const auto division = divideIntoHoopings(job, cache, options, lib);
    if (!division) return division.error();
    return setHoopings(division->hoopings, 0, division->cuts).change(job);
}

std::vector<HoopingList> listsOf(const Job& job) {
    const auto lists = hoopingLists(job, lib);
    if (!lists) qWarning("%s", lists.error().line().c_str());
    return lists ? *lists : std::vector<HoopingList>();
}

/// What is done later, to all that is not locked by it.
Job edited(const Job& job, quint64 seed) {
    test::Dice dice(seed + 5000);
    Job next = job;
    Piece late = test::designPiece("late", test::randomDesign(seed + 99, 50),
                                   dice.between(-150, 150), dice.between(-30, 30));
    next = addPiece(late).change(next);
    const std::set<std::string> sewn = sewnPieces(next);
    for (const Piece& p : job.pieces)
        if (!sewn.contains(p.id)) next = movePieces({p.id}, {0, 25}).change(next);
    next = setRelief(idsOf(next), Relief{}).change(next);
    if (const auto ordered = orderJob(next)) next = ordered->job;
    return next;
}

int penetrations(const StitchList& list) { return static_cast<int>(Penetrations(list).count()); }

} // namespace

class TestSewn : public QObject {
    Q_OBJECT
private slots:
    void initTestCase() { lib = test::library(); }

    void whatIsSewnIsTheSameAfterAnything_data() {
        QTest::addColumn<quint64>("seed");
        for (quint64 seed = 1; seed <= test::seedCount(8); ++seed)
            QTest::newRow(qPrintable(QString::number(seed))) << seed;
    }
    void whatIsSewnIsTheSameAfterAnything() {
        QFETCH(quint64, seed);
        const auto planned = divided(jobOf(seed));
        QVERIFY2(planned, planned ? "" : planned.error().line().c_str());
        const auto lists = listsOf(*planned);
        QVERIFY(lists.size() >= 2);
        Job job = markSewn(1, allSewn, lists[0]).change(*planned);
        job = markSewn(2, lists[1].stitches / 2, lists[1]).change(job);
        const Job later = edited(job, seed);
        // Relief of a sewn piece would change it: that is refused.
        Job free = later;
        for (const std::string& id : sewnPieces(job)) *free.piece(id) = *job.piece(id);
        QVERIFY(!changesSewn(job, free));
        const auto again = divided(free);
        QVERIFY2(again, again ? "" : again.error().line().c_str());
        const auto back = unpackJob(*packJob(*again), "x");
        QVERIFY(back);
        const auto now = listsOf(*back);
        QVERIFY(now.size() >= 2);
        for (std::size_t i = 0; i < 2; ++i)
            QCOMPARE(formatStitchCsv(now[i].list), formatStitchCsv(lists[i].list));
        QVERIFY(!changesSewn(job, *again));
        // Only what is left goes out again.
        const auto open = openLists(*back, now);
        QCOMPARE(open[0].stitches, 0u);
        const Penetrations all(now[1].list), left(open[1].list);
        const std::size_t done = lists[1].stitches / 2, tie = left.count() - (all.count() - done);
        QVERIFY(tie <= 3);
        for (std::size_t k = 0; k < all.count() - done; ++k)
            QCOMPARE(open[1].list.stitches[left.record(tie + k)].at(),
                     now[1].list.stitches[all.record(done + k)].at());
    }

    void whatIsSewnIsLocked() {
        const auto planned = divided(jobOf(3));
        QVERIFY(planned);
        const auto lists = listsOf(*planned);
        const Job job = markSewn(1, allSewn, lists[0]).change(*planned);
        const std::string id = *sewnPieces(job).begin();
        for (const Edit& edit :
             {movePieces({id}, {1, 0}), deletePieces({id}), setHidden({id}, true),
              setKeep(id, Keep::stitches), setRelief({id}, Relief{}), setHoopings({}, 0)}) {
            const auto error = changesSewn(job, edit.change(job));
            QVERIFY2(error, edit.name.c_str());
            QVERIFY(error->reason.find("sewn") != std::string::npos);
        }
        for (const Edit& edit :
             {renamePiece(id, "Other"), setLocked({id}, true), reorderPiece(id, 3),
              duplicatePieces({id}, {5, 5}), markSewn(1, 0, lists[0])})
            QVERIFY2(!changesSewn(job, edit.change(job)), edit.name.c_str());
        QCOMPARE(markSewn(1, 0, lists[0]).change(job), *planned);
    }

    void aThreadThatGoesOnIsTied() {
        StitchList list = test::listThrough({{0, 0}, {3, 0}, {6, 0}, {9, 0}, {12, 0}});
        Job job;
        job.hoopings.resize(1);
        job.hoopings[0].sewn = 2;
        HoopingList whole{list, 5, {}};
        const auto open = openLists(job, {whole});
        QVERIFY(penetrations(open[0].list) >= 5); // three, and two more that hold it
        const Stitch& first = open[0].list.stitches.front();
        QVERIFY(first.op == Op::jump && first.at() == Vec2(3, 0));
        job.hoopings[0].sewn = 7; // more than there are: all of it
        QVERIFY(!isOpen(job, {whole}, 0));
        QVERIFY(openLists(job, {whole})[0].list.stitches.empty());
    }

    void whatTheFileSaysIsReadAndRefused() {
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {3, 0}}))};
        Hooping h;
        h.hoop = "field-100x100";
        h.pieces = {"a"};
        h.sewn = allSewn;
        job.hoopings = {h, h};
        job.hoopings[1].sewn = 17;
        const auto back = unpackJob(*packJob(job), "x");
        QVERIFY(back);
        QCOMPARE(back->hoopings, job.hoopings);
        job.hoopings[0].sewnList = "sewn/none.stitch.csv";
        const auto lost = packJob(job);
        QVERIFY(!lost || !unpackJob(*lost, "x"));
    }
};

RAPT_TEST(TestSewn)
#include "test_sewn.moc"
