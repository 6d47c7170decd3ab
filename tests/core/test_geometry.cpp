#include "support.h"

#include "base/number.h"

#include "geometry/lengths.h"
#include "geometry/polygon.h"
#include "geometry/pose.h"

using namespace rapt;

class TestGeometry : public QObject {
    Q_OBJECT
private slots:
    void poseScalesThenMirrorsThenTurnsThenMoves() {
        const Pose pose{10, 20, 90, true, 2, 3};
        // (1, 1) → scaled (2, 3) → mirrored (−2, 3) → turned clockwise as seen (−3, −2) → moved.
        const Vec2 p = pose.affine()({1, 1});
        VERIFY_NEAR(p.x, 7, 1e-12);
        VERIFY_NEAR(p.y, 18, 1e-12);
    }

    void positiveAnglesTurnClockwiseAsSeen() {
        // With y towards the operator, clockwise takes +x to +y.
        const Vec2 p = Pose{0, 0, 90}.affine()({1, 0});
        QCOMPARE(p.x, 0.0);
        QCOMPARE(p.y, 1.0);
    }

    void aTransformUndoneIsNothing() {
        test::Dice dice(1);
        for (int i = 0; i < 200; ++i) {
            const Pose pose{dice.between(-500, 500), dice.between(-500, 500),
                            dice.between(-720, 720), i % 2 == 0,
                            dice.between(0.1, 4),    dice.between(-4, -0.1)};
            const Vec2 p{dice.between(-300, 300), dice.between(-300, 300)};
            const Vec2 back = pose.affine().inverse()(pose.affine()(p));
            QVERIFY(distance(back, p) < 1e-9);
        }
    }

    void lengthsAreReadAsPeopleTypeThem_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("mm");
        const std::pair<const char*, double> cases[] = {{"231.8 mm", 231.8},
                                                        {"23.2 cm", 232},
                                                        {"9 1/8 in", 231.775},
                                                        {"9-1/8 in", 231.775},
                                                        {"9.125\"", 231.775},
                                                        {"9 1/8\"", 231.775},
                                                        {"-4", -4},
                                                        {" 12.5 ", 12.5},
                                                        {"3/4 in", 19.05},
                                                        {".5", 0.5},
                                                        {"+7mm", 7},
                                                        {"0", 0},
                                                        {"-1 1/2 in", -38.1},
                                                        {"1/16\"", 1.5875}};
        for (const auto& [text, mm] : cases) QTest::newRow(text) << QString(text) << mm;
    }
    void lengthsAreReadAsPeopleTypeThem() {
        QFETCH(QString, text);
        QFETCH(double, mm);
        const auto read = parseLength(text.toStdString(), LengthUnit::millimetre);
        QVERIFY2(bool(read), qPrintable(text));
        VERIFY_NEAR(*read, mm, 1e-9);
    }

    void aBareNumberIsInTheUnitThatIsShown() {
        VERIFY_NEAR(*parseLength("9 1/8", LengthUnit::inch), 231.775, 1e-9);
        VERIFY_NEAR(*parseLength("2", LengthUnit::inch), 50.8, 1e-9);
        // The decimal comma is read as the point is, in every locale.
        VERIFY_NEAR(*parseLength("98,6", LengthUnit::millimetre), 98.6, 1e-9);
        VERIFY_NEAR(*parseNumber("-0,25"), -0.25, 1e-12);
        for (const char* text : {"", "1.2.3", "1 000", "1'000", "12a", ",", "1e400"})
            QVERIFY2(!parseNumber(text), text);
    }

    void whatIsNoLengthIsRefused() {
        for (const char* text : {"", "abc", "1/0 in", "4 feet", "1..2", "nan", "inf", "1e3", "--4",
                                 "9 1/8 1/8", "1,5,2", "1.000,5"})
            QVERIFY2(!parseLength(text, LengthUnit::millimetre), text);
    }

    void inchesAreShownInReducedFractions() {
        QCOMPARE(formatLength(231.775, LengthUnit::inch), std::string("9 1/8 in"));
        QCOMPARE(formatLength(25.4, LengthUnit::inch), std::string("1 in"));
        QCOMPARE(formatLength(12.7, LengthUnit::inch), std::string("1/2 in"));
        QCOMPARE(formatLength(-38.1, LengthUnit::inch), std::string("−1 1/2 in"));
        QCOMPARE(formatLength(-0.01, LengthUnit::millimetre), std::string("0.0 mm"));
    }

    void anOffsetMovesTheOutlineByItsDistance() {
        const Contours square{test::rectangle(0, 0, 20, 10)};
        const Box inner = boundsOf(offsetContours(square, -1));
        VERIFY_NEAR(inner.width(), 18, 0.01);
        VERIFY_NEAR(inner.height(), 8, 0.01);
        VERIFY_NEAR(areaOf(offsetContours(square, 2)), 20 * 10 + 2 * 60 + M_PI * 4, 0.1);
    }

    void aHoleIsNotInside() {
        const Contours ring{test::rectangle(0, 0, 20, 20), test::rectangle(5, 5, 10, 10)};
        QVERIFY(contains(ring, {2, 2}));
        QVERIFY(!contains(ring, {10, 10}));
        VERIFY_NEAR(areaOf(ring), 300, 1e-6);
    }

    void theHullHoldsEveryPointAndIsConvex() {
        test::Dice dice(3);
        std::vector<Vec2> points;
        for (int i = 0; i < 300; ++i) points.push_back({dice.normal(), dice.normal()});
        const Polyline hull = convexHull(points);
        for (std::size_t i = 0; i < hull.size(); ++i) {
            const Vec2 a = hull[i], b = hull[(i + 1) % hull.size()];
            for (const Vec2& p : points) QVERIFY(cross(b - a, p - a) > -1e-9);
        }
    }

    void theSmallestCircleIsTight() {
        test::Dice dice(4);
        for (int round = 0; round < 50; ++round) {
            std::vector<Vec2> points;
            for (int i = 0; i < 40; ++i)
                points.push_back({dice.between(-9, 9), dice.between(-3, 3)});
            const Circle c = smallestCircle(points);
            int onRim = 0;
            for (const Vec2& p : points) {
                QVERIFY(distance(p, c.centre) <= c.radius + 1e-9);
                onRim += distance(p, c.centre) > c.radius - 1e-9;
            }
            QVERIFY(onRim >= 2);
        }
    }
};

RAPT_TEST(TestGeometry)
#include "test_geometry.moc"
