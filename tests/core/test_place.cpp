#include "support.h"

#include "job/edit_copies.h"
#include "place/arrange.h"
#include "place/clearance.h"
#include "place/sizing.h"
#include "place/snapping.h"
#include "thread/measures.h"

using namespace rapt;

namespace {

Job jobOf(std::vector<Piece> pieces) {
    Job job;
    job.cloth = {600, 400, {}, {}, {}};
    job.pieces = std::move(pieces);
    return job;
}

Piece block(const std::string& id, double x, double y, double w, double h, double angle = 0) {
    return test::shapePiece(id, test::fillOf({test::rectangle(-w / 2, -h / 2, w, h)}, angle), x, y);
}

Piece ring(const std::string& id, double outer, double inner) {
    return test::shapePiece(id,
                            test::fillOf({test::rectangle(-outer, -outer, 2 * outer, 2 * outer),
                                          test::rectangle(-inner, -inner, 2 * inner, 2 * inner)}));
}

StitchedJob stitched(const Job& job) {
    auto result = stitchJob(job);
    if (!result) qFatal("%s", result.error().line().c_str());
    return *result;
}

std::vector<Movable> movables(const Job& job) {
    std::vector<Movable> items;
    for (const PieceSpan& span : stitched(job).spans)
        items.push_back({{span.source}, span.extents});
    return items;
}

Hoop field(double w, double h, Hoop::Shape shape = Hoop::Shape::rect) {
    Hoop hoop;
    hoop.id = "field";
    hoop.widthMm = w;
    hoop.heightMm = h;
    hoop.shape = shape;
    return hoop;
}

} // namespace

/// Aligning, catching, distances by thread, and exact sizes.
class TestPlace : public QObject {
    Q_OBJECT
private slots:
    void aligningBringsEdgesAndMiddlesOntoALine() {
        Job job = jobOf(
            {block("a", -80, -30, 30, 20), block("b", 10, 5, 50, 10), block("c", 70, 40, 20, 44)});
        const Box to{-100, -50, 100, 50};
        const auto edge = [&](Align how, auto read) {
            const auto items = movables(job);
            const Job after = moveEach("Align", items, alignMoves(items, how, to)).change(job);
            for (const Movable& m : movables(after)) VERIFY_NEAR(read(m.box), read(to), 1e-4);
            // The other direction stays.
            const bool across =
                how == Align::left || how == Align::right || how == Align::middleAcross;
            for (std::size_t i = 0; i < items.size(); ++i)
                VERIFY_NEAR(across ? movables(after)[i].box.minY : movables(after)[i].box.minX,
                            across ? items[i].box.minY : items[i].box.minX, 1e-4);
        };
        edge(Align::left, [](const Box& b) { return b.minX; });
        edge(Align::right, [](const Box& b) { return b.maxX; });
        edge(Align::middleAcross, [](const Box& b) { return b.centre().x; });
        edge(Align::top, [](const Box& b) { return b.minY; });
        edge(Align::bottom, [](const Box& b) { return b.maxY; });
        edge(Align::middleDown, [](const Box& b) { return b.centre().y; });
    }

    void distributingLeavesEqualGaps() {
        // Handed over out of order.
        Job job = jobOf({block("c", 100, 0, 40, 10), block("a", -100, 0, 20, 10),
                         block("b", -60, 3, 60, 10), block("d", 20, 0, 10, 10)});
        const auto items = movables(job);
        const Job after = moveEach("x", items, distributeMoves(items, true)).change(job);
        auto boxes = movables(after);
        std::sort(boxes.begin(), boxes.end(),
                  [](const Movable& a, const Movable& b) { return a.box.minX < b.box.minX; });
        const double gap = boxes[1].box.minX - boxes[0].box.maxX;
        VERIFY_NEAR(gap, (230 - 130) / 3.0, 1e-3);
        for (std::size_t i = 1; i < 4; ++i)
            VERIFY_NEAR(boxes[i].box.minX - boxes[i - 1].box.maxX, gap, 1e-3);
        VERIFY_NEAR(boxes[0].box.minX, -110, 1e-3);
        VERIFY_NEAR(boxes[3].box.maxX, 120, 1e-3);
        const std::vector<Movable> two(items.begin(), items.begin() + 2);
        for (const Vec2& move : distributeMoves(two, true)) QVERIFY(move == Vec2{});
    }

