#include "check/check.h"
#include "estimate/playback.h"
#include "job/edit_weigh.h"
#include "load/live_load.h"
#include "load/perforation.h"
#include "load/safe_range.h"
#include "stitch_makers.h"
#include "thread/resize.h"
#include "thread/runs.h"

using namespace rapt;
using namespace rapt::test;

/// Safe ranges, findings of stitches and places, live maps, playing.
class TestWeigh : public QObject {
    Q_OBJECT

    Library lib = library();

    static StitchList fill(double w, double h, double spacing = 0.4) {
        StitchList list;
        sew(list, fillPoints(rectangleRows(w, h, spacing)));
        return list;
    }
    static StitchList satin(double width, double pitch = 0.4) {
        StitchList list;
        sew(list, satinPoints(
                      {{-20, 0}, {20, 0}}, [=](double) { return width; }, pitch));
        return list;
    }
    Job jobOf(const StitchList& list, double scale = 1, const char* fabric = "canvas") const {
        Job job;
        job.brief.fabric = fabric;
        job.pieces = {designPiece("piece", list)};
        job.pieces[0].pose.scaleX = job.pieces[0].pose.scaleY = scale;
        return job;
    }
    std::optional<Finding> found(const Job& job, const std::string& kind) const {
        const auto checked = judged(job, lib);
        if (!checked) qFatal("%s", checked.error().reason.c_str());
        for (const Finding& f : checked->findings)
            if (f.kind == kind) return f;
        return std::nullopt;
    }
    /// The finding is there, its remedy makes it go, and undoing brings it back.
    void verifyMended(const Job& job, const std::string& kind) const {
        const auto f = found(job, kind);
        QVERIFY2(f, kind.c_str());
        QVERIFY2(f->remedy(), f->text.c_str());
        const Job mended = f->remedy()->edit.change(job);
        QVERIFY2(!found(mended, kind), f->remedy()->label.c_str());
        QVERIFY(found(job, kind));
    }

private slots:
    void theSafeRangeHasBothItsEnds() {
        Fabric fabric = *lib.fabric("canvas");
        const StitchList design = fill(30, 24);
        const SafeRange range = safeRange(design, fabric);
        QVERIFY(!range.empty() && range.contains(1));
        // Rows of 0.40 mm gape from 1.25 thread widths on.
        VERIFY_NEAR(range.most.scale, 1.25, 0.02);
        QVERIFY(range.most.reason.find("cloth shows") != std::string::npos);
        // At the lower end the limit is just kept, a little below it is not.
        const auto share = [&](double k) {
            const auto list = resizeKeepingStitches(design, {k, k});
            const LoadSummary s = LoadMap::measure(*list)->summary();
            return std::max(s.peakLayers / fabric.maxLayers, s.peakHits / fabric.maxHits);
        };
        if (range.least.reason.find("layers") != std::string::npos) {
            QVERIFY(share(range.least.scale * 1.03) <= 1);
            QVERIFY(share(range.least.scale * 0.9) > 1);
        }
        fabric.maxLayers = 1.05;
        QVERIFY(safeRange(design, fabric).least.scale > range.least.scale);
        fabric.maxLayers = 0.5;
        QVERIFY(safeRange(design, fabric).empty());
        QVERIFY(!safeRange(StitchList{}, fabric).empty());
    }

    void gapingFillsAreRespaced() {
        Job job = jobOf(fill(20, 20), 1.6);
        job.pieces[0].keep = Keep::stitches;
        verifyMended(job, "gaping");
        job.pieces[0].keep = Keep::spacing;
        QVERIFY(!found(job, "gaping"));
        QVERIFY(!found(jobOf(fill(20, 20, 0.8)), "gaping")); // meant to be open
    }

    void shortAndLongStitchesAreMended() {
        Job job = jobOf(satin(2.2), 0.2);
        job.pieces[0].keep = Keep::stitches;
        QVERIFY(found(job, "short-stitches"));
        verifyMended(jobOf(satin(9)), "column-wide");
        QVERIFY(!found(jobOf(satin(9)), "long-stitches")); // said once
        Polyline run;
        for (int i = 0; i < 9; ++i) run.push_back({9.0 * i, 0});
        verifyMended(jobOf(listThrough(run)), "long-stitches");
        // Rows of a fill go on by lone short steps.
        QVERIFY(!found(jobOf(fill(20, 20)), "short-stitches"));
    }

    void thinColumnsAreEnlarged() { verifyMended(jobOf(satin(1.2), 1, "terry"), "column-thin"); }

    void unrecognisedStitchesAreSaid() {
        Dice dice(2);
        Polyline points;
        for (int i = 0; i < 40; ++i) points.push_back({dice.between(-9, 9), dice.between(-9, 9)});
        const auto f = found(jobOf(listThrough(points), 0.8), "unrecognised");
        QVERIFY(f && f->severity == Severity::note && f->at);
        QVERIFY(!found(jobOf(listThrough(points)), "unrecognised")); // nothing was laid afresh
    }

