#include "support.h"

#include "thread/ties.h"

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

/// A rough round outline with teeth, different for every seed.
Polyline ragged(Vec2 c, double r, unsigned seed) {
    Polyline line;
    const int n = 7 + static_cast<int>(seed % 9);
    for (int i = 0; i < n; ++i) {
        seed = seed * 1664525u + 1013904223u;
        const double k = 0.45 + 0.55 * ((seed >> 8) % 1000) / 1000.0;
        line.push_back(
            {c.x + k * r * std::cos(2 * M_PI * i / n), c.y + k * r * std::sin(2 * M_PI * i / n)});
    }
    return line;
}

/// A comb with `teeth` teeth: many sections on one back.
Polyline comb(int teeth) {
    Polyline line{{0, 0}, {teeth * 8.0, 0}};
    for (int k = teeth - 1; k >= 0; --k) {
        const double x = k * 8.0;
        line.insert(line.end(), {{x + 8, 25}, {x + 4, 25}, {x + 4, 6}, {x, 6}});
    }
    return line;
}

struct TestShape {
    const char* name;
    Contours lines;
};

std::vector<TestShape> testShapes() {
    std::vector<TestShape> shapes{
        {"rectangle", {test::rectangle(0, 0, 60, 30)}},
        {"ring", {circle({0, 0}, 25), circle({5, 3}, 9)}},
        {"horseshoe",
         {{{0, 0}, {50, 0}, {50, 40}, {40, 40}, {40, 10}, {10, 10}, {10, 40}, {0, 40}}}},
        {"three holes",
         {test::rectangle(0, 0, 60, 60), test::rectangle(8, 8, 14, 14),
          test::rectangle(34, 8, 14, 44), circle({15, 42}, 8)}},
        {"comb", {comb(5)}},
        {"two combs",
         {comb(4),
          [] {
              Polyline up = comb(4);
              for (Vec2& p : up) p = {p.x, -p.y};
              std::reverse(up.begin(), up.end());
              return up;
          }()}},
    };
    for (unsigned seed = 1; seed <= 6; ++seed)
        shapes.push_back({"ragged", {ragged({0, 0}, 28, seed), ragged({1, 2}, 9, seed + 50)}});
    return shapes;
}

bool nearEdge(const Contours& shape, Vec2 p) {
    for (const Polyline& line : shape)
        for (std::size_t i = 0, j = line.size() - 1; i < line.size(); j = i++)
            if (distanceToSegment(p, line[j], line[i]) < 0.3) return true;
    return false;
}

} // namespace

class TestRecipes : public QObject {
    Q_OBJECT
private slots:
    void fillsCoverTheirShapeAndNothingElse_data() {
        QTest::addColumn<Contours>("shape");
        QTest::addColumn<double>("angle");
        int n = 0;
        for (const TestShape& shape : testShapes())
            for (const double angle : {0.0, 45.0, 90.0, 17.0})
                QTest::addRow("%d %s at %.0f", n++, shape.name, angle) << shape.lines << angle;
    }
    void fillsCoverTheirShapeAndNothingElse() {
        QFETCH(Contours, shape);
        QFETCH(double, angle);
        const StitchList list = stitched(test::fillOf(shape, angle));
        const Contours outer = offsetContours(shape, 0.22); // 0.2 mm, and a hair

        int outside = 0;
        QString where;
        alongThread(list, [&](Vec2 p) {
            if (contains(outer, p)) return;
            ++outside;
            where = QString("%1, %2").arg(p.x).arg(p.y);
        });
        QVERIFY2(outside == 0, qPrintable(where));
        const double bare = widestBareSpot(list, shape, 0.4);
        QVERIFY2(bare <= 0.61, qPrintable(QString::number(bare)));
        const Measures m = measure(list);
        QVERIFY(m.longestMm <= maxStitchMm);
        QVERIFY2(double(m.shortStitches) < 0.02 * double(m.stitches),
                 qPrintable(QString::number(m.shortStitches)));
        // One connected shape is sewn without a jump inside it.
        QCOMPARE(m.jumps, componentsOf(shape).size());
    }

