#include "support.h"

#include "formats/job_file.h"
#include "formats/palette_files.h"
#include "job/edit_copies.h"
#include "job/edit_threads.h"
#include "job/stitching.h"
#include "thread/measures.h"

using namespace rapt;

namespace {

const Thread tide{1, {31, 78, 121}, 40, "Deep tide"};
const Thread sky{2, {63, 127, 181}, 40, "Sky"};
const Thread almostTide{3, {33, 79, 122}, 40, "Tide, other maker"};

Palette palette() {
    Palette p;
    p.name = "Shop";
    p.threads = {{{1, {30, 80, 120}, 40, "Harbour"}, "1203"},
                 {{1, {230, 170, 50}, 40, "Sun"}, ""},
                 {{1, {31, 78, 121}, 60, "Harbour fine"}, "6203"}};
    return p;
}

/// Two threads, sewn 1, 2, 3, with a stop before each change.
StitchList threeRuns() {
    StitchList list;
    list.threads = {tide, sky, almostTide};
    for (std::uint8_t t = 1; t <= 3; ++t) {
        if (t > 1) {
            list.stitches.push_back(stitchAt(Op::trim, {t * 9.0 - 9, 4}, t - 1));
            list.stitches.push_back(stitchAt(Op::stop, {t * 9.0 - 9, 4}, t));
        }
        list.stitches.push_back(stitchAt(Op::jump, {t * 9.0, 0}, t));
        for (int i = 0; i < 3; ++i)
            list.stitches.push_back(stitchAt(Op::stitch, {t * 9.0, i * 2.0}, t));
    }
    return list;
}

std::size_t stops(const Job& job) { return measure(stitchJob(job)->list).stops; }

} // namespace

/// Threads owned, colours compared, threads changed.
class TestPalette : public QObject {
    Q_OBJECT
private slots:
    void colourDifferencesAreThePublishedOnes_data() {
        QTest::addColumn<QVector<double>>("pair");
        QTest::addColumn<double>("expected");
        // From table 1 of Sharma, Wu and Dalal (2005): L, a, b of both, and the difference.
        const struct {
            double v[6], e;
        } pairs[] = {{{50, 2.6772, -79.7751, 50, 0, -82.7485}, 2.0425},
                     {{50, 3.1571, -77.2803, 50, 0, -82.7485}, 2.8615},
                     {{50, -1.3802, -84.2814, 50, 0, -82.7485}, 1.0000},
                     {{50, 0, 0, 50, -1, 2}, 2.3669},
                     {{50, 2.4900, -0.0010, 50, -2.4900, 0.0009}, 7.1792},
                     {{50, 2.4900, -0.0010, 50, -2.4900, 0.0011}, 7.2195},
                     {{50, -0.0010, 2.4900, 50, 0.0009, -2.4900}, 4.8045},
                     {{50, 2.5, 0, 73, 25, -18}, 27.1492},
                     {{50, 2.5, 0, 58, 24, 15}, 19.4535},
                     {{60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387}, 1.2644},
                     {{22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619}, 2.0373},
                     {{90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447}, 1.4441},
                     {{2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514}, 0.9082}};
        int n = 0;
        for (const auto& p : pairs)
            QTest::addRow("%d", ++n) << QVector<double>(p.v, p.v + 6) << p.e;
    }
    void colourDifferencesAreThePublishedOnes() {
        QFETCH(QVector<double>, pair);
        QFETCH(double, expected);
        const Lab x{pair[0], pair[1], pair[2]}, y{pair[3], pair[4], pair[5]};
        VERIFY_NEAR(ciede2000(x, y), expected, 1e-4);
        VERIFY_NEAR(ciede2000(y, x), expected, 1e-4);
    }

    void equalColoursDoNotDifferAndWhiteIsFarFromBlack() {
        VERIFY_NEAR(colourDifference({12, 200, 90}, {12, 200, 90}), 0, 1e-12);
        VERIFY_NEAR(colourDifference({0, 0, 0}, {255, 255, 255}), 100, 0.01);
        QVERIFY(colourDifference({255, 0, 0}, {250, 4, 2}) < 2);
    }

