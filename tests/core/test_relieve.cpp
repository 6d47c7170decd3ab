#include "formats/job_file.h"
#include "job/edit_weigh.h"
#include "job/expansion.h"
#include "load/load_map.h"
#include "relieve/cover.h"
#include "relieve/cut_list.h"
#include "stitch_makers.h"

using namespace rapt;
using namespace rapt::test;

/// What later pieces hide of earlier ones is left out.
class TestRelieve : public QObject {
    Q_OBJECT

    static StitchList fill(double w, double h) {
        StitchList list;
        sew(list, fillPoints(rectangleRows(w, h)));
        return list;
    }
    static StitchList disc(double r, std::uint8_t thread = 2) {
        StitchList list;
        sew(list, fillPoints(discRows(r)), thread);
        return list;
    }
    static Job overlapping(Vec2 at) {
        Job job;
        job.pieces = {designPiece("low", fill(40, 30)), designPiece("up", disc(10), at.x, at.y)};
        return job;
    }
    static Job relieved(const Job& job) { return setRelief(idsOf(job), Relief{}).change(job); }
    static StitchList spanOf(const StitchedJob& s, const std::string& id) {
        StitchList list;
        list.threads = s.list.threads;
        for (const PieceSpan& span : s.spans)
            if (span.id == id)
                list.stitches.assign(
                    s.list.stitches.begin() + static_cast<std::ptrdiff_t>(span.first),
                    s.list.stitches.begin() + static_cast<std::ptrdiff_t>(span.last));
        return list;
    }
    static double layersAt(const StitchList& list, Vec2 at) {
        return LoadMap::measure(list)->layers(cellAt(at));
    }
    /// The longest thread laid inside a disc.
    static double acrossDisc(const StitchList& list, Vec2 centre, double r) {
        const Region hole({arcLine(r, 0, 2 * std::numbers::pi)});
        double most = 0;
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* last) {
            if (last && last->op != Op::jump)
                most = std::max(most,
                                hole.insideMm(last->at() - centre, list.stitches[i].at() - centre));
        });
        return most;
    }