    void travelLiesUnderTheStitching_data() { fillsCoverTheirShapeAndNothingElse_data(); }
    void travelLiesUnderTheStitching() {
        QFETCH(Contours, shape);
        QFETCH(double, angle);
        const Vec2 rowWay{turnOf(angle).cosine, turnOf(angle).sine};
        for (const Underlay underlay : {Underlay::none, Underlay::full}) {
            ShapePart part = test::fillOf(shape, angle);
            part.underlay = underlay;
            const StitchList list = stitched(part);
            QCOMPARE(measure(list).jumps, componentsOf(shape).size());
            std::vector<std::pair<Vec2, Vec2>> threads;
            walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
                if (from) threads.emplace_back(from->at(), list.stitches[i].at());
            });
            int bare = 0;
            QString first;
            for (std::size_t i = 0; i < threads.size(); ++i) {
                const auto [a, b] = threads[i];
                // Turning from one row into the next is no travel.
                if (std::abs(cross(b - a, rowWay)) < 0.45) continue;
                for (const double t : {0.1, 0.5, 0.9}) {
                    const Vec2 p = lerp(a, b, t);
                    bool covered = nearEdge(shape, p); // a step from row to row along the edge
                    for (std::size_t k = i + 1; k < threads.size() && !covered; ++k)
                        covered =
                            std::abs(cross(threads[k].second - threads[k].first, rowWay)) < 0.45 &&
                            distanceToSegment(p, threads[k].first, threads[k].second) < 0.55;
                    if (!covered) {
                        ++bare;
                        first = first.isEmpty() ? QString("%1, %2").arg(p.x).arg(p.y) : first;
                    }
                }
            }
            QVERIFY2(bare == 0, qPrintable(QString("%1 places bare, the first at %2; underlay %3")
                                               .arg(bare)
                                               .arg(first)
                                               .arg(static_cast<int>(underlay))));
        }
    }

    void sharpTipsAreSewnToTheirEnd() {
        // Four long points: narrower than a stitch over their last millimetres.
        const Contours star{
            {{0, -45}, {3, -3}, {45, 0}, {3, 3}, {0, 45}, {-3, 3}, {-45, 0}, {-3, -3}}};
        for (const double angle : {0.0, 45.0, 30.0}) {
            const StitchList list = stitched(test::fillOf(star, angle));
            const Box box = extentsOf(list);
            for (const double reach : {-box.minY, box.maxY}) VERIFY_NEAR(reach, 45, 0.8);
            // A tip along the rows ends where it is narrower than they are apart.
            const double along = angle == 0 ? 3 : 0.8;
            for (const double reach : {-box.minX, box.maxX}) VERIFY_NEAR(reach, 45, along);
            QCOMPARE(measure(list).jumps, std::size_t{1});
            QVERIFY(double(measure(list).shortStitches) < 0.02 * double(measure(list).stitches));
        }
    }

    void underlayStaysInsideAndAddsAFifthOfALayer() {
        const Contours shape{test::rectangle(0, 0, 40, 30), circle({12, 15}, 5)};
        ShapePart part = test::fillOf(shape, 20);
        const double plain = measure(stitched(part)).lengthMm;
        const Box box = extentsOf(stitched(part));
        part.underlay = Underlay::light;
        const double light = measure(stitched(part)).lengthMm;
        part.underlay = Underlay::full;
        const StitchList list = stitched(part);
        const double full = measure(list).lengthMm;
        QVERIFY(plain < light && light < full);
        VERIFY_NEAR(full / plain, 1.2, 0.12);
        VERIFY_NEAR(extentsOf(list).width(), box.width(), 0.01);
        QCOMPARE(measure(list).jumps, std::size_t{1});
    }

    void pullCompensationWidensByWhatItSays() {
        ShapePart part = test::fillOf({test::rectangle(-20, -10, 40, 20)}, 0);
        part.pullMm = 0.6;
        Box box = extentsOf(stitched(part));
        VERIFY_NEAR(box.width(), 40.6, 0.01);
        VERIFY_NEAR(box.height(), 20, 0.5);
        part.angleDeg = 90;
        box = extentsOf(stitched(part));
        VERIFY_NEAR(box.height(), 20.6, 0.01);
        ShapePart satin = test::fillOf({{{0, 0}, {30, 0}}, {{0, 4}, {30, 4}}});
        satin.kind = StitchKind::satin;
        satin.pullMm = 0.5;
        box = extentsOf(stitched(satin));
        VERIFY_NEAR(box.height(), 4.5, 1e-4);
        VERIFY_NEAR(box.width(), 30, 1e-4);
    }

    void aNarrowHoleClosesUnderPullAndNothingIsLost() {
        ShapePart part =
            test::fillOf({test::rectangle(0, 0, 30, 20), test::rectangle(14.8, 0.5, 0.4, 19)}, 0);
        part.pullMm = 0.8;
        VERIFY_NEAR(measure(stitched(part)).lengthMm, 30.8 * 51, 30);
    }

    void satinUnderlayStaysBetweenTheRails() {
        for (const double width : {1.2, 3.0, 6.0})
            for (const Underlay underlay : {Underlay::light, Underlay::full}) {
                ShapePart satin = test::fillOf({{{0, 0}, {40, 0}}, {{0, width}, {40, width}}});
                satin.kind = StitchKind::satin;
                satin.underlay = underlay;
                const StitchList list = stitched(satin);
                const Box box = extentsOf(list);
                VERIFY_NEAR(box.width(), 40, 1e-3);
                VERIFY_NEAR(box.height(), width, 1e-3);
                QCOMPARE(measure(list).jumps, std::size_t{1});
                satin.underlay = Underlay::none;
                QVERIFY(measure(list).lengthMm > measure(stitched(satin)).lengthMm + 30);
            }
    }

    void pairedRailsFollowTheirLadder() {
        // The rungs lean: left points run ahead of the right ones.
        ShapePart satin = test::fillOf({{{5, 0}, {15, 0}, {40, 0}}, {{0, 4}, {20, 4}, {30, 4}}});
        satin.kind = StitchKind::satin;
        satin.paired = true;
        const StitchList list = stitched(satin);
        double nearest = 1e9;
        walkStitches(list.stitches, [&](std::size_t i, const Stitch* from) {
            if (from)
                nearest = std::min(nearest, distance(from->at(), {15, 0}) +
                                                distance(list.stitches[i].at(), {20, 4}));
        });
        QVERIFY2(nearest < 0.6, qPrintable(QString::number(nearest)));
    }

    void smoothLinesPassThroughTheirPointsWithoutCorners() {
        ShapePart run = test::fillOf({{{0, 0}, {10, 6}, {20, -2}, {34, 5}}});
        run.kind = StitchKind::run;
        run.stitchLengthMm = 1.5;
        run.smooth = true;
        const StitchList list = stitched(run);
        for (const Vec2 node : run.lines[0]) {
            double nearest = 1e9;
            alongThread(list, [&](Vec2 p) { nearest = std::min(nearest, distance(p, node)); });
            QVERIFY2(nearest < 0.15, qPrintable(QString::number(nearest)));
        }
        double sharpest = 1;
        for (std::size_t i = 4; i + 4 < list.stitches.size(); ++i) { // between the ties
            if (list.stitches[i + 1].op != Op::stitch || list.stitches[i - 1].op != Op::stitch)
                continue;
            const Vec2 in = list.stitches[i].at() - list.stitches[i - 1].at();
            const Vec2 out = list.stitches[i + 1].at() - list.stitches[i].at();
            sharpest = std::min(sharpest, dot(in, out) / (length(in) * length(out)));
        }
        QVERIFY2(sharpest > 0.6, qPrintable(QString::number(sharpest)));
    }

    void aTripleRunGoesToAndFro() {
        ShapePart run = test::fillOf({{{0, 0}, {10, 0}}});
        run.kind = StitchKind::run;
        run.stitchLengthMm = 2.5;
        run.passes = 3;
        const Measures m = measure(stitched(run));
        VERIFY_NEAR(m.lengthMm, 30 + 4 * tieStitchMm, 1e-6);
        QCOMPARE(m.stitches, std::size_t{1 + 12 + 4});
    }

    void partsThatMeetAreSewnOnWithoutACut() {
        ShapePart first = test::fillOf({{{0, 0}, {10, 0}}});
        first.kind = StitchKind::run;
        ShapePart second = first;
        second.lines = {{{10.5, 0}, {20, 0}}};
        Shape shape;
        shape.parts = {first, second};
        QCOMPARE(measure(stitchShape(shape)).trims, std::size_t{1});
        shape.parts[1].lines[0][0] = {14, 0};
        QCOMPARE(measure(stitchShape(shape)).trims, std::size_t{2});
        shape.parts[1].lines[0][0] = {10.5, 0};
        shape.parts[1].thread.name = "Other";
        QCOMPARE(measure(stitchShape(shape)).trims, std::size_t{2});
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
        VERIFY_NEAR(m.lengthMm, 24 + 4 * tieStitchMm, 1e-3);
        QCOMPARE(m.stitches, std::size_t{1 + 4 + 3 + 3 + 4});
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
        for (std::size_t i = 5; i + 5 < points.size() - 1; ++i) { // between ties and square ends
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

RAPT_TEST(TestRecipes)
#include "test_recipes.moc"