    void snappingCatchesTheNearestLineWithinReach() {
        const auto lines = snapLines({-300, -200, 300, 200}, Box{-90, -65, 90, 65},
                                     {{"Red kite", {40, 40, 80, 90}}});
        Snap snap = snapTo(lines, {1.2, -7, 31.2, 20}, 2);
        VERIFY_NEAR(snap.by.x, -1.2, 1e-12);
        QCOMPARE(snap.upright->what, std::string("the upright datum line"));
        QVERIFY(!snap.level);
        snap = snapTo(lines, {11, 41.5, 39.2, 61}, 2);
        VERIFY_NEAR(snap.by.x, 0.8, 1e-12);
        VERIFY_NEAR(snap.by.y, -1.5, 1e-12);
        QCOMPARE(snap.upright->what, std::string("left edge of Red kite"));
        QVERIFY(snapTo(lines, {1.2, -7, 31.2, 20}, 1).by == Vec2{});
    }

    void gapsAreMeasuredBetweenThreadsNotBoxes() {
        // Two triangles whose boxes overlap, with bare ground between their slanting sides.
        Piece a = test::shapePiece("a", test::fillOf({{{0, 0}, {40, 0}, {0, 40}}}));
        Piece b = test::shapePiece("b", test::fillOf({{{44, 4}, {44, 44}, {4, 44}}}));
        const Job job = jobOf({a, b});
        const StitchedJob s = stitched(job);
        QVERIFY(s.spans[0].extents.overlaps(s.spans[1].extents));
        const auto gap = Clearance(s, {"b"}).nearest({}, 50);
        QVERIFY(gap);
        // The sides are x + y = 40 and x + y = 48: 5.66 mm apart, less a thread's width.
        VERIFY_NEAR(gap->mm, 8 / std::sqrt(2) - 0.4, 0.25);
        QCOMPARE(gap->piece, std::string("a"));
        // Moved by 10 mm they overlap.
        QVERIFY(Clearance(s, {"b"}).nearest({1, 0, 0, 1, -7, -7}, 50)->mm <= 0);
        QVERIFY(!Clearance(s, {"b"}).nearest({1, 0, 0, 1, 200, 0}, 50));
    }

    void aSingleNeedlePointThatJutsOutIsMeasured() {
        // Far more thread than one long stitch: its tip is what comes nearest.
        std::vector<Vec2> points;
        for (int i = 0; i < 4000; ++i) points.push_back({i % 2 * 3.0, i * 0.002});
        points.push_back({3, 4});
        points.push_back({9.37, 4.11});
        points.push_back({3, 4.2});
        const Job job = jobOf({test::designPiece("spike", test::listThrough(points)),
                               test::designPiece("wall", test::listThrough({{12, -9}, {12, 9}}))});
        const StitchedJob s = stitched(job);
        VERIFY_NEAR(Clearance(s, {"spike"}).nearest({}, 50)->mm, 12 - 9.37 - 0.4, 1e-3);
    }

    void aPieceInsideABareRingDoesNotOverlapIt() {
        const StitchedJob s = stitched(jobOf({ring("ring", 50, 40), block("dot", 0, 0, 20, 20)}));
        VERIFY_NEAR(Clearance(s, {"dot"}).nearest({}, 60)->mm, 30 - 0.4, 0.1);
        // But one on a fill does.
        const StitchedJob t =
            stitched(jobOf({block("big", 0, 0, 80, 80), block("dot", 0, 0, 9, 9)}));
        QVERIFY(Clearance(t, {"dot"}).nearest({}, 60)->mm <= 0);
    }

