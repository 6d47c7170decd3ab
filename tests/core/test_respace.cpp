#include "load/load_map.h"
#include "respace/respace.h"
#include "respace/stretches.h"
#include "stitch_makers.h"
#include "support.h"

#include <complex>

using namespace rapt;
using namespace rapt::test;

/// Designs of bare stitches are recognised and laid again at another size.
class TestRespace : public QObject {
    Q_OBJECT

    static StitchList sewn(const Polyline& points) {
        StitchList list;
        sew(list, points);
        return list;
    }
    static StitchList laid(const StitchList& list, double x, double y,
                           const RespaceOptions& options = {}) {
        const auto result = respace(list, {x, y}, options);
        if (!result) qFatal("%s", result.error().reason.c_str());
        return result->list;
    }
    static StitchList scaledOnly(const StitchList& list, double x, double y) {
        StitchList result = list;
        for (Stitch& s : result.stitches) {
            s.x = toUnits(s.at().x * x);
            s.y = toUnits(s.at().y * y);
        }
        return result;
    }
    static double peak(const StitchList& list) {
        return LoadMap::measure(list)->summary().peakLayers;
    }
    static std::vector<StretchKind> kinds(const StitchList& list) {
        std::vector<StretchKind> all;
        for (const SewnChain& chain : recogniseStretches(list))
            for (const SewnStretch& s : chain.stretches) all.push_back(s.kind);
        return all;
    }
    /// Every stitch is in exactly one stretch, and neighbours share a point.
    static void verifyCovered(const StitchList& list) {
        std::size_t stitches = 0;
        for (const SewnChain& chain : recogniseStretches(list)) {
            QVERIFY(!chain.stretches.empty());
            QCOMPARE(chain.stretches.front().first, std::size_t{0});
            QCOMPARE(chain.stretches.back().last, chain.points.size() - 1);
            for (std::size_t i = 1; i < chain.stretches.size(); ++i)
                QCOMPARE(chain.stretches[i].first, chain.stretches[i - 1].last);
            stitches += chain.points.size() - (chain.ledIn ? 1 : 0);
        }
        QCOMPARE(stitches, measure(list).stitches);
    }
    static StitchList mixed() {
        StitchList list;
        const Polyline edge = runPoints({{-14, -9}, {14, -9}, {14, 9}, {-14, 9}, {-14, -9}});
        const Polyline under = fillPoints({{-8, -13, 13},
                                           {-6, -13, 13},
                                           {-4, -13, 13},
                                           {-2, -13, 13},
                                           {0, -13, 13},
                                           {2, -13, 13},
                                           {4, -13, 13},
                                           {6, -13, 13},
                                           {8, -13, 13}});
        sew(list, joined({edge, under, fillPoints(rectangleRows(30, 20))}));
        sew(list, satinPoints(arcLine(24, 3.4, 6), [](double t) { return 4 + t; }), 2);
        sew(list, runPoints({{40, 0}, {55, 0}, {55, 12}, {40, 12}, {40, 0}}), 1);
        return list;
    }

private slots:
    void stretchesAreRecognised() {
        QCOMPARE(kinds(sewn(fillPoints(discRows(15)))), std::vector{StretchKind::fill});
        QCOMPARE(kinds(sewn(fillPoints(discRows(15), false))), std::vector{StretchKind::fill});
        QCOMPARE(kinds(sewn(fillPoints(rectangleRows(20, 20), true, 3, 30))),
                 std::vector{StretchKind::fill});
        QCOMPARE(kinds(sewn(satinPoints({{0, 0}, {40, 0}}, [](double) { return 4; }))),
                 std::vector{StretchKind::satin});
        QCOMPARE(kinds(sewn(satinPoints(arcLine(9, 0, 5), [](double) { return 4; }))),
                 std::vector{StretchKind::satin});
        QCOMPARE(kinds(sewn(runPoints({{0, 0}, {20, 0}, {20, 15}, {5, 10}}))),
                 std::vector{StretchKind::run});
        const Polyline once = runPoints({{0, 0}, {20, 0}, {20, 15}});
        Polyline thrice{once[0]};
        for (std::size_t i = 1; i < once.size(); ++i)
            thrice.insert(thrice.end(), {once[i], once[i - 1], once[i]});
        QCOMPARE(kinds(sewn(thrice)), std::vector{StretchKind::repeatedRun});
        const Polyline tie{{0, 0}, {0.6, 0}, {0, 0}, {0.6, 0}, {0, 0}};
        QCOMPARE(kinds(sewn(joined({tie, runPoints({{0, 0}, {30, 0}})}))),
                 (std::vector{StretchKind::tie, StretchKind::run}));
    }

