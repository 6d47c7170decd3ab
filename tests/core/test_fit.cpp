#include "support.h"

#include "geometry/pose.h"
#include "registration/fit.h"
#include "registration/points_csv.h"

using namespace rapt;

namespace {

std::vector<PointPair> moved(const std::vector<Vec2>& planned, const Pose& pose) {
    std::vector<PointPair> pairs;
    for (std::size_t i = 0; i < planned.size(); ++i)
        pairs.push_back({"m" + std::to_string(i), planned[i], pose.affine()(planned[i])});
    return pairs;
}

const std::vector<Vec2> square{{-70, -50}, {70, -50}, {70, 50}, {-70, 50}};

} // namespace

class TestFit : public QObject {
    Q_OBJECT
private slots:
    void cleanPointsAreFittedExactly() {
        test::Dice dice(2);
        for (int round = 0; round < 100; ++round) {
            const Pose pose{dice.between(-40, 40), dice.between(-40, 40), dice.between(-179, 179)};
            const auto report = fitPoints(moved(square, pose));
            QVERIFY(bool(report));
            VERIFY_NEAR(report->fit.translation.x, pose.x, 1e-9);
            VERIFY_NEAR(report->fit.translation.y, pose.y, 1e-9);
            VERIFY_NEAR(report->fit.rotationDeg, pose.rotationDeg, 1e-9);
            VERIFY_NEAR(report->fit.rmsMm, 0, 1e-9);
            VERIFY_NEAR(report->scale, 1, 1e-12);
            VERIFY_NEAR(*report->squareErrorDeg, 0, 1e-9);
            QVERIFY(!report->suspect);
            QCOMPARE(report->verdict, Verdict::good);
        }
    }

    void twoPointsAreEnoughButTellNoSquareness() {
        const auto report = fitPoints(moved({{0, 0}, {100, 0}}, {3, 4, 2}));
        QVERIFY(bool(report));
        VERIFY_NEAR(report->fit.rotationDeg, 2, 1e-9);
        QVERIFY(!report->squareErrorDeg);
        QVERIFY(!fitPoints(moved({{0, 0}, {50, 0}, {100, 0}}, {3, 4, 2}))->squareErrorDeg);
    }

    void scaleAndSkewAreReportedAndTheMotionStaysRigid() {
        auto pairs = moved(square, {0, 0, 0, false, 1.01, 1.01});
        VERIFY_NEAR(fitPoints(pairs)->scale, 1.01, 1e-9);
        // A shear of one degree: (x + y·tan 1°, y).
        for (PointPair& p : pairs)
            p.seen = {p.planned.x + p.planned.y * std::tan(M_PI / 180), p.planned.y};
        VERIFY_NEAR(*fitPoints(pairs)->squareErrorDeg, 1, 1e-6);
        QVERIFY(fitPoints(pairs)->fit.rmsMm > 0.1);
    }

    void theResidualIsSeenMinusFitted() {
        auto pairs = moved(square, {5, 5, 10});
        pairs[2].seen = pairs[2].seen + Vec2{1, 0};
        const auto report = fitPoints(pairs);
        for (std::size_t i = 0; i < 4; ++i) {
            const Vec2 r = pairs[i].seen - report->fit(pairs[i].planned);
            VERIFY_NEAR(distance(r, report->fit.residuals[i]), 0, 1e-9);
        }
        double squares = 0;
        for (const Vec2& r : report->fit.residuals) squares += dot(r, r);
        VERIFY_NEAR(report->fit.rmsMm, std::sqrt(squares / 4), 1e-12);
    }

    void theWrongPointIsNamed() {
        std::vector<Vec2> planned = square;
        planned.push_back({0, 0});
        auto pairs = moved(planned, {1, 2, 3});
        pairs[3].seen = pairs[3].seen + Vec2{4, -3};
        const auto report = fitPoints(pairs);
        QCOMPARE(report->suspect, std::optional<std::size_t>{3});
        QCOMPARE(report->verdict, Verdict::doubt);
        VERIFY_NEAR(report->withoutSuspect->rotationDeg, 3, 1e-9);
        VERIFY_NEAR(report->withoutSuspect->rmsMm, 0, 1e-9);
        QCOMPARE(report->withoutSuspect->residuals.size(), std::size_t{4});
        QVERIFY(report->text.find("m3") != std::string::npos);
    }

