#include "support.h"

#include "thread/measures.h"

using namespace rapt;

namespace {

Polyline circle(Vec2 c, double r, int n = 96) {
    Polyline line;
    for (int i = 0; i < n; ++i)
        line.push_back(
            {c.x + r * std::cos(2 * M_PI * i / n), c.y + r * std::sin(2 * M_PI * i / n)});
    return line;
}

StitchList stitched(ShapePart part) {
    Shape shape;
    shape.parts.push_back(std::move(part));
    return stitchShape(shape);
}

/// Every point of thread, in steps of 0.1 mm.
template<class Visit>
void alongThread(const StitchList& list, Visit visit) {
    walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
        if (!from) return;
        const Vec2 a = from->at(), b = list.stitches[i].at();
        const int steps = std::max(1, static_cast<int>(distance(a, b) / 0.1));
        for (int k = 0; k <= steps; ++k) visit(lerp(a, b, double(k) / steps));
    });
}

/// Radius of the widest bare spot inside the shape, at least `inset` mm from its edge.
double widestBareSpot(const StitchList& list, const Contours& shape, double inset) {
    constexpr double cell = 0.2;
    const Contours inner = offsetContours(shape, -inset);
    const Box box = boundsOf(shape).grown(1);
    const int w = static_cast<int>(box.width() / cell) + 1;
    const int h = static_cast<int>(box.height() / cell) + 1;
    std::vector<char> covered(static_cast<std::size_t>(w * h), 0);
    alongThread(list, [&](Vec2 p) {
        const int i = static_cast<int>((p.x - box.minX) / cell);
        const int j = static_cast<int>((p.y - box.minY) / cell);
        for (int y = j - 1; y <= j + 1; ++y)
            for (int x = i - 1; x <= i + 1; ++x)
                if (x >= 0 && y >= 0 && x < w && y < h)
                    covered[static_cast<std::size_t>(y * w + x)] = 1;
    });
    double widest = 0;
    for (int j = 0; j < h; ++j)
        for (int i = 0; i < w; ++i) {
            const Vec2 p{box.minX + (i + 0.5) * cell, box.minY + (j + 0.5) * cell};
            if (covered[static_cast<std::size_t>(j * w + i)] || !contains(inner, p)) continue;
            int r = 1;
            const auto free = [&](int radius) {
                for (int y = -radius; y <= radius; ++y)
                    for (int x = -radius; x <= radius; ++x) {
                        const int a = i + x, b = j + y;
                        if (a >= 0 && b >= 0 && a < w && b < h &&
                            covered[static_cast<std::size_t>(b * w + a)])
                            return false;
                    }
                return true;
            };
            while (r < 20 && free(r)) ++r;
            widest = std::max(widest, (2 * r - 1) * cell);
        }
    return widest;
}

} // namespace

