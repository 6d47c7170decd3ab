#include "support.h"

#include "check/check.h"
#include "divide/hooping_lists.h"
#include "formats/job_file.h"
#include "geometry/segment_grid.h"
#include "job/edit_copies.h"
#include "job/expansion.h"
#include "job/outline.h"
#include "place/sizing.h"
#include "thread/measures.h"

#include <random>

using namespace rapt;

namespace {

Hoop field(double w, double h, Hoop::Shape shape = Hoop::Shape::rect) {
    Hoop hoop;
    hoop.widthMm = w;
    hoop.heightMm = h;
    hoop.shape = shape;
    return hoop;
}

/// A flag that no mirror or turn maps onto itself.
ShapePart flag(double angle = 0) {
    return test::fillOf({{{0, 0}, {12, 0}, {12, 4}, {4, 8}, {0, 8}}}, angle);
}

Job jobWith(Piece piece, Repeat repeat) {
    Job job;
    job.cloth = {600, 600, {}, {}, {}};
    repeat.pieces = {piece.id};
    job.pieces.push_back(std::move(piece));
    return setRepeat(std::move(repeat)).change(job);
}

Repeat grid(int columns, int rows, double across, double down, bool byGap = true) {
    Repeat r;
    r.kind = Repeat::Kind::grid;
    r.columns = columns;
    r.rows = rows;
    r.acrossMm = across;
    r.downMm = down;
    r.byGap = byGap;
    return r;
}

std::vector<PieceSpan> spansOf(const Job& job) {
    const auto stitched = stitchJob(job);
    if (!stitched) qFatal("%s", stitched.error().line().c_str());
    return stitched->spans;
}

Outline rectangleOutline(double w, double h) {
    Outline o;
    o.widthMm = w;
    o.heightMm = h;
    o.thread = {1, {200, 30, 30}, 40, "Cut line"};
    return o;
}

} // namespace

/// Linked copies, outlines, and what becomes of them in stitches and hoopings.
class TestCopies : public QObject {
    Q_OBJECT
private slots:
    void aGridByGapLeavesThatMuchBareGround() {
        const auto spans =
            spansOf(jobWith(test::shapePiece("flag", flag(), -50, -40), grid(3, 2, 5, 7)));
        QCOMPARE(spans.size(), std::size_t{6});
        VERIFY_NEAR(spans[1].extents.minX - spans[0].extents.maxX, 5, 1e-4);
        VERIFY_NEAR(spans[3].extents.minY - spans[0].extents.maxY, 7, 1e-4);
        VERIFY_NEAR(spans[5].extents.minX - spans[4].extents.maxX, 5, 1e-4);
        QCOMPARE(spans[5].id, std::string("flag#6"));
        QCOMPARE(spans[5].source, std::string("flag"));
    }

    void aGridByPitchIsFromMiddleToMiddle() {
        const auto spans =
            spansOf(jobWith(test::shapePiece("flag", flag()), grid(2, 2, 20, 15, false)));
        VERIFY_NEAR(spans[1].extents.centre().x - spans[0].extents.centre().x, 20, 1e-4);
        VERIFY_NEAR(spans[2].extents.centre().y - spans[0].extents.centre().y, 15, 1e-4);
    }

    void theGapStaysWhenTheOriginalIsResized() {
        Job job = jobWith(test::shapePiece("flag", flag()), grid(2, 1, 5, 5));
        job.pieces[0].pose.scaleX = 2;
        const auto spans = spansOf(job);
        VERIFY_NEAR(spans[0].extents.width(), 24, 0.05);
        VERIFY_NEAR(spans[1].extents.minX - spans[0].extents.maxX, 5, 1e-4);
    }

    void copiesAlongALineKeepTheirGapInItsDirection() {
        Repeat r;
        r.kind = Repeat::Kind::line;
        r.count = 4;
        r.acrossMm = 3;
        r.directionDeg = 90;
        const auto spans = spansOf(jobWith(test::shapePiece("flag", flag()), r));
        QCOMPARE(spans.size(), std::size_t{4});
        VERIFY_NEAR(spans[3].extents.minY - spans[2].extents.maxY, 3, 1e-4);
        VERIFY_NEAR(spans[3].extents.minX, spans[0].extents.minX, 1e-4);
    }