    void evenNoiseHasNoSuspect() {
        test::Dice dice(9);
        int suspects = 0;
        for (int round = 0; round < 200; ++round) {
            std::vector<Vec2> planned;
            for (int i = 0; i < 12; ++i)
                planned.push_back({dice.between(-90, 90), dice.between(-60, 60)});
            auto pairs = moved(planned, {1, 2, 3});
            for (PointPair& p : pairs) p.seen = p.seen + Vec2{dice.normal(), dice.normal()} * 0.2;
            suspects += fitPoints(pairs)->suspect.has_value();
        }
        QCOMPARE(suspects, 0);
    }

    void whatCannotBeFittedIsRefused() {
        QVERIFY(!fitPoints({}));
        QVERIFY(!fitPoints(moved({{1, 1}}, {})));
        QVERIFY(!fitPoints(moved({{1, 1}, {1, 1}, {5, 5}}, {})));
        auto mirrored = moved(square, {4, 5, 20, true});
        const auto refused = fitPoints(mirrored);
        QVERIFY(!refused);
        QCOMPARE(refused.error().fault, Fault::cannotDo);
        QVERIFY(refused.error().reason.find("mirror") != std::string::npos);
        auto same = moved(square, {});
        same[1].seen = same[0].seen;
        QVERIFY(!fitPoints(same));
    }

    void theErrorOfANoisyFitIsAsPredicted() {
        // 4,000 fits with 0.3 mm noise per axis, judged at a far place.
        test::Dice dice(21);
        const Vec2 at{120, 80};
        double squares = 0;
        constexpr int rounds = 4000;
        for (int round = 0; round < rounds; ++round) {
            auto pairs = moved(square, {2, -1, 1.5});
            for (PointPair& p : pairs) p.seen = p.seen + Vec2{dice.normal(), dice.normal()} * 0.3;
            const auto report = fitPoints(pairs);
            const Vec2 error = report->fit(at) - Pose{2, -1, 1.5}.affine()(at);
            squares += dot(error, error);
        }
        const double predicted = predictedErrorMm(square, at, 0.3);
        VERIFY_NEAR(std::sqrt(squares / rounds), predicted, 0.03 * predicted);
    }

    void theVerdictFollowsTheNoise() {
        auto pairs = moved({{-70, -50}, {70, -50}, {70, 50}}, {});
        QCOMPARE(fitPoints(pairs)->verdict, Verdict::good);
        pairs[2].seen = pairs[2].seen + Vec2{1.3, 1.3};
        QCOMPARE(fitPoints(pairs)->verdict, Verdict::doubt);
        pairs[2].seen = pairs[2].seen + Vec2{8, 8};
        QCOMPARE(fitPoints(pairs)->verdict, Verdict::redo);
    }

    void pointsAreReadFromCsv() {
        const auto points = parsePointsCsv(
            "name,plan_x,plan_y,seen_x,seen_y\r\n\"A, left\",1,2,3.5,-4\nB,5,6,7,8", "p.csv");
        QVERIFY(bool(points));
        QCOMPARE((*points)[0].name, std::string("A, left"));
        QCOMPARE((*points)[0].seen, (Vec2{3.5, -4}));
        for (const char* bad : {"", "name,plan_x\n", "name,plan_x,plan_y,seen_x,seen_y\nA,1,2,3\n",
                                "name,plan_x,plan_y,seen_x,seen_y\nA,1,2,3,nan\n",
                                "name,plan_x,plan_y,seen_x,seen_y\nA,1,2,3,x\n",
                                "name,plan_x,plan_y,seen_x,seen_y\nA,1,2,3,1e300\n",
                                "name,plan_x,plan_y,seen_x,seen_y\nA,1,2,3,4\nA,5,6,7,8\n"})
            QVERIFY2(!parsePointsCsv(bad, "p.csv"), bad);
    }

    void tenThousandPointsTakeNoTime() {
        test::Dice dice(5);
        std::vector<Vec2> planned;
        for (int i = 0; i < 10'000; ++i)
            planned.push_back({dice.between(-900, 900), dice.between(-900, 900)});
        const auto report = fitPoints(moved(planned, {1, 1, 1}));
        VERIFY_NEAR(report->fit.rotationDeg, 1, 1e-9);
    }
};

RAPT_TEST(TestFit)
#include "test_fit.moc"
