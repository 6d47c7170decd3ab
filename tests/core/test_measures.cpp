#include "support.h"

#include "thread/measures.h"
#include "thread/resize.h"

using namespace rapt;

class TestMeasures : public QObject {
    Q_OBJECT
private slots:
    void theNeedleStandsWhereStitchOrJumpPutIt() {
        StitchList list = test::listThrough({});
        list.threads.push_back({2, {0, 0, 0}, 40, "Two"});
        const auto add = [&](Op op, double x, double y, std::uint8_t thread) {
            list.stitches.push_back(stitchAt(op, {x, y}, thread));
        };
        add(Op::jump, 50, 50, 1);
        add(Op::stitch, 0, 0, 1); // the first stitch lays none, even away from the jump
        add(Op::stitch, 3, 4, 1); // 5 mm
        add(Op::trim, 90, 90, 1); // does not move the needle
        add(Op::stop, 80, 80, 2);
        add(Op::stitch, 3, 10, 2); // 6 mm of thread 2, and a thread change
        add(Op::jump, 20, 20, 2);
        add(Op::stitch, 20, 20.4, 2); // 0.4 mm: short
        add(Op::stitch, 20, 20.4, 2); // no length: not short
        add(Op::stitch, 30, 20.4, 1); // 10 mm: long, and a change back
        const Measures m = measure(list);
        QCOMPARE(m.stitches, std::size_t{6});
        QCOMPARE(m.jumps, std::size_t{2});
        QCOMPARE(m.trims, std::size_t{1});
        QCOMPARE(m.stops, std::size_t{1});
        QCOMPARE(m.threadChanges, std::size_t{2});
        QCOMPARE(m.shortStitches, std::size_t{1});
        QCOMPARE(m.longStitches, std::size_t{1});
        VERIFY_NEAR(m.threads[0].lengthMm, 15, 1e-9);
        VERIFY_NEAR(m.threads[1].lengthMm, 6.4, 1e-9);
        VERIFY_NEAR(m.longestMm, 10, 1e-9);
        QCOMPARE(m.extents, (Box{0, 0, 30, 20.4}));
    }

    void halfAMillimetreIsNotShortAndSevenNotLong() {
        const Measures m = measure(test::listThrough({{0, 0}, {0.3, 0.4}, {7.3, 0.4}}));
        QCOMPARE(m.shortStitches, std::size_t{0});
        QCOMPARE(m.longStitches, std::size_t{0});
    }

    void anEmptyListMeasuresNothing() {
        const Measures m = measure(StitchList{});
        QCOMPARE(m.stitches, std::size_t{0});
        QVERIFY(m.extents.empty());
        QCOMPARE(m.extents.width(), 0.0);
    }

    void apparentWidthIsInterpolatedBetweenWeights() {
        QCOMPARE(apparentWidthMm(40), 0.40);
        QCOMPARE(apparentWidthMm(60), 0.28);
        VERIFY_NEAR(apparentWidthMm(50), 0.34, 1e-12);
        VERIFY_NEAR(apparentWidthMm(35), 0.45, 1e-12);
        VERIFY_NEAR(apparentWidthMm(21), 0.65, 1e-12);
        QCOMPARE(apparentWidthMm(100), 0.28);
        QCOMPARE(apparentWidthMm(5), 0.80);
    }

    void rowSpacingIsReadOffFillsAndSatins_data() {
        QTest::addColumn<double>("spacing");
        QTest::addColumn<double>("angle");
        for (const double spacing : {0.3, 0.4, 0.6})
            for (const double angle : {0.0, 33.0})
                QTest::addRow("%.1f at %.0f", spacing, angle) << spacing << angle;
    }
    void rowSpacingIsReadOffFillsAndSatins() {
        QFETCH(double, spacing);
        QFETCH(double, angle);
        Shape shape;
        shape.parts.push_back(test::fillOf({test::rectangle(-30, -20, 60, 40)}, angle, spacing));
        const auto fill = medianRowSpacing(stitchShape(shape));
        QVERIFY(fill.has_value());
        VERIFY_NEAR(*fill, spacing, 0.03 * spacing);
        ShapePart satin = test::fillOf({{{0, 0}, {60, 5}}, {{0, 4}, {60, 9}}}, 0, spacing);
        satin.kind = StitchKind::satin;
        shape.parts = {satin};
        const auto pitch = medianRowSpacing(stitchShape(shape));
        QVERIFY(pitch.has_value());
        VERIFY_NEAR(*pitch, spacing, 0.05 * spacing);
    }

    void aRunHasNoRowSpacing() {
        QVERIFY(!medianRowSpacing(test::listThrough({{0, 0}, {3, 0}, {6, 1}, {9, 3}, {12, 9}})));
    }

    void keptStitchesScaleWithTheirSpacing() {
        Shape shape;
        shape.parts.push_back(test::fillOf({test::rectangle(-30, -20, 60, 40)}));
        const StitchList list = stitchShape(shape);
        const auto half = resizeKeepingStitches(list, {0.5, 0.5});
        QVERIFY(bool(half));
        QCOMPARE(measure(*half).stitches, measure(list).stitches);
        VERIFY_NEAR(extentsOf(*half).width(), extentsOf(list).width() / 2, 1e-4);
        VERIFY_NEAR(*medianRowSpacing(*half), *medianRowSpacing(list) / 2, 1e-3);
    }

    void aSizeAskedForBecomesFactors() {
        const Box box{0, 0, 40, 20};
        ResizeRequest r;
        r.widthMm = 80;
        QCOMPARE(scaleFactors(r, box)->y, 2.0);
        r.free = true;
        QCOMPARE(scaleFactors(r, box)->y, 1.0);
        r.heightMm = 10;
        QCOMPARE(scaleFactors(r, box)->y, 0.5);
        r.free = false;
        QVERIFY(!scaleFactors(r, box));
        QVERIFY(!scaleFactors({}, box));
        ResizeRequest zero;
        zero.scale = 0;
        QVERIFY(!scaleFactors(zero, box));
        ResizeRequest flat;
        flat.heightMm = 5;
        QVERIFY(!scaleFactors(flat, Box{0, 0, 40, 0}));
    }

    void tooLongAStitchIsRefusedWithTheLargestScale() {
        const StitchList list = test::listThrough({{0, 0}, {5, 0}});
        const auto refused = resizeKeepingStitches(list, {3, 3});
        QVERIFY(!refused);
        QCOMPARE(refused.error().fault, Fault::cannotDo);
        QVERIFY(refused.error().reason.find("2.420") != std::string::npos);
        QVERIFY(bool(resizeKeepingStitches(list, {2.42, 2.42})));
    }
};

RAPT_TEST(TestMeasures)
#include "test_measures.moc"