    void copiesRoundACircleTurnAboutItsMiddle() {
        Repeat r;
        r.kind = Repeat::Kind::circle;
        r.count = 6;
        r.centre = {10, -5};
        const Job job = jobWith(test::shapePiece("flag", flag(), 40, -9), r);
        StitchCache cache;
        const auto placed = placedPieces(job, cache);
        QCOMPARE(placed.size(), std::size_t{6});
        for (int n = 0; n < 6; ++n) {
            const Pose& pose = placed[static_cast<std::size_t>(n)].piece.pose;
            VERIFY_NEAR(distance({pose.x, pose.y}, r.centre), std::hypot(30, -4), 1e-9);
            VERIFY_NEAR(normalizedDegrees(pose.rotationDeg - 60 * n), 0, 1e-9);
        }
        Repeat upright = job.repeats[0];
        upright.turned = false;
        for (const PlacedPiece& p : placedPieces(setRepeat(upright).change(job), cache))
            VERIFY_NEAR(p.piece.pose.rotationDeg, 0, 1e-12);
    }

    void anArcHasACopyAtBothEnds() {
        Repeat r;
        r.kind = Repeat::Kind::circle;
        r.count = 3;
        r.sweepDeg = 90;
        StitchCache cache;
        const auto placed =
            placedPieces(jobWith(test::shapePiece("flag", flag(), 40, 0), r), cache);
        VERIFY_NEAR(placed[2].piece.pose.x, 0, 1e-9);
        VERIFY_NEAR(placed[2].piece.pose.y, 40, 1e-9);
    }

    void mirroredCopiesAreTheImageInTheDatumLines_data() {
        QTest::addColumn<double>("rotation");
        QTest::addColumn<bool>("mirror");
        for (const double rotation : {0.0, 30.0, -100.0})
            for (const bool mirror : {false, true})
                QTest::addRow("%.0f %d", rotation, mirror) << rotation << mirror;
    }
    void mirroredCopiesAreTheImageInTheDatumLines() {
        QFETCH(double, rotation);
        QFETCH(bool, mirror);
        Repeat r;
        r.kind = Repeat::Kind::mirror;
        r.nearFar = true;
        Piece piece = test::shapePiece("flag", flag(20), 60, 45);
        piece.pose.rotationDeg = rotation;
        piece.pose.mirror = mirror;
        const auto stitched = stitchJob(jobWith(piece, r));
        QVERIFY(stitched);
        QCOMPARE(stitched->spans.size(), std::size_t{4});
        const Vec2 signs[] = {{1, 1}, {-1, 1}, {1, -1}, {-1, -1}};
        const auto& all = stitched->list.stitches;
        const PieceSpan& first = stitched->spans[0];
        for (std::size_t k = 1; k < 4; ++k) {
            const PieceSpan& copy = stitched->spans[k];
            // The first span has no trim before its jump.
            const std::size_t from = copy.last - (first.last - first.first);
            for (std::size_t i = first.first; i < first.last; ++i) {
                const Vec2 p = all[i].at();
                const Vec2 q = all[from + i - first.first].at();
                VERIFY_NEAR(q.x, signs[k].x * p.x, 2e-5);
                VERIFY_NEAR(q.y, signs[k].y * p.y, 2e-5);
            }
        }
    }

    void exceptionsAreNumberedAndLeaveTheOthersAlone() {
        Job job = jobWith(test::shapePiece("flag", flag()), grid(4, 1, 5, 5));
        const auto before = spansOf(job);
        const std::string id = job.repeats[0].id;
        job = setException(id, {2, true, {}, 0}).change(job);
        job = setException(id, {3, false, {1.5, -2}, 0}).change(job);
        const auto after = spansOf(job);
        QCOMPARE(after.size(), std::size_t{3});
        QCOMPARE(after[1].id, std::string("flag#3"));
        VERIFY_NEAR(after[1].extents.minX - before[2].extents.minX, 1.5, 1e-4);
        VERIFY_NEAR(after[1].extents.minY - before[2].extents.minY, -2, 1e-4);
        QVERIFY(after[2].extents == before[3].extents);
        job = setException(id, {2, false, {}, 0}).change(job);
        QCOMPARE(spansOf(job).size(), std::size_t{4});
        QCOMPARE(job.repeats[0].exceptions.size(), std::size_t{1});
    }

    void aTurnedExceptionKeepsItsMiddle() {
        Job job = jobWith(test::shapePiece("flag", flag()), grid(2, 1, 5, 5));
        const Vec2 before = spansOf(job)[1].extents.centre();
        job = setException(job.repeats[0].id, {2, false, {}, 90}).change(job);
        const Box box = spansOf(job)[1].extents;
        VERIFY_NEAR(distance(box.centre(), before), 0, 0.3);
        VERIFY_NEAR(box.height(), 12, 0.05);
    }