    void everyStitchIsInOneStretch() {
        verifyCovered(mixed());
        Dice dice(3);
        for (int n = 1; n < 60; ++n) {
            Polyline points;
            for (int i = 0; i < n; ++i)
                points.push_back({dice.between(-5, 5), dice.between(-5, 5)});
            StitchList list = sewn(points);
            // A thread that is led in from a jump, and points on one spot.
            list.stitches[0].x += 100'000;
            list.stitches.push_back(list.stitches.back());
            verifyCovered(list);
        }
    }

    void whatLiesBelowACoverIsUnderlay() {
        std::size_t under = 0;
        for (const SewnChain& chain : recogniseStretches(mixed()))
            for (const SewnStretch& s : chain.stretches) under += s.under;
        QVERIFY(under >= 2);
        QCOMPARE(surveyStretches(mixed()).unknown, std::size_t{0});
    }

    void whatIsNothingIsScaledAndSaid() {
        Dice dice(8);
        Polyline points;
        for (int i = 0; i < 50; ++i) points.push_back({dice.between(-9, 9), dice.between(-9, 9)});
        const auto result = respace(sewn(points), {0.9, 0.9});
        QVERIFY(result);
        QVERIFY(result->report.unknown > 0);
        QVERIFY(result->report.unknownStitches > 30);
        QCOMPARE(result->report.unknownAt.size(), result->report.unknown);
    }

    void fillsKeepSpacingOutlineAndLoad_data() {
        QTest::addColumn<double>("k");
        for (const double k : {0.4, 0.5, 0.65, 0.8, 1.25, 1.5, 2.0, 2.5})
            QTest::addRow("%g", k) << k;
    }
    void fillsKeepSpacingOutlineAndLoad() {
        QFETCH(double, k);
        for (const StitchList& design :
             {sewn(fillPoints(discRows(15))), sewn(fillPoints(rectangleRows(30, 24)))}) {
            const StitchList after = laid(design, k, k);
            const auto gaps = levelRowGaps(after);
            QVERIFY(gaps.size() > 10);
            VERIFY_NEAR(gaps[gaps.size() / 2], 0.4, 0.4 * 0.05);
            VERIFY_NEAR(gaps[gaps.size() * 9 / 10], 0.4, 0.4 * 0.12);
            VERIFY_NEAR(gaps[gaps.size() / 10], 0.4, 0.4 * 0.12);
            const Box a = extentsOf(scaledOnly(design, k, k)), b = extentsOf(after);
            VERIFY_NEAR(a.minX, b.minX, 0.35);
            VERIFY_NEAR(a.maxX, b.maxX, 0.35);
            VERIFY_NEAR(a.minY, b.minY, 0.35);
            VERIFY_NEAR(a.maxY, b.maxY, 0.35);
            // Every place of the old rows has thread within half a row and a bit.
            QVERIFY(farthest(scaledOnly(design, k, k), after) < 0.2 + 0.35);
            QVERIFY(farthest(after, scaledOnly(design, k, k)) < 0.2 * std::max(1.0, k) + 0.35);
            VERIFY_NEAR(peak(after), peak(design), 0.11 * peak(design));
            // Fills go as the area.
            VERIFY_NEAR(measure(after).lengthMm, k * k * measure(design).lengthMm,
                        0.1 * k * k * measure(design).lengthMm);
            QVERIFY(longest(after) <= 12.1);
        }
    }