    void theFieldsEdgeIsMeasuredForRectanglesAndOvals() {
        VERIFY_NEAR(edgeDistance(field(180, 130), {80, 0}), 10, 1e-12);
        VERIFY_NEAR(edgeDistance(field(180, 130), {80, 70}), -5, 1e-12);
        const Hoop oval = field(100, 60, Hoop::Shape::oval);
        for (const double angle : {0.0, 0.4, 1.0, 1.5}) {
            const Vec2 on{50 * std::cos(angle), 30 * std::sin(angle)};
            VERIFY_NEAR(edgeDistance(oval, on), 0, 1e-9);
            QVERIFY(edgeDistance(oval, on * 0.9) > 0);
            QVERIFY(edgeDistance(oval, on * 0.9) <= 0.1 * length(on) + 1e-9);
        }
    }

    void typedSizesAreMetExactly_data() {
        QTest::addColumn<double>("angle");
        QTest::addColumn<double>("width");
        for (const double angle : {0.0, 90.0, 30.0})
            for (const double width : {23.75, 60.0, 231.775})
                QTest::addRow("%.0f %.2f", angle, width) << angle << width;
    }
    void typedSizesAreMetExactly() {
        QFETCH(double, angle);
        QFETCH(double, width);
        Piece piece = block("a", 12, 9, 50, 20, angle);
        piece.pose.rotationDeg = 25;
        const Vec2 middle = piece.pose.affine()({0, 0});
        const auto locked = resizedTo(piece, width, {}, true);
        QVERIFY(locked);
        piece.pose = *locked;
        const Box box = extentsOf(**stitchPiece(piece));
        VERIFY_NEAR(box.width(), width, 0.05);
        VERIFY_NEAR(box.height() / box.width(), 0.4, 0.01);
        Pose placed = piece.pose;
        placed.scaleX = placed.scaleY = 1;
        VERIFY_NEAR(distance(placed.affine()(box.centre()), middle), 0, 0.05);
        const auto both = resizedTo(piece, width, 33.0, false);
        piece.pose = *both;
        VERIFY_NEAR(extentsOf(**stitchPiece(piece)).height(), 33.0, 0.05);
    }

    void aBareDesignIsSizedExactlyToo() {
        Piece piece = test::designPiece("d", test::listThrough({{0, 0}, {3, 0}, {3, 2}, {0, 2}}));
        const auto pose = resizedTo(piece, {}, 7.0, true);
        VERIFY_NEAR(pose->scaleX, 3.5, 1e-6);
        Piece line = test::designPiece("l", test::listThrough({{0, 0}, {3, 0}}));
        QVERIFY(!resizedTo(line, {}, 7.0, true));
    }

    void aLayoutIsFittedToTheField_data() {
        QTest::addColumn<bool>("oval");
        QTest::addColumn<double>("turn");
        QTest::addRow("rectangle") << false << 0.0;
        QTest::addRow("oval") << true << 0.0;
        QTest::addRow("turned") << false << 90.0;
        QTest::addRow("aslant") << false << 30.0;
    }
    void aLayoutIsFittedToTheField() {
        QFETCH(bool, oval);
        QFETCH(double, turn);
        const Pose pose{100, 0, turn};
        const Hoop hoop = field(180, 130, oval ? Hoop::Shape::oval : Hoop::Shape::rect);
        const Job job = jobOf({block("a", -20, 50, 30, 20, 30), block("b", 30, 60, 20, 20)});
        const auto fit = fitToField(job, {"a", "b"}, hoop, pose, 5);
        QVERIFY(fit);
        const StitchedJob s = stitched(fit->edit.change(job));
        double least = 1e9;
        for (const Stitch& st : s.list.stitches)
            if (st.op == Op::stitch)
                least = std::min(least, edgeDistance(hoop, pose.affine().inverse()(st.at())));
        QVERIFY2(least > (oval ? 3.0 : 4.99), qPrintable(QString::number(least)));
        // And it is the largest: it touches the margin.
        QVERIFY2(least < 5.3, qPrintable(QString::number(least)));
        // The proportions of the layout are kept.
        const double gap = s.spans[1].extents.minX - s.spans[0].extents.maxX;
        const StitchedJob before = stitched(job);
        const double was = before.spans[1].extents.minX - before.spans[0].extents.maxX;
        VERIFY_NEAR(gap / was, fit->factor, 0.03);
        QVERIFY(!fitToField(job, {"a"}, hoop, {}, 70));
    }

