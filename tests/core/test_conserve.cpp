// Conservation: what goes in comes out, or it is said why not (docs/measures.md).

#include "random_designs.h"

#include "divide/hooping_lists.h"
#include "job/edit.h"
#include "respace/respace.h"
#include "thread/origin.h"
#include "thread/ties.h"

using namespace rapt;

namespace {

/// A design at a random place, turned, mirrored and sized by the seed.
Job jobOf(quint64 seed, double size) {
    test::Dice dice(seed + 1000);
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 2000;
    Piece p = test::designPiece("design", test::randomDesign(seed, size), dice.between(-30, 30),
                                dice.between(-30, 30));
    p.pose.rotationDeg = dice.between(0, 1) < 0.4 ? 0 : dice.between(-180, 180);
    p.pose.mirror = dice.between(0, 1) < 0.3;
    p.keep = Keep::stitches;
    job.pieces = {p};
    return job;
}

/// A frame of the library or one of a random field.
Hoop frameOf(const Library& lib, quint64 seed) {
    test::Dice dice(seed + 2000);
    if (seed % 4 == 0) return *lib.hoop("two-sided-360x200");
    Hoop hoop = *lib.hoop(seed % 4 == 1 ? "field-100x100" : "field-180x130");
    if (seed % 4 == 3) hoop.heightMm = dice.between(60, 140);
    return hoop;
}

struct Divided {
    StitchList whole;
    std::vector<HoopingList> lists;
    Job job;
    bool impossible = false;
};

Divided divide(const Library& lib, quint64 seed, double size) {
    Divided d;
    d.job = jobOf(seed, size);
    d.whole = stitchJob(d.job)->list;
    StitchCache cache;
    DivideOptions options{{frameOf(lib, seed)}};
    options.seconds = 0.5;
    Library own = lib;
    for (Hoop& h : own.hoops)
        if (h.id == options.hoops[0].id) h = options.hoops[0];
    const auto division = divideIntoHoopings(d.job, cache, options, own);
    if (!division) {
        d.impossible = true;
        qWarning("%s", division.error().line().c_str());
        return d;
    }
    d.job = setHoopings(division->hoopings, 0, division->cuts).change(d.job);
    auto lists = hoopingLists(d.job, own);
    if (!lists) qWarning("%s", lists.error().line().c_str());
    if (lists) d.lists = std::move(*lists);
    return d;
}

} // namespace

class TestConserve : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    void sizingSaysOfEveryStitchWhatBecameOfIt() {
        for (quint64 seed = 1; seed <= test::seedCount(24); ++seed) {
            test::Dice dice(seed + 3000);
            const StitchList list = test::randomDesign(seed, dice.between(30, 120));
            const ScaleFactors k{dice.between(0.7, 1.5),
                                 dice.between(0, 1) < 0.5 ? 1 : dice.between(0.7, 1.5)};
            const auto laid = respace(list, k, {});
            QVERIFY(laid);
            QCOMPARE(laid->list.origins.size(), laid->list.stitches.size());
            // What is not laid afresh lies where scaling takes it.
            StitchList scaled = list;
            for (Stitch& s : scaled.stitches)
                s = stitchAt(s.op, {s.at().x * k.x, s.at().y * k.y}, s.thread);
            const auto broken = brokenAccount(scaled, {&laid->list});
            QVERIFY2(!broken, broken ? broken->c_str() : "");
        }
    }

    void cutsLoseNothing_data() {
        QTest::addColumn<quint64>("seed");
        for (quint64 i = 1; i <= test::seedCount(24); ++i) QTest::addRow("%llu", i) << i;
    }
    void cutsLoseNothing() {
        QFETCH(quint64, seed);
        const Divided d = divide(lib, seed, test::Dice(seed).between(120, 260));
        if (d.impossible) return;
        QVERIFY(!d.lists.empty());
        const StitchList sewn = sewnOnCloth(d.job.hoopings, d.lists, d.lists.size());
        const double lost = test::lostAlongMm(d.whole, sewn);
        test::CoverPicture whole(extentsOf(d.whole)), parts(extentsOf(d.whole));
        whole.draw(d.whole);
        parts.draw(sewn);
        const double bare = whole.largestBareMm(parts);
        qInfo("lost %.2f mm, bare %.2f mm, %zu hoopings, %zu cuts", lost, bare, d.lists.size(),
              d.job.cuts.size());
        QVERIFY2(lost < 0.5, qPrintable(QString::number(lost)));
        QVERIFY2(bare <= 0.3, qPrintable(QString::number(bare)));
    }

    void aLevelFillKeepsEveryRow() {
        // Rows and the steps of a path once met in a corner, and a whole row went.
        Job job;
        job.cloth.widthMm = job.cloth.heightMm = 2000;
        StitchList list;
        test::sew(list, test::fillPoints(test::rectangleRows(468, 65), true, 3.5));
        job.pieces = {test::designPiece("fill", list)};
        StitchCache cache;
        const auto d = divideIntoHoopings(job, cache, {{*lib.hoop("field-180x130")}}, lib);
        QVERIFY(d);
        const Job planned = setHoopings(d->hoopings, 0, d->cuts).change(job);
        const auto lists = hoopingLists(planned, lib);
        QVERIFY2(lists, lists ? "" : lists.error().line().c_str());
        const StitchList sewn = sewnOnCloth(planned.hoopings, *lists, lists->size());
        VERIFY_NEAR(test::lostAlongMm(list, sewn), 0, 0.1);
    }
};

RAPT_TEST(TestConserve)
#include "test_conserve.moc"