class TestRecipes : public QObject {
    Q_OBJECT
private slots:
    void fillsCoverTheirShapeAndNothingElse_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<double>("angle");
        for (int which = 0; which < 4; ++which)
            for (const double angle : {0.0, 45.0, 90.0, 17.0})
                QTest::addRow("shape %d at %.0f", which, angle) << which << angle;
    }
    void fillsCoverTheirShapeAndNothingElse() {
        QFETCH(int, which);
        QFETCH(double, angle);
        const Contours shapes[] = {
            {test::rectangle(0, 0, 60, 30)},
            {circle({0, 0}, 25), circle({5, 3}, 9)},
            {{{0, 0}, {50, 0}, {50, 40}, {40, 40}, {40, 10}, {10, 10}, {10, 40}, {0, 40}}},
            {test::rectangle(0, 0, 60, 60), test::rectangle(8, 8, 14, 14),
             test::rectangle(34, 8, 14, 44), circle({15, 42}, 8)}};
        const Contours& shape = shapes[which];
        const StitchList list = stitched(test::fillOf(shape, angle));
        const Contours outer = offsetContours(shape, 0.2);
        int outside = 0;
        alongThread(list, [&](Vec2 p) { outside += !contains(outer, p); });
        QCOMPARE(outside, 0);
        const double bare = widestBareSpot(list, shape, 0.4);
        QVERIFY2(bare <= 0.61, qPrintable(QString::number(bare)));
        const Measures m = measure(list);
        QVERIFY(m.longestMm <= maxStitchMm);
        QVERIFY2(double(m.shortStitches) < 0.02 * double(m.stitches),
                 qPrintable(QString::number(m.shortStitches)));
        // One connected shape is sewn without a jump inside it.
        QCOMPARE(m.jumps, std::size_t{1});
    }

    void rowsKeepTheirSpacingAtAnySize() {
        Shape shape;
        shape.parts.push_back(test::fillOf({circle({0, 0}, 30), circle({0, 0}, 10)}, 25));
        for (const double scale : {0.5, 0.8, 1.0, 1.4, 2.0}) {
            const StitchList list = stitchShape(scaled(shape, scale, scale));
            const auto spacing = medianRowSpacing(list);
            QVERIFY(spacing.has_value());
            VERIFY_NEAR(*spacing, 0.4, 0.03 * 0.4);
            VERIFY_NEAR(extentsOf(list).width(), 60 * scale, 0.5);
        }
    }

    void stitchesInNeighbouringRowsAreStaggered() {
        const StitchList list = stitched(test::fillOf({test::rectangle(0, 0, 40, 10)}));
        std::map<int, int> columns;
        for (const Stitch& s : list.stitches)
            if (s.op == Op::stitch && s.at().x > 3 && s.at().x < 37)
                ++columns[static_cast<int>(s.at().x / 0.1)];
        int most = 0;
        for (const auto& [x, n] : columns) most = std::max(most, n);
        // 25 rows in four phases: no column of penetrations takes more than a third of them.
        QVERIFY2(most <= 9, qPrintable(QString::number(most)));
    }

    void separateIslandsAreJoinedByAJump() {
        const StitchList list =
            stitched(test::fillOf({test::rectangle(0, 0, 10, 10), test::rectangle(30, 0, 10, 10)}));
        QCOMPARE(measure(list).jumps, std::size_t{2});
        QCOMPARE(measure(list).trims, std::size_t{2});
    }

    void aRunKeepsItsCornersAndItsStitchLength() {
        ShapePart run = test::fillOf({{{0, 0}, {10, 0}, {10, 7}, {3, 7}}});
        run.kind = StitchKind::run;
        run.stitchLengthMm = 2.5;
        const StitchList list = stitched(run);
        for (const Vec2 corner : run.lines[0]) {
            double nearest = 1e9;
            for (const Stitch& s : list.stitches)
                nearest = std::min(nearest, distance(s.at(), corner));
            VERIFY_NEAR(nearest, 0, 1e-4);
        }
        const Measures m = measure(list);
        QVERIFY(m.longestMm <= 2.5 + 1e-4);
        VERIFY_NEAR(m.lengthMm, 24, 1e-3);
        QCOMPARE(m.stitches, std::size_t{1 + 4 + 3 + 3});
    }

    void aRunFollowsACurve() {
        ShapePart run = test::fillOf({circle({0, 0}, 8)});
        run.kind = StitchKind::run;
        run.stitchLengthMm = 4;
        alongThread(stitched(run), [&](Vec2 p) { VERIFY_NEAR(length(p), 8, 0.15); });
    }

    void satinSidesAlternateAtTheirPitch() {
        ShapePart satin = test::fillOf({{{0, 0}, {30, 0}}, {{0, 4}, {30, 4}}});
        satin.kind = StitchKind::satin;
        const StitchList list = stitched(satin);
        std::vector<Vec2> points;
        for (const Stitch& s : list.stitches)
            if (s.op == Op::stitch) points.push_back(s.at());
        for (std::size_t i = 1; i + 1 < points.size() - 1; ++i) {
            QVERIFY(std::abs(points[i].y - points[i - 1].y) > 3.9);
            VERIFY_NEAR(points[i + 1].x - points[i - 1].x, 0.4, 0.01);
        }
    }

    void wideSatinIsSplit() {
        ShapePart satin = test::fillOf({{{0, 0}, {20, 0}}, {{0, 18}, {20, 18}}});
        satin.kind = StitchKind::satin;
        QVERIFY(measure(stitched(satin)).longestMm <= snagStitchMm);
    }

    void theEstimateIsNeverFarTooLow() {
        ShapePart satin = test::fillOf({{{0, 0}, {60, 0}}, {{0, 18}, {60, 18}}});
        satin.kind = StitchKind::satin;
        ShapePart run = test::fillOf({circle({0, 0}, 30)});
        run.kind = StitchKind::run;
        for (const ShapePart& part : {test::fillOf({circle({0, 0}, 30)}, 20), satin, run}) {
            Shape shape;
            shape.parts = {part};
            const double real = double(measure(stitchShape(shape)).stitches);
            QVERIFY(estimatedStitches(shape) > 0.6 * real);
        }
    }

    void sameThreadsOfPartsAreOneThread() {
        Shape shape;
        shape.parts = {test::fillOf({test::rectangle(0, 0, 5, 5)}),
                       test::fillOf({test::rectangle(9, 0, 5, 5)})};
        shape.parts.push_back(test::fillOf({test::rectangle(0, 9, 5, 5)}));
        shape.parts[2].thread.name = "Other";
        QCOMPARE(stitchShape(shape).threads.size(), std::size_t{2});
    }
};

QTEST_APPLESS_MAIN(TestRecipes)
#include "test_recipes.moc"