    void severalAreSizedAsOneWithTheirCopies() {
        Job job = jobOf({block("a", -20, 50, 30, 20, 30), block("b", 30, 60, 20, 20)});
        Repeat r;
        r.id = "r";
        r.pieces = {"a", "b"};
        r.columns = 3;
        r.acrossMm = 7;
        job.repeats = {r};
        const StitchedJob before = stitched(job);
        ResizeRequest request;
        request.widthMm = 400;
        const auto sized = sizedAsOne(job, {"a", "b"}, request);
        QVERIFY(sized);
        const StitchedJob s = stitched(sized->edit.change(job));
        Box box, was;
        for (const PieceSpan& span : s.spans) box.add(span.extents);
        for (const PieceSpan& span : before.spans) was.add(span.extents);
        VERIFY_NEAR(box.width(), 400, 0.01);
        VERIFY_NEAR(distance(box.centre(), was.centre()), 0, 0.001);
        VERIFY_NEAR(box.height() / was.height(), 400 / was.width(), 0.005);
        const auto gapOf = [](const StitchedJob& j) {
            return j.spans[2].extents.minX - j.spans[0].extents.maxX;
        };
        VERIFY_NEAR(gapOf(s) / gapOf(before), sized->factor, 0.02);
        job.piece("b")->locked = true;
        QVERIFY(!sizedAsOne(job, {"a", "b"}, request));
    }

    void whatLiesInABorderGrowsUpToItsMargin() {
        const Job job = jobOf({ring("ring", 50, 40), block("dot", 0, 0, 20, 20)});
        const auto fit = fitBetweenNeighbours(job, {"dot"}, field(300, 300), {}, 4);
        QVERIFY(fit);
        const StitchedJob s = stitched(fit->edit.change(job));
        VERIFY_NEAR(Clearance(s, {"dot"}).nearest({}, 60)->mm, 4, 0.25);
    }

    void aBorderRoundOthersFillsTheField() {
        const Job job = jobOf({ring("ring", 50, 40), block("dot", 0, 0, 60, 60)});
        const auto fit = fitBetweenNeighbours(job, {"ring"}, field(240, 240), {}, 3);
        QVERIFY(fit);
        VERIFY_NEAR(stitched(fit->edit.change(job)).spans[0].extents.width(), 234, 0.6);
        // No size of it goes clear of a block that is larger than the field.
        const Job none = jobOf({ring("ring", 50, 40), block("wide", 0, 0, 400, 8)});
        const auto refused = fitBetweenNeighbours(none, {"ring"}, field(240, 240), {}, 3);
        QVERIFY(!refused);
        QVERIFY(refused.error().fault == Fault::cannotDo);
    }

    void scalingKeepsTheLayout() {
        Job job = jobOf({block("a", 10, 0, 20, 20), block("b", 50, 0, 20, 20)});
        job = scalePieces({"a", "b"}, 1.5, {10, 0}, "x").change(job);
        VERIFY_NEAR(job.piece("a")->pose.x, 10, 1e-12);
        VERIFY_NEAR(job.piece("b")->pose.x, 70, 1e-12);
        VERIFY_NEAR(job.piece("b")->pose.scaleY, 1.5, 1e-12);
        job = scalePieces({"a", "b"}, 1 / 1.5, {10, 0}, "x").change(job);
        VERIFY_NEAR(job.piece("b")->pose.x, 50, 1e-12);
    }
};

RAPT_TEST(TestPlace)
#include "test_place.moc"