    void rowsThatJumpOverAHoleAreSewnSideBySide() {
        // Row by row, with a jump over the hole in each: half the rows of a side are in one chain.
        StitchList design;
        design.threads = {{1, {31, 78, 121}, 40, "Deep tide"}};
        for (int i = 0; i < 60; ++i) {
            const double y = -12 + 0.4 * i, r = 5;
            std::vector<std::pair<double, double>> parts{{-15, 15}};
            if (std::abs(y) < r) {
                const double half = std::sqrt(r * r - y * y);
                parts = {{-15, -half}, {half, 15}};
            }
            if (i % 2 == 1) std::reverse(parts.begin(), parts.end());
            for (std::size_t k = 0; k < parts.size(); ++k) {
                auto [a, b] = parts[k];
                if (i % 2 == 1) std::swap(a, b);
                if (k > 0 || i == 0) design.stitches.push_back(stitchAt(Op::jump, {a, y}, 1));
                for (int n = 0; n <= 4; ++n)
                    design.stitches.push_back(stitchAt(Op::stitch, {a + (b - a) * n / 4, y}, 1));
            }
        }
        for (const double k : {0.5, 2.0}) {
            const StitchList after = laid(design, k, k);
            const auto gaps = levelRowGaps(after);
            VERIFY_NEAR(gaps[gaps.size() / 2], 0.4, 0.02);
            QVERIFY(measure(after).jumps < 6);
            // Nothing lies in the hole, nothing around it is bare.
            const auto map = LoadMap::measure(after);
            QVERIFY(map->layers(cellAt({0, 0})) < 0.05);
            for (double a = 0; a < 6.2; a += 0.3)
                // A window of 2 mm holds four or five rows.
                QVERIFY(map->layers(cellAt(Vec2{std::cos(a), std::sin(a)} * (8.2 * k))) > 0.75);
        }
    }

    void fillStitchesKeepLengthAndStagger() {
        const StitchList after = laid(sewn(fillPoints(rectangleRows(30, 24))), 2, 2);
        std::map<int, int> phases; // of needle points inside the rows, in quarters of 3 mm
        int inside = 0;
        const Polyline points = needles(after);
        for (std::size_t i = 1; i + 1 < points.size(); ++i) {
            const double size = distance(points[i], points[i + 1]);
            if (std::abs(points[i].x) > 28 || std::abs(points[i + 1].x) > 28) continue;
            VERIFY_NEAR(size, 3, 0.01);
            const double phase = points[i].x / 3 - std::floor(points[i].x / 3);
            ++phases[static_cast<int>(std::lround(phase * 4)) % 4];
            ++inside;
        }
        QCOMPARE(phases.size(), std::size_t{4});
        for (const auto& [phase, count] : phases) QVERIFY(count > inside / 5);
    }

    void unequalScalingKeepsTheAngleOfRows() {
        const StitchList after =
            laid(sewn(fillPoints(rectangleRows(30, 24), true, 3, 30)), 1.6, 0.8);
        double along = 0, all = 0;
        walkStitches(after.stitches, [&](std::size_t i, const Stitch* last) {
            if (!last) return;
            const Vec2 d = after.stitches[i].at() - last->at();
            const double turn = std::atan2(d.y, d.x) - std::numbers::pi / 6;
            all += length(d);
            if (std::abs(std::sin(turn)) < 0.06) along += length(d);
        });
        QVERIFY2(along > 0.75 * all, qPrintable(QString::number(along / all)));
        VERIFY_NEAR(*medianRowSpacing(after), 0.4, 0.008);
    }