    void coatedClothTearsAlongALine() {
        const auto lines = perforatedLines(satin(4), 2.0);
        QVERIFY(!lines.empty());
        VERIFY_NEAR(lines[0].hitsPerMm, 2.5, 0.31);
        VERIFY_NEAR(lines[0].directionDeg, 0, 8);
        QVERIFY(perforatedLines(satin(4, 0.6), 2.0).empty());
        verifyMended(jobOf(satin(4), 1, "coated"), "perforated");
        QVERIFY(!found(jobOf(satin(4)), "perforated"));
    }

    void placesOfTheClothAreJudged() {
        Job job = jobOf(fill(20, 16));
        job.cloth.forbiddenZones.push_back({{{8, 0}, 4, {}}, "the zip", {}});
        const auto f = found(job, "forbidden-zone");
        QVERIFY(f && f->severity == Severity::stop);
        QVERIFY(f->text.find("the zip") != std::string::npos);
        verifyMended(job, "forbidden-zone");
        job.cloth.forbiddenZones.clear();
        job.cloth.thickZones.push_back({{{0, 0}, 5, rectangle(-3, -3, 6, 6)}, 0.6, {}});
        verifyMended(job, "thick-zone");
        job.cloth.thickZones.clear();
        job.cloth.guides.push_back({"side seam", {{-30, 2}, {30, 2}}, true});
        QVERIFY(found(job, "seam-cover"));
        job.cloth.guides[0].seam = false;
        QVERIFY(!found(job, "seam-cover"));
    }

    void oneMoveClearsEveryPlaceAndDangerComesFirst() {
        Job job = jobOf(fill(20, 16));
        for (int i = 0; i < 4; ++i) job.pieces.push_back(job.pieces[0]);
        for (int i = 1; i < 5; ++i) job.pieces[i].id = "more" + std::to_string(i);
        job.cloth.forbiddenZones.push_back({{{8, 0}, 4, {}}, "the zip", {}});
        job.cloth.guides.push_back({"side seam", {{-30, 2}, {30, 2}}, true});
        const auto checked = checkJob(job, lib);
        QVERIFY(bool(checked) && checked->findings.size() > 3);
        QCOMPARE(checked->findings[0].kind, std::string("forbidden-zone"));
        QVERIFY(found(job, "layers"));
        job.pieces.resize(1);
        const auto zip = found(job, "forbidden-zone");
        QVERIFY(zip && zip->remedy());
        const Job moved = zip->remedy()->edit.change(job);
        QVERIFY(!found(moved, "forbidden-zone") && !found(moved, "seam-cover"));
    }

    void looseThreadsGetATrim() {
        StitchList list = listThrough({{0, 0}, {2, 0}});
        list.stitches.push_back(stitchAt(Op::jump, {40, 0}, 1));
        list.stitches.push_back(stitchAt(Op::stitch, {40, 0}, 1));
        verifyMended(jobOf(list), "long-jumps");
    }

    void aPileUpHasSeveralRemedies() {
        Job job;
        job.brief.fabric = "sheer"; // takes 2.2 layers
        StitchList upper;
        sew(upper, fillPoints(discRows(8)), 2);
        job.pieces = {designPiece("low", fill(30, 24)), designPiece("middle", fill(28, 22)),
                      designPiece("up", upper)};
        const auto f = found(job, "layers");
        QVERIFY(f && f->remedy() && f->remedies.size() > 1);
        QVERIFY(f->remedy()->label.starts_with("Relieve low and middle"));
        QVERIFY(f->remedy()->effect.find("stitches fewer") != std::string::npos);
        for (const Remedy& r : f->remedies) {
            const auto after = checkJob(r.edit.change(job), lib);
            QVERIFY(after->load.layers(cellAt(*f->at)) <= *f->limit);
        }
    }

    void runsCanBeLeftOut() {
        StitchList two = fill(10, 8);
        sew(two, runPoints({{0, 20}, {10, 20}}), 2);
        sew(two, runPoints({{0, 30}, {10, 30}}), 1);
        QCOMPARE(runsOf(two).size(), std::size_t{3});
        const StitchList without = withoutRuns(two, {2});
        QCOMPARE(measure(without).threadChanges, std::size_t{0});
        QCOMPARE(measure(without).stitches, measure(two).stitches - 5);
        const Job whole = jobOf(two);
        const Job job = leaveOutRun("piece", 2, true).change(whole);
        QCOMPARE(measure(stitchJob(job)->list).stitches, measure(without).stitches);
        QCOMPARE(leaveOutRun("piece", 2, false).change(job), whole);
    }