    void anEditOfTheOriginalChangesAllAndUnlinkingKeepsWhatIsSewn() {
        Job job = jobWith(test::shapePiece("flag", flag(), 30, 20), [] {
            Repeat r;
            r.kind = Repeat::Kind::mirror;
            r.nearFar = true;
            return r;
        }());
        job = turnPieces({"flag"}, 25, {30, 20}).change(job);
        const auto linked = stitchJob(job);
        const Job apart = unlinkCopies(job.repeats[0].id).change(job);
        QCOMPARE(apart.pieces.size(), std::size_t{4});
        QVERIFY(apart.repeats.empty());
        const auto unlinked = stitchJob(apart);
        QCOMPARE(unlinked->list.stitches.size(), linked->list.stitches.size());
        for (std::size_t i = 0; i < linked->list.stitches.size(); ++i)
            QVERIFY(distance(unlinked->list.stitches[i].at(), linked->list.stitches[i].at()) <
                    2e-5);
        // From here on they are apart.
        const auto moved = stitchJob(movePieces({"flag"}, {5, 0}).change(apart));
        QVERIFY(moved->spans[1].extents == unlinked->spans[1].extents);
    }

    void copiesOfSeveralPiecesKeepTheirLayout() {
        Job job;
        job.cloth = {600, 600, {}, {}, {}};
        job.pieces = {test::shapePiece("a", flag(), 0, 0), test::shapePiece("b", flag(), 20, 10)};
        Repeat r = grid(3, 1, 4, 4);
        r.pieces = {"a", "b"};
        job = setRepeat(r).change(job);
        const auto spans = spansOf(job);
        QCOMPARE(spans.size(), std::size_t{6});
        // All copies of the first, then all of the second: one thread change, not five.
        QCOMPARE(spans[2].source, std::string("a"));
        QCOMPARE(spans[3].source, std::string("b"));
        VERIFY_NEAR(spans[1].extents.minX - spans[0].extents.minX, 32 + 4, 1e-4);
        VERIFY_NEAR(spans[4].extents.minX - spans[3].extents.minX, 32 + 4, 1e-4);
    }

    void asManyAsTheFieldHolds() {
        Repeat r = grid(1, 1, 5, 5);
        const Box box{0, 0, 30, 20};
        // 180 wide with 2.5 left at each side: 5 × 30 + 4 × 5 = 170, a sixth would need 205.
        const GridSize n = gridThatFits(r, box, field(180, 130), 0, 2.5);
        QCOMPARE(n.columns, 5);
        QCOMPARE(n.rows, 5);
        // Exactly full counts.
        QCOMPARE(gridThatFits(r, box, field(170, 20), 0, 0).columns, 5);
        QCOMPARE(gridThatFits(r, box, field(170, 20), 0, 0).rows, 1);
        QCOMPARE(gridThatFits(r, box, field(10, 10), 0, 0).columns, 0);
        // A field that stands upright, and one without corners.
        QCOMPARE(gridThatFits(r, box, field(170, 30), 90, 0).rows, 7);
        QCOMPARE(gridThatFits(r, box, field(60, 135), 90, 0).columns, 4);
        QCOMPARE(gridThatFits(r, box, field(66, 46), 0, 0).columns, 2);
        QCOMPARE(gridThatFits(r, box, field(66, 46, Hoop::Shape::oval), 0, 0).columns, 1);
    }

    void outlinesAreExact_data() {
        QTest::addColumn<int>("form");
        QTest::addColumn<double>("corner");
        QTest::addRow("rectangle") << 0 << 0.0;
        QTest::addRow("rounded") << 0 << 6.0;
        QTest::addRow("oval") << 1 << 0.0;
    }
    void outlinesAreExact() {
        QFETCH(int, form);
        QFETCH(double, corner);
        Piece piece = test::shapePiece("tag", flag(), 17.3, -4);
        piece.pose.scaleX = piece.pose.scaleY = 1.7;
        piece.outline = rectangleOutline(61.3, 33.7);
        piece.outline->form = static_cast<Outline::Form>(form);
        piece.outline->cornerMm = corner;
        Job job;
        job.pieces.push_back(piece);
        const auto spans = spansOf(job);
        QCOMPARE(spans.size(), std::size_t{2});
        QVERIFY(spans[0].outline);
        QCOMPARE(spans[0].id, std::string("tag:outline"));
        VERIFY_NEAR(spans[0].extents.width(), 61.3, 1e-4);
        VERIFY_NEAR(spans[0].extents.height(), 33.7, 1e-4);
        VERIFY_NEAR(distance(spans[0].extents.centre(), spans[1].extents.centre()), 0, 1e-3);
        const auto stitched = stitchJob(job);
        // Its own thread, first, closed, with stitches of at most its own length.
        QCOMPARE(stitched->list.threads[0].name, std::string("Cut line"));
        std::vector<Vec2> points;
        for (std::size_t i = spans[0].first; i < spans[0].last; ++i)
            if (stitched->list.stitches[i].op == Op::stitch)
                points.push_back(stitched->list.stitches[i].at());
        VERIFY_NEAR(distance(points.front(), points.back()), 0, 1e-4);
        for (std::size_t i = 1; i < points.size(); ++i)
            QVERIFY(distance(points[i - 1], points[i]) <= 2.5 + 1e-4);
    }