    void sectionsOfATurnedFillGoOnInEachOther() {
        Shape shape;
        shape.parts = {fillOf(
            {{{0, 0}, {80, 0}, {80, 60}, {0, 60}}, {{25, 20}, {55, 20}, {55, 40}, {25, 40}}}, 30)};
        const Vec2 axis{std::cos(std::numbers::pi / 6), std::sin(std::numbers::pi / 6)};
        for (const Vec2 k : {Vec2{1.4, 1}, Vec2{0.8, 1.3}}) {
            const StitchList after = laid(stitchShape(shape), k.x, k.y);
            // All rows lie on one set of lines, 0.4 mm apart.
            std::complex<double> sum;
            double all = 0;
            walkStitches(after.stitches, [&](std::size_t i, const Stitch* last) {
                if (!last) return;
                const Vec2 d = after.stitches[i].at() - last->at();
                if (length(d) < 1 || std::abs(cross(axis, d)) > 0.02 * length(d)) return;
                const double row = cross(axis, last->at()) / 0.4;
                sum += std::polar(length(d), 2 * std::numbers::pi * row);
                all += length(d);
            });
            QVERIFY2(std::abs(sum) > 0.9 * all, qPrintable(QString::number(std::abs(sum) / all)));
        }
    }

    void satinsKeepPitchSidesAndRails_data() { fillsKeepSpacingOutlineAndLoad_data(); }
    void satinsKeepPitchSidesAndRails() {
        QFETCH(double, k);
        const StitchList straight =
            sewn(satinPoints({{0, 0}, {40, 0}}, [](double) { return 4.5; }));
        const StitchList curved =
            sewn(satinPoints(arcLine(20, 0, 2.5), [](double t) { return 4 + t; }));
        const StitchList tapering = sewn(
            satinPoints({{0, 0}, {40, 0}}, [](double t) { return 1 + 4 * std::sin(3.14159 * t); }));
        for (const StitchList& design : {straight, curved, tapering}) {
            const StitchList after = laid(design, k, k);
            const double was = static_cast<double>(measure(design).stitches);
            // At 2.5 the widest crossings are divided.
            if (k <= 2)
                VERIFY_NEAR(static_cast<double>(measure(after).stitches), k * was,
                            0.06 * k * was + 4);
            // Between crossings that are scaled apart there is bare ground, up to half a pitch.
            const double tip = k < 0.5 || k > 2 ? 0.15 : 0;
            QVERIFY(farthest(scaledOnly(design, k, k), after, 0.25) < 0.35 + tip);
            QVERIFY(farthest(after, scaledOnly(design, k, k), 0.25) < 0.25 + 0.1 * k + tip);
            QVERIFY(longest(after) <= 12.1);
            // Start and end stay.
            VERIFY_NEAR(distance(needles(after).front(), needles(design).front() * k), 0, 1e-4);
            VERIFY_NEAR(distance(needles(after).back(), needles(design).back() * k), 0, 1e-4);
        }
        const Polyline points = needles(laid(straight, k, k));
        for (std::size_t i = 2; i < points.size(); ++i)
            QVERIFY(points[i].y * points[i - 1].y < 0 || std::abs(points[i].y) < 1e-6);
        for (std::size_t i = 5; i + 5 < points.size(); ++i)
            VERIFY_NEAR(points[i].x - points[i - 2].x, 0.4, 0.4 * 0.05);
    }

    void runsKeepStitchLengthAndCorners() {
        const Polyline corners{{0, 0}, {20, 0}, {20, 15}, {5, 10}, {0, 0}};
        const StitchList design = sewn(runPoints(corners));
        for (const double k : {0.5, 0.7, 1.4, 2.0}) {
            const StitchList after = laid(design, k, k);
            const Polyline points = needles(after);
            for (const Vec2& corner : corners) {
                double least = 1e9;
                for (const Vec2& p : points) least = std::min(least, distance(p, corner * k));
                QVERIFY(least < 0.15);
            }
            std::vector<double> sizes;
            for (std::size_t i = 1; i < points.size(); ++i)
                sizes.push_back(distance(points[i - 1], points[i]));
            std::sort(sizes.begin(), sizes.end());
            VERIFY_NEAR(sizes[sizes.size() / 2], 2.5, 0.35);
        }
    }

    void repeatedRunsStayRepeated() {
        const Polyline once = runPoints({{0, 0}, {20, 0}, {20, 15}});
        Polyline thrice{once[0]};
        for (std::size_t i = 1; i < once.size(); ++i)
            thrice.insert(thrice.end(), {once[i], once[i - 1], once[i]});
        const StitchList after = laid(sewn(thrice), 2, 2);
        VERIFY_NEAR(measure(after).lengthMm, 2 * measure(sewn(thrice)).lengthMm, 1e-6);
        QCOMPARE(kinds(after), std::vector{StretchKind::repeatedRun});
    }