    void theNearestThreadIsOfTheSameWeightIfThereIsOne() {
        const Palette p = palette();
        QCOMPARE(nearestThread(p, {31, 78, 121}, 40.0)->index, std::size_t{0});
        QCOMPARE(nearestThread(p, {31, 78, 121})->index, std::size_t{2});
        QCOMPARE(nearestThread(p, {31, 78, 121}, 12.0)->index, std::size_t{2});
        QVERIFY(!nearestThread({}, {1, 2, 3}));
    }

    void gplGoesOutAndComesBack() {
        Palette p = palette();
        p.threads[0].thread.name = "Harbour, \"old\" – blue";
        const auto back = parseGpl(formatGpl(p), "x.gpl");
        QVERIFY(back);
        QVERIFY(back->palette == p);
        QVERIFY(back->odd.empty());
    }

    void gplOfOtherProgramsIsRead() {
        const auto read =
            parseGpl("GIMP Palette\r\nName: Dunes\r\nColumns: 4\r\n# made by hand\r\n"
                     "  0   0   0\tBlack\r\n255 254 3 Bright  yellow\r\n12 13 14\r\n\r\n",
                     "x.gpl");
        QCOMPARE(read->palette.name, std::string("Dunes"));
        QCOMPARE(read->palette.threads.size(), std::size_t{3});
        QCOMPARE(read->palette.threads[1].thread.name, std::string("Bright  yellow"));
        QCOMPARE(read->palette.threads[2].thread.name, std::string("#0c0d0e"));
        VERIFY_NEAR(read->palette.threads[0].thread.weight, 40, 0);
    }

    void oddLinesAreNamedAndTheOthersKept() {
        const auto read = parseGpl("GIMP Palette\n1 2 3 Good\nred green blue\n300 1 1 Too much\n"
                                   "5 6\n7 8 9 Also good\n1 1 1 \xff\xfe\n",
                                   "x.gpl");
        QVERIFY(read);
        QCOMPARE(read->palette.threads.size(), std::size_t{2});
        QCOMPARE(read->odd.size(), std::size_t{4});
        QVERIFY(read->odd[0].starts_with("line 3"));
        QVERIFY(read->odd[1].find("300") != std::string::npos);
        QVERIFY(!parseGpl("P3 4 4", "x.gpl"));
        QVERIFY(parseGpl("P3", "x.gpl").error().line().find("x.gpl") != std::string::npos);
    }

    void threadsOwnedAreKeptInTheUsersFolder() {
        QTemporaryDir dir;
        const std::string user = dir.filePath("user").toStdString();
        const auto shipped = loadThreads(dataFolder(), user);
        QVERIFY(shipped);
        QVERIFY(shipped->threads.size() > 20);
        Palette own = *shipped;
        QCOMPARE(mergePalette(own, palette()), std::size_t{3});
        QCOMPARE(mergePalette(own, palette()), std::size_t{0});
        QVERIFY(saveThreads(user, own));
        QVERIFY(*loadThreads(dataFolder(), user) == own);
        test::writeFile(dir.filePath("user/threads.json"), "{\"threads\":[{\"color\":\"red\"}]}");
        const auto broken = loadThreads(dataFolder(), user);
        QVERIFY(!broken);
        QVERIFY(broken.error().line().find("threads[0].color") != std::string::npos);
    }

    void recolouringChangesOnePieceOrAll() {
        Job job;
        job.pieces = {test::designPiece("a", threeRuns()), test::designPiece("b", threeRuns())};
        std::get<DesignContent>(job.pieces[1].content).member =
            std::get<DesignContent>(job.pieces[0].content).member;
        const Thread gold{1, {227, 167, 47}, 40, "Marigold"};
        const Job one = recolour({"a"}, sky, gold).change(job);
        QCOMPARE(threadsOf(one.pieces[0])[1].name, std::string("Marigold"));
        QCOMPARE(threadsOf(one.pieces[1])[1].name, std::string("Sky"));
        // The two no longer share a member of the archive: both survive the file.
        const auto back = unpackJob(*packJob(one), "x");
        QCOMPARE(threadsOf(back->pieces[0])[1].name, std::string("Marigold"));
        QCOMPARE(threadsOf(back->pieces[1])[1].name, std::string("Sky"));
        const Job all = recolour({}, sky, gold).change(job);
        for (const Thread& t : threadsOf(all)) QVERIFY(t.name != "Sky");
        // Stitches stay where they are.
        QCOMPARE(measure(stitchJob(all)->list).stitches, measure(stitchJob(job)->list).stitches);
    }