    void aContourOutlineKeepsItsDistanceFromTheStitches() {
        Piece piece = test::shapePiece("flag", flag(30));
        piece.outline = rectangleOutline(1, 1);
        piece.outline->form = Outline::Form::contour;
        piece.outline->offsetMm = 2.5;
        Job job;
        job.pieces.push_back(piece);
        const auto stitched = stitchJob(job);
        std::vector<Segment> threads;
        const PieceSpan& body = stitched->spans[1];
        for (std::size_t i = body.first + 1; i < body.last; ++i)
            if (stitched->list.stitches[i].op == Op::stitch)
                threads.push_back(
                    {stitched->list.stitches[i - 1].at(), stitched->list.stitches[i].at()});
        const SegmentGrid grid(threads);
        const PieceSpan& line = stitched->spans[0];
        VERIFY_NEAR(line.extents.width(), body.extents.width() + 5, 0.2);
        VERIFY_NEAR(line.extents.height(), body.extents.height() + 5, 0.2);
        for (std::size_t i = line.first; i < line.last; ++i)
            VERIFY_NEAR(grid.nearest(stitched->list.stitches[i].at(), 10)->distance, 2.5, 0.1);
    }

    void outlinesOfAllCopiesAreSewnFirstAsOneThreadRun() {
        Piece piece = test::shapePiece("tag", flag());
        piece.outline = rectangleOutline(20, 14);
        const Job job = jobWith(piece, grid(4, 3, 2, 2));
        const auto stitched = stitchJob(job);
        QCOMPARE(stitched->spans.size(), std::size_t{24});
        for (std::size_t i = 0; i < 24; ++i) QCOMPARE(stitched->spans[i].outline, i < 12);
        QCOMPARE(measure(stitched->list).threadChanges, std::size_t{1});
        // The gap is between outlines, which are larger than the pieces.
        VERIFY_NEAR(stitched->spans[1].extents.minX - stitched->spans[0].extents.maxX, 2, 1e-4);
    }

    void hiddenPiecesAreNotSewnAndThatIsSaid() {
        Job job;
        job.pieces = {test::shapePiece("a", flag()), test::shapePiece("b", flag(), 30, 0)};
        job = setHidden({"b"}, true).change(job);
        QCOMPARE(spansOf(job).size(), std::size_t{1});
        const auto checked = checkJob(job, test::library());
        QVERIFY(checked);
        const auto found = std::find_if(checked->findings.begin(), checked->findings.end(),
                                        [](const Finding& f) { return f.kind == "hidden"; });
        QVERIFY(found != checked->findings.end());
        QCOMPARE(spansOf(found->remedy()->edit.change(job)).size(), std::size_t{2});
    }

    void lockedPiecesStayAsTheyAre() {
        Job job;
        job.pieces = {test::shapePiece("a", flag())};
        job = setLocked({"a"}, true).change(job);
        Pose pose;
        pose.x = 9;
        for (const Edit& edit :
             {movePieces({"a"}, {5, 5}), turnPieces({"a"}, 30, {}), mirrorPieces({"a"}, {}),
              setPose("a", pose, "Resize"), deletePieces({"a"}),
              replaceContent("a", test::shapePiece("x", flag()).content), openSpacing("a", 2),
              setOutline({"a"}, rectangleOutline(20, 20))})
            QVERIFY(edit.change(job) == job);
        QVERIFY(!(movePieces({"a"}, {5, 5}).change(setLocked({"a"}, false).change(job)) == job));
    }

    void deletingAPieceTakesItOutOfItsRepeat() {
        Job job = jobWith(test::shapePiece("flag", flag()), grid(2, 2, 5, 5));
        job = deletePieces({"flag"}).change(job);
        QVERIFY(job.repeats.empty());
    }

    void aPieceIsInOneRepeatOnly() {
        Job job = jobWith(test::shapePiece("flag", flag()), grid(2, 2, 5, 5));
        Repeat mirror;
        mirror.kind = Repeat::Kind::mirror;
        mirror.pieces = {"flag"};
        job = setRepeat(mirror).change(job);
        QCOMPARE(job.repeats.size(), std::size_t{1});
        QVERIFY(job.repeats[0].kind == Repeat::Kind::mirror);
    }