    void tiesKeepTheirSize() {
        const Polyline tie{{0, 0}, {0.6, 0}, {0, 0}, {0.6, 0}, {0, 0}};
        const Polyline points =
            needles(laid(sewn(joined({tie, runPoints({{0, 0}, {30, 0}})})), 2, 2));
        VERIFY_NEAR(distance(points[0], points[1]), 0.6, 1e-6);
        VERIFY_NEAR(distance(points[2], points[3]), 0.6, 1e-6);
    }

    void mixedDesignsKeepThreadsOrderCutsAndLoad() {
        const StitchList design = mixed();
        for (const double k : {0.5, 0.75, 1.5, 2.0}) {
            const StitchList after = laid(design, k, k);
            QCOMPARE(after.threads, design.threads);
            const Measures a = measure(design), b = measure(after);
            QCOMPARE(b.trims, a.trims);
            QCOMPARE(b.jumps, a.jumps);
            QCOMPARE(b.threadChanges, a.threadChanges);
            QVERIFY(b.longestMm <= 12.1);
            VERIFY_NEAR(*medianRowSpacing(after), *medianRowSpacing(design), 0.02);
            // At half the size columns are narrower than the window that loads are read in.
            VERIFY_NEAR(peak(after), peak(design), (k < 0.8 ? 0.2 : 0.11) * peak(design));
            QCOMPARE(kinds(after).size(), kinds(design).size());
        }
    }

    void choicesBetweenSpacingAndStitches() {
        const StitchList design = sewn(fillPoints(rectangleRows(30, 24)));
        RespaceOptions options;
        options.spacingShare = 0;
        VERIFY_NEAR(*medianRowSpacing(laid(design, 1.5, 1.5, options)), 0.6, 0.01);
        options.spacingShare = 0.5;
        VERIFY_NEAR(*medianRowSpacing(laid(design, 1.5, 1.5, options)), 0.4 * std::sqrt(1.5), 0.02);
        options = {};
        options.spacingMm = 0.5;
        VERIFY_NEAR(*medianRowSpacing(laid(design, 1.5, 1.5, options)), 0.5, 0.02);
        VERIFY_NEAR(*medianRowSpacing(laid(design, 1, 1, options)), 0.5, 0.02);
        const StitchList satin = sewn(satinPoints({{0, 0}, {40, 0}}, [](double) { return 5; }));
        VERIFY_NEAR(*medianRowSpacing(laid(satin, 1, 1, options)), 0.5, 0.02);
    }

    void longStitchesAreDivided() {
        const StitchList wide = sewn(satinPoints({{0, 0}, {40, 0}}, [](double) { return 8; }));
        QVERIFY(longest(laid(wide, 2, 2)) <= 12.1);
        RespaceOptions options;
        options.longestMm = 7;
        QVERIFY(longest(laid(wide, 1, 1, options)) <= 7.0 + 1e-6);
    }

    void oneIsTheSameListAndBadAsksAreRefused() {
        const StitchList design = mixed();
        QCOMPARE(laid(design, 1, 1), design);
        QVERIFY(!respace(design, {0, 1}));
        QVERIFY(!respace(design, {1e9, 1e9}));
        RespaceOptions options;
        options.spacingMm = 9;
        QVERIFY(!respace(design, {1, 1}, options));
        QVERIFY(respace(StitchList{}, {2, 2}));
    }

    void mirroringScalesAreAllowed() {
        const StitchList after = laid(sewn(fillPoints(discRows(10))), -1.5, 1.5);
        VERIFY_NEAR(extentsOf(after).width(), 30, 0.7);
        VERIFY_NEAR(*medianRowSpacing(after), 0.4, 0.008);
    }
};

RAPT_TEST(TestRespace)
#include "test_respace.moc"