    void aLiveMapIsTheMeasuredOne() {
        Job job;
        job.pieces = {designPiece("a", fill(30, 24)), designPiece("b", fill(12, 12), 5, 5)};
        const auto here = stitchJob(job);
        LiveLoad live(job.cloth.box());
        live.add(here->list, 0, here->list.stitches.size());
        QVERIFY(live.map().summary().peakLayers > 1.9);
        const PieceSpan& b = here->spans[1];
        Affine last;
        for (int k = 1; k <= 20; ++k) { // a drag in steps
            const Affine now{1, 0, 0, 1, 1.3 * k, -0.7 * k};
            live.move(here->list, b.first, b.last, last, now);
            last = now;
            live.map();
            QVERIFY(live.changedTiles().size() <= 16);
        }
        const auto there = stitchJob(movePieces({"b"}, {26, -14}).change(job));
        const auto measured = LoadMap::measure(there->list);
        for (double x = -30; x < 50; x += 0.8)
            for (double y = -30; y < 30; y += 0.8) {
                VERIFY_NEAR(live.map().layers(cellAt({x, y})), measured->layers(cellAt({x, y})),
                            2e-3);
                VERIFY_NEAR(live.map().hits(cellAt({x, y})), measured->hits(cellAt({x, y})), 2e-3);
            }
    }

    void playingGrowsTheMapStitchByStitch() {
        const StitchList list = fill(20, 16);
        LiveLoad live(Box::centredAt({0, 0}, 60, 60));
        for (std::size_t i = 0; i < list.stitches.size(); i += 7)
            live.add(list, i, std::min(i + 7, list.stitches.size()));
        VERIFY_NEAR(live.map().summary().peakLayers, LoadMap::measure(list)->summary().peakLayers,
                    1e-3);
    }

    void thePlayheadStepsAndKeepsTime() {
        StitchList list = fill(10, 8);
        sew(list, runPoints({{0, 20}, {10, 20}}), 2);
        Job job = jobOf(list);
        const auto stitched = stitchJob(job);
        const TimeLine time = timeLineOf(stitched->list, stitched->spans,
                                         *lib.machine("six-needle"), *lib.fabric("canvas"));
        const StitchList& sewn = stitched->list;
        QCOMPARE(placeAt(time, sewn, -1), Playhead{0});
        QCOMPARE(placeAt(time, sewn, 1e9), sewn.stitches.size());
        double last = -1;
        for (Playhead p = time.runs[0].first; p < sewn.stitches.size(); p += 3) {
            const double s = secondsAt(time, sewn, p);
            QVERIFY(s >= last);
            last = s;
            const auto back = static_cast<double>(placeAt(time, sewn, s));
            VERIFY_NEAR(back, static_cast<double>(p), 4);
        }
        const Playhead change = stepFrom(time, sewn, 0, PlayStep::change, true);
        QCOMPARE(change, time.runs[1].first);
        QCOMPARE(stepFrom(time, sewn, change, PlayStep::change, true), sewn.stitches.size());
        QCOMPARE(stepFrom(time, sewn, sewn.stitches.size(), PlayStep::change, false), change);
        const Playhead one = stepFrom(time, sewn, change, PlayStep::stitch, true);
        QCOMPARE(stitchesDone(sewn, one), stitchesDone(sewn, change) + 1);
        QCOMPARE(stitchesDone(sewn, stepFrom(time, sewn, one, PlayStep::stitch, false)),
                 stitchesDone(sewn, change));
    }

    void fabricsAreKeptInTheUsersLibrary() {
        QTemporaryDir dir;
        const std::string folder = dir.filePath("user").toStdString();
        Fabric fabric = *lib.fabric("canvas");
        QVERIFY(problemsOf(fabric).empty());
        QCOMPARE(sourceOf(fabric), std::string("house value"));
        fabric.maxLayers = 4.2;
        fabric.maxLineHits = 3;
        fabric.stitchOuts = 5;
        fabric.topper = "film";
        QVERIFY(saveUserFabric(fabric, folder));
        Fabric other = *lib.fabric("felt");
        other.leastColumnMm = 1.5;
        QVERIFY(saveUserFabric(other, folder));
        const auto read = loadLibrary(dataFolder(), folder);
        QVERIFY(read);
        QCOMPARE(*read->fabric("canvas"), fabric);
        QCOMPARE(read->fabric("felt")->leastColumnMm, 1.5);
        QCOMPARE(sourceOf(*read->fabric("canvas")), std::string("learnt from 5 stitch-outs"));
        fabric.maxLineHits.reset();
        QVERIFY(saveUserFabric(fabric, folder));
        QVERIFY(!loadLibrary(dataFolder(), folder)->fabric("canvas")->maxLineHits);
        fabric.maxLayers = -1;
        QCOMPARE(problemsOf(fabric).size(), std::size_t{1});
        test::writeFile(dir.filePath("user/fabrics.json"), "{ not json");
        QVERIFY(!saveUserFabric(other, folder)); // what cannot be read is not overwritten
        QCOMPARE(test::readFile(dir.filePath("user/fabrics.json")), QByteArray("{ not json"));
    }
};

RAPT_TEST(TestWeigh)
#include "test_weigh.moc"