    void copiesShareTheirStitching() {
        const Job job = jobWith(test::shapePiece("flag", flag()), grid(20, 10, 2, 2));
        StitchCache cache;
        const auto placed = placedPieces(job, cache);
        QCOMPARE(placed.size(), std::size_t{200});
        const auto first = cache.stitch(placed[0].piece);
        for (const PlacedPiece& p : placed) QVERIFY(*cache.stitch(p.piece) == *first);
    }

    void copiesAreDividedOverHoopings() {
        const Library library = test::library();
        Job job = jobWith(test::shapePiece("flag", flag(), -250, 0), grid(2, 1, 400, 0, false));
        job.brief.hoops = {"field-100x100"};
        const auto stitched = stitchJob(job);
        StitchCache cache;
        DivideOptions options;
        options.hoops = *hoopsFor(job, {}, library);
        const auto division = divideIntoHoopings(job, cache, options, library);
        QVERIFY(division);
        QCOMPARE(division->hoopings.size(), std::size_t{2});
        job = setHoopings(division->hoopings, 0).change(job);
        const auto lists = hoopingLists(job, library);
        QVERIFY2(lists, lists ? "" : lists.error().line().c_str());
        QCOMPARE((*lists)[0].stitches + (*lists)[1].stitches, measure(stitched->list).stitches);
    }

    void aJobWithAllOfItSurvivesTheFile() {
        Job job = jobWith(test::shapePiece("flag", flag(), 3, 4), grid(3, 2, 5, 7));
        job.pieces[0].outline = rectangleOutline(20, 15);
        job.pieces[0].outline->cornerMm = 2;
        job.pieces[0].group = "corner";
        job.pieces[0].locked = true;
        job = setException(job.repeats[0].id, {5, false, {1, -1}, 12}).change(job);
        job = setException(job.repeats[0].id, {2, true, {}, 0}).change(job);
        job.artwork = Artwork{"art/kite.png", {4, 5}, 120, 0.4, {}};
        job.members["art/kite.png"] = std::make_shared<const std::string>("not looked at");
        Piece other = test::shapePiece("other", flag(), 90, 0);
        job.pieces.push_back(other);
        for (const auto kind : {Repeat::Kind::line, Repeat::Kind::circle, Repeat::Kind::mirror}) {
            Repeat r;
            r.kind = kind;
            r.pieces = {"other"};
            r.count = 5;
            r.acrossMm = 4;
            r.directionDeg = 30;
            r.centre = {1, 2};
            r.sweepDeg = 120;
            r.turned = false;
            r.nearFar = true;
            Job wanted = setRepeat(r).change(job);
            const auto bytes = packJob(wanted);
            QVERIFY(bytes);
            const auto back = unpackJob(*bytes, "job");
            QVERIFY2(back, back ? "" : back.error().line().c_str());
            QVERIFY(back->repeats[0] == wanted.repeats[0]);
            QVERIFY(back->artwork == wanted.artwork);
            QVERIFY(back->pieces[0].outline == wanted.pieces[0].outline);
            QCOMPARE(back->pieces[0].group, std::string("corner"));
            QVERIFY(back->pieces[0].locked);
            QCOMPARE(spansOf(*back).size(), spansOf(wanted).size());
            // Packed again it is the same, byte for byte.
            QVERIFY(*packJob(*back) == *bytes);
        }
    }

    void theGridOfSegmentsFindsTheNearest() {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> place(-60, 60), step(-3, 3);
        std::vector<Segment> segments;
        for (int i = 0; i < 400; ++i) {
            const Vec2 a{place(random), place(random)};
            segments.push_back({a, a + Vec2{step(random), step(random)}});
        }
        const SegmentGrid grid(segments);
        for (int i = 0; i < 500; ++i) {
            const Vec2 p = Vec2{place(random), place(random)} * 1.6;
            double least = 1e9;
            for (const Segment& s : segments) {
                const Vec2 ab = s.b - s.a;
                const double t = std::clamp(dot(p - s.a, ab) / dot(ab, ab), 0.0, 1.0);
                least = std::min(least, distance(p, s.a + ab * t));
            }
            VERIFY_NEAR(grid.nearest(p, 1000)->distance, least, 1e-9);
            QCOMPARE(grid.nearest(p, least * 0.99).has_value(), false);
        }
    }
};

RAPT_TEST(TestCopies)
#include "test_copies.moc"
