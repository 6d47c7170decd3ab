#include "support.h"

#include "divide/hooping_lists.h"
#include "divide/marks.h"
#include "job/edit.h"
#include "registration/fit.h"

#include <set>

using namespace rapt;

namespace {

Job scattered(quint64 seed, int pieces, double reach, double size) {
    test::Dice dice(seed);
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 2 * reach + 200;
    for (int i = 0; i < pieces; ++i)
        job.pieces.push_back(test::shapePiece(
            "p" + std::to_string(i),
            test::fillOf({test::rectangle(0, 0, dice.between(5, size), dice.between(5, size))}, 0,
                         1.5),
            dice.between(-reach, reach), dice.between(-reach, reach)));
    return job;
}

} // namespace

class TestDivide : public QObject {
    Q_OBJECT
    const Library lib = test::library();

    Result<Division> divide(const Job& job, const std::vector<std::string>& hoops) {
        const auto found = hoopsFor(job, hoops, lib);
        if (!found) return found.error();
        StitchCache cache;
        DivideOptions options{*found};
        options.mayCut = false;
        return divideIntoHoopings(job, cache, options, lib);
    }

private slots:
    void everyStitchIsSewnOnceInsideItsField_data() {
        QTest::addColumn<int>("seed");
        QTest::addColumn<QStringList>("hoops");
        for (int seed = 1; seed <= 4; ++seed) {
            QTest::addRow("everyday %d", seed) << seed << QStringList{"field-180x130"};
            QTest::addRow("oval %d", seed) << seed << QStringList{"oval-70x50"};
            QTest::addRow("two-sided %d", seed) << seed << QStringList{"two-sided-360x200"};
            QTest::addRow("mixed %d", seed)
                << seed << QStringList{"field-100x100", "field-300x200"};
        }
    }
    void everyStitchIsSewnOnceInsideItsField() {
        QFETCH(int, seed);
        QFETCH(QStringList, hoops);
        std::vector<std::string> names;
        for (const QString& h : hoops) names.push_back(h.toStdString());
        const Job job = scattered(static_cast<quint64>(seed), 18, 200, 30);
        const auto division = divide(job, names);
        QVERIFY2(bool(division), division ? "" : division.error().line().c_str());
        const Job planned = setHoopings(division->hoopings, 0).change(job);
        const auto lists = hoopingLists(planned, lib);
        QVERIFY2(bool(lists), lists ? "" : lists.error().line().c_str());
        const auto whole = stitchJob(job);
        std::multiset<std::pair<long, long>> wanted, sewn;
        const auto key = [](Vec2 p) {
            return std::pair{std::lround(p.x * 50), std::lround(p.y * 50)};
        };
        for (const Stitch& s : whole->list.stitches)
            if (s.op == Op::stitch) wanted.insert(key(s.at()));
        std::size_t count = 0;
        for (std::size_t i = 0; i < lists->size(); ++i) {
            const Hooping& h = planned.hoopings[i];
            const auto hoop = lib.hoop(h.hoop);
            for (const Stitch& s : (*lists)[i].list.stitches) {
                if (s.op != Op::stitch) continue;
                ++count;
                QVERIFY(hoop->reaches(s.at()));
                const Vec2 cloth = h.pose.affine()(s.at());
                // Within 0.02 mm of a stitch of the whole: the key's cell, or else a neighbour's.
                const auto k = key(cloth);
                auto match = wanted.find(k);
                for (long dy = -1; dy <= 1; ++dy)
                    for (long dx = -1; dx <= 1 && match == wanted.end(); ++dx)
                        match = wanted.find({k.first + dx, k.second + dy});
                QVERIFY(match != wanted.end());
                wanted.erase(match); // each is sewn once
            }
        }
        QVERIFY(count > 0 && wanted.empty());
        QVERIFY(division->lowerBound >= 1);
        QVERIFY(division->lowerBound <= static_cast<int>(division->hoopings.size()));
        if (division->lowerBound == static_cast<int>(division->hoopings.size()))
            QVERIFY(division->provenMinimal || division->clampings > division->lowerBoundClampings);
    }

    void posesAreAxisAlignedButForTheHoopsTurns() {
        const auto division = divide(scattered(3, 20, 200, 100), {"field-180x130"});
        QVERIFY(bool(division));
        for (const Hooping& h : division->hoopings) {
            QVERIFY(h.pose.rotationDeg == 0 || h.pose.rotationDeg == 90);
            QVERIFY(!h.pose.mirror && h.pose.scaleX == 1 && h.pose.scaleY == 1);
        }
    }

    void overlappingPiecesKeepTheirOrder() {
        Job job;
        job.cloth.widthMm = 600;
        // A long piece is covered at both ends; the covers must come later.
        job.pieces = {test::shapePiece("under", test::fillOf({test::rectangle(-85, 0, 170, 20)})),
                      test::shapePiece("left", test::fillOf({test::rectangle(-120, 0, 60, 20)})),
                      test::shapePiece("right", test::fillOf({test::rectangle(60, 0, 60, 20)}))};
        const auto division = divide(job, {"field-180x130"});
        QVERIFY(bool(division));
        std::map<std::string, int> when;
        int n = 0;
        for (const Hooping& h : division->hoopings)
            for (const std::string& id : h.pieces) when[id] = n++;
        QVERIFY(when["under"] < when["left"] && when["under"] < when["right"]);
    }