    void shapesAndOutlinesAreRecolouredToo() {
        ShapePart part = test::fillOf({test::rectangle(0, 0, 9, 9)});
        part.thread = sky;
        Job job;
        job.pieces = {test::shapePiece("a", part)};
        Outline outline;
        outline.thread = sky;
        job = setOutline({"a"}, outline).change(job);
        job = recolour({}, sky, tide).change(job);
        QCOMPARE(threadsOf(job).size(), std::size_t{1});
        QCOMPARE(measure(stitchJob(job)->list).threadChanges, std::size_t{0});
    }

    void joiningLikeThreadsSavesTheirStops() {
        Job job;
        StitchList list = threeRuns();
        // 1, 3, 2: the like ones follow each other.
        for (Stitch& s : list.stitches)
            s.thread = s.thread == 2 ? std::uint8_t{3} : s.thread == 3 ? std::uint8_t{2} : s.thread;
        job.pieces = {test::designPiece("a", list)};
        QCOMPARE(stops(job), std::size_t{2});
        QCOMPARE(measure(stitchJob(job)->list).threadChanges, std::size_t{2});
        const Job joined = joinLikeThreads(3).change(job);
        QCOMPARE(threadsOf(joined).size(), std::size_t{2});
        QCOMPARE(measure(stitchJob(joined)->list).threadChanges, std::size_t{1});
        QCOMPARE(stops(joined), std::size_t{1}); // the one at a true change stays
        QVERIFY(joinLikeThreads(0.01).change(job) == job);
    }

    void splittingByThreadSewsCopiesThreadByThread_data() {
        QTest::addColumn<bool>("design");
        QTest::addRow("design") << true;
        QTest::addRow("shape") << false;
    }
    void splittingByThreadSewsCopiesThreadByThread() {
        QFETCH(bool, design);
        Job job;
        if (design) {
            job.pieces = {test::designPiece("a", threeRuns(), 5, 6)};
        } else {
            Shape shape;
            const Thread threads[] = {tide, sky, tide};
            for (int k = 0; k < 3; ++k) {
                shape.parts.push_back(test::fillOf({test::rectangle(9.0 * k, 0, 7, 5)}));
                shape.parts.back().thread = threads[k];
            }
            job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 1, 1)}))};
            job.pieces[0].content = ShapeContent{std::make_shared<const Shape>(shape)};
        }
        Repeat grid;
        grid.pieces = {"a"};
        grid.columns = 5;
        job = setRepeat(grid).change(job);
        const Measures before = measure(stitchJob(job)->list);
        const Job split = splitByThread("a").change(job);
        QCOMPARE(split.pieces.size(), std::size_t{3});
        const Measures after = measure(stitchJob(split)->list);
        QCOMPARE(after.stitches, before.stitches);
        QVERIFY(after.extents == before.extents);
        VERIFY_NEAR(after.lengthMm, before.lengthMm, 40); // moves between runs lay no thread now
        QVERIFY(before.threadChanges >= 10);
        QCOMPARE(after.threadChanges, std::size_t{2});
        QVERIFY(splitByThread(split.pieces[0].id).change(split) == split);
        QVERIFY(unpackJob(*packJob(split), "x"));
    }

    void theThreadsOwnedTakeOver() {
        Job job;
        job.pieces = {test::designPiece("a", threeRuns())};
        const Job owned = useOwnedThreads(palette()).change(job);
        for (const Thread& t : threadsOf(owned)) QCOMPARE(t.name, std::string("Harbour"));
    }
};

RAPT_TEST(TestPalette)
#include "test_palette.moc"