private slots:
    void twoFillsOnEachOtherWeighAsOne() {
        const Job job = overlapping({3, 2});
        const auto before = stitchJob(job), after = stitchJob(relieved(job));
        QVERIFY(before && after);
        QVERIFY(LoadMap::measure(before->list)->summary().peakLayers > 1.9);
        for (double x = -5; x <= 11; x += 1)
            for (double y = -6; y <= 10; y += 1)
                if (distance({x, y}, {3, 2}) < 10 - 0.8 - 1.4)
                    QVERIFY(layersAt(after->list, {x, y}) <= 1.35);
        // The upper piece is the same stitch for stitch.
        QCOMPARE(spanOf(*after, "up").stitches, spanOf(*before, "up").stitches);
        QVERIFY(stitchesOfPiece(*after, "low") < stitchesOfPiece(*before, "low"));
    }

    void nothingIsLostOutsideAndATuckStays() {
        const Job job = overlapping({3, 2});
        const StitchList before = spanOf(*stitchJob(job), "low");
        const StitchList after = spanOf(*stitchJob(relieved(job)), "low");
        const auto was = LoadMap::measure(before), is = LoadMap::measure(after);
        for (double x = -19; x < 19; x += 0.8)
            for (double y = -14; y < 14; y += 0.8) {
                const double off = distance({x, y}, {3, 2});
                // Away from the cut by the window's half diagonal nothing is less than it was.
                if (off > 10 - 0.8 + 1.9)
                    QVERIFY(is->layers(cellAt({x, y})) > was->layers(cellAt({x, y})) - 0.06);
                if (off < 10 - 0.8 - 1.5) QVERIFY(is->layers(cellAt({x, y})) < 0.05);
            }
        QVERIFY(acrossDisc(after, {3, 2}, 9) < 0.8);
    }

    void cutThreadsAreTiedAndTheNeedleJumps() {
        // A hole in the middle: the rows on both sides are sewn apart.
        const StitchList after = spanOf(*stitchJob(relieved(overlapping({0, 0}))), "low");
        const Measures m = measure(after);
        QVERIFY(m.trims >= 1);
        for (std::size_t i = 1; i + 1 < after.stitches.size(); ++i) {
            if (after.stitches[i].op != Op::trim) continue;
            // Two small stitches before a cut, the needle going back and forth.
            for (std::size_t k = i - 2; k < i; ++k)
                QVERIFY(spanMm(after.stitches[k - 1], after.stitches[k]) < 0.75);
            QCOMPARE(after.stitches[i + 1].op, Op::jump);
        }
    }

    void openDetailAndRunsHideNothing() {
        StitchList open;
        sew(open, fillPoints(rectangleRows(20, 20, 0.8)), 2); // half a layer
        StitchList runs;
        for (int i = 0; i < 30; ++i)
            sew(runs, runPoints({{-8, -6 + 0.4 * i}, {8, -6 + 0.4 * i}}), 2);
        for (const StitchList& upper : {open, runs}) {
            Job job = overlapping({0, 0});
            job.pieces[1] = designPiece("up", upper);
            QCOMPARE(stitchJob(relieved(job))->list.stitches, stitchJob(job)->list.stitches);
        }
        QVERIFY(denseCover(runs, 0.7).empty());
        QVERIFY(denseCover(open, 0.7).empty());
        QVERIFY(denseCover(open, 0.4).size() == 1);
    }

    void theCoverIsTheOutlineOfFillsAndSatins() {
        VERIFY_NEAR(areaOf(denseCover(disc(10), 0.7)), std::numbers::pi * 100, 8);
        StitchList satin;
        sew(satin, satinPoints(arcLine(15, 0, 4), [](double) { return 5; }));
        VERIFY_NEAR(areaOf(denseCover(satin, 0.7)), 15 * 4 * 5, 12);
        // Two thin fills on each other hide as one dense one does.
        StitchList two;
        sew(two, fillPoints(rectangleRows(20, 20, 0.8)));
        sew(two, fillPoints(rectangleRows(20, 20, 0.8), true, 3, 90));
        VERIFY_NEAR(areaOf(denseCover(two, 0.7)), 400, 30);
    }

    void movingAPieceRelievesAnew() {
        const Job whole = overlapping({3, 2});
        Job job = relieved(whole);
        StitchCache cache;
        const auto here = stitchJob(job, &cache);
        job = movePieces({"up"}, {60, 0}).change(job); // off the lower one
        QCOMPARE(spanOf(*stitchJob(job, &cache), "low").stitches,
                 spanOf(*stitchJob(overlapping({63, 2})), "low").stitches);
        job = movePieces({"up"}, {-60, 0}).change(job);
        QCOMPARE(stitchJob(job, &cache)->list.stitches, here->list.stitches);
        // Made whole again it is what it was.
        job = setRelief(idsOf(job), {}).change(job);
        QCOMPARE(job, whole);
    }

    void relievingTwiceIsRelievingOnce() {
        const StitchList low = fill(40, 30);
        const Contours cover = denseCover(disc(10), 0.7);
        const Region hidden(cover), removed(offsetContours(cover, -0.8));
        const StitchList once = cutOut(low, removed, hidden);
        const StitchList twice = cutOut(once, removed, hidden);
        VERIFY_NEAR(measure(twice).lengthMm, measure(once).lengthMm, 0.02 * measure(once).lengthMm);
    }

    void tinyHiddenRemainsGo() {
        // All but the tuck is hidden: a ring of 0.8 mm stays, an islet of 1 mm² does not.
        StitchList islet;
        sew(islet, fillPoints(rectangleRows(2.2, 2.0)));
        const Contours cover = denseCover(disc(10), 0.7);
        const Region hidden(cover), removed({arcLine(0.9, 0, 6.2832)});
        QCOMPARE(measure(cutOut(islet, removed, hidden)).stitches, std::size_t{0});
        // What can be seen stays, however small.
        const Region small({rectangle(-0.5, -0.5, 1, 1)});
        QVERIFY(measure(cutOut(islet, removed, small)).stitches > 0);
    }

    void shapesChangeTheirOutline() {
        Job job;
        job.pieces = {shapePiece("low", fillOf({rectangle(-20, -15, 40, 30)})),
                      designPiece("up", disc(10), 0, 0)};
        const auto after = stitchJob(relieved(job));
        const StitchList low = spanOf(*after, "low");
        QVERIFY(layersAt(low, {0, 0}) < 0.05);
        VERIFY_NEAR(layersAt(low, {-16, 0}), 1, 0.15);
        QVERIFY(acrossDisc(low, {0, 0}, 8.8) < 1.2);
        QCOMPARE(std::get<ShapeContent>(relieved(job).pieces[0].content),
                 std::get<ShapeContent>(job.pieces[0].content));
    }

    void copiesHideAndGiveWayWhereTheyStand() {
        Job job = overlapping({12, 0});
        job.pieces[0].pose = {5, 3, 40, true, 1, 1};
        const StitchList low = spanOf(*stitchJob(relieved(job)), "low");
        QVERIFY(layersAt(low, {12, 0}) < 0.05);
    }

    void itIsSavedAndReadWithoutDrift() {
        Job job = relieved(overlapping({3, 2}));
        job.pieces[0].respacing.spacingMm = 0.45;
        job.pieces[0].leftOutRuns = {2};
        job.trimOverMm = 4;
        job.cloth.forbiddenZones.push_back({{{1, 2}, 5, {}}, "button", {}});
        job.cloth.thickZones.push_back({{{1, 2}, 5, rectangle(0, 0, 3, 3)}, 0.6, {}});
        job.cloth.guides.push_back({"seam", {{0, 0}, {9, 1}}, true});
        QTemporaryDir dir;
        const std::string path = dir.filePath("a.rapt").toStdString();
        QVERIFY(writeJobFile(path, job));
        const auto read = readJobFile(path);
        QVERIFY(read);
        for (std::size_t i = 0; i < job.pieces.size(); ++i) {
            QCOMPARE(read->pieces[i].respacing, job.pieces[i].respacing);
            QCOMPARE(read->pieces[i].relief, job.pieces[i].relief);
            QCOMPARE(read->pieces[i].leftOutRuns, job.pieces[i].leftOutRuns);
        }
        QCOMPARE(read->cloth, job.cloth);
        QCOMPARE(read->trimOverMm, job.trimOverMm);
        QCOMPARE(stitchJob(*read)->list.stitches, stitchJob(job)->list.stitches);
    }
};

RAPT_TEST(TestRelieve)
#include "test_relieve.moc"