    void whatFitsOneFieldTakesOneHooping() {
        Job job;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(-90, -65, 180, 130)}))};
        const auto division = divide(job, {"field-180x130"});
        QVERIFY(bool(division));
        QCOMPARE(division->hoopings.size(), std::size_t{1});
        QVERIFY(division->provenMinimal);
        QCOMPARE(division->predictedJoinRmsMm, 0.0);
    }

    void aPieceLargerThanTheFieldIsRefusedWithWhatWouldTakeIt() {
        Job job;
        job.pieces = {test::shapePiece("big", test::fillOf({test::rectangle(0, 0, 230, 140)}))};
        const auto division = divide(job, {"field-180x130"});
        QVERIFY(!division);
        QCOMPARE(division.error().fault, Fault::cannotDo);
        QCOMPARE(division.error().place, std::string("big"));
        QVERIFY(division.error().reason.find("field-240x150") != std::string::npos);
    }

    void marksLieInTheirFieldAndFarApart() {
        for (const Hoop& hoop : lib.hoops) {
            Job job;
            job.cloth.widthMm = job.cloth.heightMm = 2000;
            job.pieces = {
                test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 15, 15)}), 40, 9)};
            const auto division = divide(job, {hoop.id});
            QVERIFY(bool(division));
            const Hooping& h = division->hoopings[0];
            QVERIFY(h.marks.size() >= 2);
            for (const Mark& m : h.marks) QVERIFY(hoop.reaches(h.pose.affine().inverse()(m.at)));
            const double apart = distance(h.marks[0].at, h.marks[1].at);
            QVERIFY(apart > 0.5 * (std::hypot(hoop.widthMm, hoop.heightMm) - 2 * cardRoomMm));
        }
    }

    void marksStayOnTheClothWhereTheyCan() {
        Job job;
        job.cloth.widthMm = 100;
        job.cloth.heightMm = 60;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(-40, -20, 80, 40)}))};
        const auto division = divide(job, {"field-300x200"});
        for (const Mark& m : division->hoopings[0].marks) QVERIFY(job.cloth.box().contains(m.at));
    }

    void theBoundIsTrueOnAChainThatNeedsEveryHooping() {
        Job job;
        job.cloth.widthMm = 2000;
        for (int i = 0; i < 6; ++i)
            job.pieces.push_back(test::shapePiece("p" + std::to_string(i),
                                                  test::fillOf({test::rectangle(0, 0, 90, 20)}),
                                                  -600 + 200 * i));
        const auto division = divide(job, {"field-180x130"});
        QCOMPARE(division->hoopings.size(), std::size_t{6});
        QCOMPARE(division->lowerBound, 6);
        // Datum joins see two registrations: more than one alone, and some tenths of a millimetre.
        QVERIFY(division->predictedJoinRmsMm > 0.3 && division->predictedJoinRmsMm < 1.5);
    }

    void aPlanThatNoLongerSuitsIsRefused() {
        const Job job = scattered(5, 6, 60, 20);
        const Job planned = setHoopings(divide(job, {"field-180x130"})->hoopings, 0).change(job);
        QVERIFY(bool(hoopingLists(planned, lib)));
        QVERIFY(!hoopingLists(job, lib));
        QVERIFY(!hoopingLists(movePieces({"p0"}, {400, 0}).change(planned), lib));
        QVERIFY(!hoopingLists(deletePieces({"p1"}).change(planned), lib));
        QVERIFY(!hoopingLists(duplicatePieces({"p1"}, {1, 1}).change(planned), lib));
    }

    void anExportReplacesAnEarlierOneWhole() {
        QTemporaryDir dir;
        const std::string folder = dir.filePath("out").toStdString();
        Job job = scattered(5, 12, 200, 20);
        job.identity = newIdentity();
        const Job planned = setHoopings(divide(job, {"field-100x100"})->hoopings, 0).change(job);
        const auto many = hoopingLists(planned, lib);
        QVERIFY(many->size() > 2);
        // What another job wrote stays, also where it is called the same.
        Job other = job;
        other.identity = newIdentity();
        QVERIFY(bool(exportHoopings(other, *many, dir.filePath("two").toStdString())));
        QVERIFY(bool(exportHoopings(job, {(*many)[0]}, dir.filePath("two").toStdString())));
        QCOMPARE(QDir(dir.filePath("two")).entryList(QDir::Files).size(),
                 static_cast<qsizetype>(many->size()));
        QVERIFY(bool(exportHoopings(job, *many, folder)));
        test::writeFile(dir.filePath("out/notes.txt"), "mine");
        const std::vector<HoopingList> one{(*many)[0]};
        const auto names = exportHoopings(job, one, folder);
        QCOMPARE(names->size(), std::size_t{1});
        QCOMPARE(QDir(dir.filePath("out")).entryList(QDir::Files),
                 (QStringList{"hooping-01.stitch.csv", "notes.txt"}));
        const auto back = readStitchFile(folder + "/hooping-01.stitch.csv");
        QVERIFY(back->stitches == (*many)[0].list.stitches);
    }

    void withoutHoopsTheAnswerSaysWhatToDo() {
        QVERIFY(!hoopsFor(Job{}, {}, lib));
        QVERIFY(!hoopsFor(Job{}, {"nope"}, lib));
    }
};

RAPT_TEST(TestDivide)
#include "test_divide.moc"
