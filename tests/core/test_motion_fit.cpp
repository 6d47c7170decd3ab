#include "support.h"

#include "registration/motion_fit.h"

#include <random>

using namespace rapt;

namespace {

constexpr double degreesPerRadian = 57.29577951308232;

/// Another way to the same: all residuals over their σ, and Gauss and Newton by finite differences
/// from the truth. Unknown: x, y, turn (rad).
struct Oracle {
    std::vector<Observation> seen;
    std::array<double, 3> v{};
    std::array<std::array<double, 3>, 3> covariance{};

    std::vector<double> rows(const std::array<double, 3>& p) const {
        const double c = std::cos(p[2]), s = std::sin(p[2]);
        const auto put = [&](Vec2 q) {
            return Vec2{c * q.x - s * q.y + p[0], s * q.x + c * q.y + p[1]};
        };
        std::vector<double> r;
        for (const Observation& o : seen) {
            if (o.kind == Observation::Kind::line) {
                const Vec2 a = put(o.plannedLine[0]), b = put(o.plannedLine[1]);
                for (const Vec2& q : o.seenLine)
                    r.push_back(cross(b - a, q - a) / distance(a, b) / o.sigmaMm);
                continue;
            }
            const Vec2 d = o.seen - put(o.planned);
            r.push_back(d.x / o.sigmaMm);
            r.push_back(d.y / o.sigmaMm);
            if (o.kind == Observation::Kind::card)
                r.push_back(std::remainder(
                                o.seenTurnDeg - o.plannedTurnDeg - p[2] * degreesPerRadian, 360) /
                            o.sigmaDeg);
        }
        return r;
    }

    void run() {
        for (int round = 0; round < 40; ++round) {
            std::array<std::array<double, 4>, 3> m{};
            const auto r = rows(v);
            std::array<std::vector<double>, 3> j;
            for (std::size_t k = 0; k < 3; ++k) {
                const double h = k == 2 ? 1e-6 : 1e-4;
                auto up = v, down = v;
                up[k] += h;
                down[k] -= h;
                const auto a = rows(up), b = rows(down);
                for (std::size_t i = 0; i < a.size(); ++i) j[k].push_back((a[i] - b[i]) / (2 * h));
            }
            for (std::size_t a = 0; a < 3; ++a) {
                for (std::size_t b = 0; b < 3; ++b)
                    for (std::size_t i = 0; i < r.size(); ++i) m[a][b] += j[a][i] * j[b][i];
                for (std::size_t i = 0; i < r.size(); ++i) m[a][3] -= j[a][i] * r[i];
            }
            const auto step = solved(m);
            for (std::size_t k = 0; k < 3; ++k) v[k] += step[k];
            for (std::size_t k = 0; k < 3; ++k) {
                auto unit = m;
                for (std::size_t i = 0; i < 3; ++i) unit[i][3] = i == k ? 1 : 0;
                covariance[k] = solved(unit);
            }
        }
    }

    /// Cramer's rule.
    static std::array<double, 3> solved(const std::array<std::array<double, 4>, 3>& m) {
        const auto det = [&](int replaced) {
            const auto at = [&](std::size_t i, std::size_t k) {
                return static_cast<int>(k) == replaced ? m[i][3] : m[i][k];
            };
            return at(0, 0) * (at(1, 1) * at(2, 2) - at(1, 2) * at(2, 1)) -
                   at(0, 1) * (at(1, 0) * at(2, 2) - at(1, 2) * at(2, 0)) +
                   at(0, 2) * (at(1, 0) * at(2, 1) - at(1, 1) * at(2, 0));
        };
        const double d = det(-1);
        return {det(0) / d, det(1) / d, det(2) / d};
    }
};

Observation point(const char* name, Vec2 planned, Vec2 seen, double sigma = 0.3) {
    Observation o;
    o.name = name;
    o.planned = planned;
    o.seen = seen;
    o.sigmaMm = sigma;
    return o;
}

Observation line(const char* name, Vec2 a, Vec2 b, Polyline seen, double sigma = 0.3) {
    Observation o;
    o.kind = Observation::Kind::line;
    o.name = name;
    o.plannedLine = {a, b};
    o.seenLine = std::move(seen);
    o.sigmaMm = sigma;
    return o;
}

/// A random mix, seen through a motion with noise of the stated size.
std::vector<Observation> mixed(std::mt19937& dice, const Affine& truth) {
    std::normal_distribution<double> normal;
    std::uniform_real_distribution<double> place(-90, 90), sigma(0.05, 0.6);
    std::vector<Observation> seen;
    const double turn = std::atan2(truth.c, truth.a) * degreesPerRadian;
    const auto noisy = [&](Vec2 p, double s) {
        return truth(p) + Vec2{s * normal(dice), s * normal(dice)};
    };
    for (int i = 0; i < 3; ++i) {
        Observation o = point("p", {place(dice), place(dice)}, {}, sigma(dice));
        o.kind = i == 2 ? Observation::Kind::card : Observation::Kind::point;
        o.seen = noisy(o.planned, o.sigmaMm);
        o.sigmaDeg = 0.1 + sigma(dice);
        o.plannedTurnDeg = place(dice);
        o.seenTurnDeg = o.plannedTurnDeg + turn + o.sigmaDeg * normal(dice);
        seen.push_back(o);
    }
    const Vec2 a{place(dice), place(dice)}, b{place(dice), place(dice)};
    Observation l = line("l", a, b, {}, sigma(dice));
    for (const double t : {-0.5, 0.2, 1.4}) l.seenLine.push_back(noisy(lerp(a, b, t), l.sigmaMm));
    seen.push_back(l);
    return seen;
}

} // namespace

/// One weighted fit from points, cards and lines.
class TestMotionFit : public QObject {
    Q_OBJECT

private slots:
    void mixedObservationsAgreeWithAnotherSolver() {
        std::mt19937 dice(5);
        std::uniform_real_distribution<double> turn(-179, 179), move(-200, 200);
        for (int n = 0; n < 40; ++n) {
            const Pose pose{move(dice), move(dice), turn(dice), false, 1, 1};
            Oracle oracle{mixed(dice, pose.affine()),
                          {pose.x, pose.y, pose.rotationDeg / degreesPerRadian}};
            oracle.run();
            const auto report = fitObservations(oracle.seen);
            QVERIFY(bool(report));
            VERIFY_NEAR(report->fit.translation.x, oracle.v[0], 1e-5);
            VERIFY_NEAR(report->fit.translation.y, oracle.v[1], 1e-5);
            VERIFY_NEAR(
                std::remainder(report->fit.rotationDeg - oracle.v[2] * degreesPerRadian, 360), 0,
                1e-5);
            for (std::size_t i = 0; i < 3; ++i)
                for (std::size_t k = 0; k < 3; ++k) {
                    const double want = oracle.covariance[i][k];
                    const double size =
                        std::sqrt(oracle.covariance[i][i] * oracle.covariance[k][k]);
                    VERIFY_NEAR(report->fit.covariance[i * 3 + k], want, 0.01 * size);
                }
        }
    }

    void pointsAloneAreFittedAsAlways() {
        std::mt19937 dice(3);
        std::uniform_real_distribution<double> place(-80, 80);
        std::normal_distribution<double> noise(0, 0.3);
        const Affine truth = Pose{12, -7, 3, false, 1, 1}.affine();
        std::vector<PointPair> pairs;
        std::vector<Observation> seen;
        std::vector<Vec2> planned;
        for (int i = 0; i < 6; ++i) {
            const Vec2 p{place(dice), place(dice)};
            const Vec2 q = truth(p) + Vec2{noise(dice), noise(dice)};
            pairs.push_back({"p" + std::to_string(i), p, q});
            seen.push_back(point("p", p, q));
            planned.push_back(p);
        }
        const auto a = fitPoints(pairs);
        const auto b = fitObservations(seen);
        VERIFY_NEAR(a->fit.rotationDeg, b->fit.rotationDeg, 1e-9);
        VERIFY_NEAR(a->fit.rmsMm, b->fit.rmsMm, 1e-9);
        VERIFY_NEAR(a->scale, *b->scale, 1e-9);
        VERIFY_NEAR(*a->squareErrorDeg, *b->squareErrorDeg, 1e-7);
        // For equal σ the covariance gives the formula for points.
        for (const Vec2 at : {Vec2{0, 0}, {100, 40}, {-60, 90}})
            VERIFY_NEAR(b->fit.sigmaAt(at), predictedErrorMm(planned, at, 0.3), 1e-9);
    }

    void whatLeavesTheMotionOpenIsRefusedWithWhatIsMissing_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("missing");
        QTest::newRow("nothing") << 0 << "nothing was observed";
        QTest::newRow("one point") << 1 << "turn";
        QTest::newRow("points at one place") << 2 << "turn";
        QTest::newRow("one line") << 3 << "along the line";
        QTest::newRow("parallel lines") << 4 << "along the line";
        QTest::newRow("seen at one place") << 5 << "turn";
    }
    void whatLeavesTheMotionOpenIsRefusedWithWhatIsMissing() {
        QFETCH(int, which);
        QFETCH(QString, missing);
        std::vector<Observation> seen;
        if (which == 1) seen = {point("a", {5, 5}, {6, 6})};
        if (which == 2) seen = {point("a", {5, 5}, {6, 6}), point("b", {5, 5}, {6.1, 6})};
        if (which == 3 || which == 4) seen = {line("l", {0, 0}, {9, 0}, {{-9, 1}, {40, 1.2}})};
        if (which == 4) seen.push_back(line("m", {0, 30}, {9, 30}, {{-9, 31}, {40, 31}}));
        if (which == 5) seen = {point("a", {5, 5}, {6, 6}), point("b", {50, 5}, {6, 6})};
        const auto report = fitObservations(seen);
        QVERIFY(!report);
        QCOMPARE(report.error().fault, Fault::cannotDo);
        QVERIFY2(QString::fromStdString(report.error().reason).contains(missing),
                 report.error().reason.c_str());
    }

    void linesAloneTakeTheLesserTurn() {
        for (const double deg : {3.0, -40.0, 80.0}) {
            const Affine truth = Pose{4, -2, deg, false, 1, 1}.affine();
            std::vector<Observation> seen;
            for (const auto& [a, b] :
                 {std::pair{Vec2{-50, 0}, Vec2{50, 0}}, {Vec2{0, -50}, Vec2{0, 50}}})
                seen.push_back(line("l", a, b, {truth(a), truth(b)}));
            const auto report = fitObservations(seen);
            VERIFY_NEAR(report->fit.rotationDeg, deg, 1e-6);
            VERIFY_NEAR(report->fit.translation.x, 4, 1e-6);
            QVERIFY(!report->scale);
            VERIFY_NEAR(*report->squareErrorDeg, 0, 1e-6);
        }
    }

    void aSingleCardGivesPlaceAndTurn() {
        Observation card = point("c", {10, 20}, {13, 19});
        card.kind = Observation::Kind::card;
        card.plannedTurnDeg = 170;
        card.seenTurnDeg = -175; // 15° further, past the half turn
        const auto report = fitObservations({card});
        VERIFY_NEAR(report->fit.rotationDeg, 15, 1e-9);
        VERIFY_NEAR(distance(report->fit({10, 20}), {13, 19}), 0, 1e-9);
        QCOMPARE(report->fit.freedom, 0);
    }

    void theOneThatDoesNotFitIsNamedAndCanBeLeftOut() {
        const Affine truth = Pose{1, 2, 0.5, false, 1, 1}.affine();
        std::vector<Observation> seen;
        for (const Vec2 p : {Vec2{-60, -40}, {60, -40}, {60, 40}, {-60, 40}})
            seen.push_back(point("p", p, truth(p) + Vec2{0.02 * p.y / 40, 0}));
        seen.push_back(line("across", {-60, 0}, {60, 0}, {truth({-60, 0}), truth({60, 0})}));
        seen[2].name = "wrong";
        seen[2].seen = seen[2].seen + Vec2{3, -2};
        const auto report = fitObservations(seen);
        QCOMPARE(report->suspect, std::optional<std::size_t>(2));
        QVERIFY(report->suspectIsSerious && report->verdict == Verdict::doubt);
        QVERIFY(report->text.find("wrong") != std::string::npos);
        QVERIFY(report->withoutSuspect->rmsMm < report->fit.rmsMm / 3);
        seen[2].leftOut = true;
        const auto rest = fitObservations(seen);
        QVERIFY(!rest->suspectIsSerious && rest->verdict == Verdict::good);
        VERIFY_NEAR(rest->fit.rotationDeg, report->withoutSuspect->rotationDeg, 1e-9);
        QCOMPARE(rest->fit.residuals.size(), seen.size());
        VERIFY_NEAR(length(rest->fit.residuals[2]), std::hypot(3, 2), 0.1);
    }

    void aLooseObservationIsNoSuspect() {
        // It lies far off, but says itself that it may.
        std::vector<Observation> seen;
        for (const Vec2 p : {Vec2{-60, -40}, {60, -40}, {60, 40}, {-60, 40}})
            seen.push_back(point("p", p, p + Vec2{0.1 * p.x / 60, 0.1}, 0.1));
        seen.push_back(point("rough", {0, 0}, {2, 0}, 3));
        QVERIFY(!fitObservations(seen)->suspect);
    }

    void stretchAndSkewOnlyWhenAskedFor() {
        const Affine cloth{1.006, 0.004, 0, 0.995, 0, 0};
        const Affine truth = cloth.then(Pose{3, 1, 2, false, 1, 1}.affine());
        std::vector<Observation> seen;
        for (const Vec2 p : {Vec2{-80, -50}, {80, -50}, {80, 50}, {-80, 50}, {10, 0}})
            seen.push_back(point("p", p, truth(p)));
        QVERIFY(fitObservations(seen)->fit.rmsMm > 0.1);
        const auto stretch = fitObservations(seen, MotionModel::stretch);
        VERIFY_NEAR(stretch->fit.stretchX, 1.006, 0.001);
        const auto skew = fitObservations(seen, MotionModel::skew);
        VERIFY_NEAR(skew->fit.rmsMm, 0, 1e-6);
        VERIFY_NEAR(distance(skew->fit({33, -21}), truth({33, -21})), 0, 1e-6);
        VERIFY_NEAR(skew->fit.stretchY, 0.995, 1e-6);
        QVERIFY(skew->text.find("longer") != std::string::npos);
        // Two points cannot tell it.
        seen.resize(2);
        QVERIFY(!fitObservations(seen, MotionModel::skew));
    }

    void aMirrorImageIsRefused() {
        std::vector<Observation> seen;
        for (const Vec2 p : {Vec2{-60, -40}, {50, -20}, {10, 40}})
            seen.push_back(point("p", p, {-p.x, p.y}));
        const auto report = fitObservations(seen);
        QVERIFY(!report);
        QVERIFY(report.error().reason.find("mirror") != std::string::npos);
    }

    void theStatedErrorIsTheTrueOne() {
        // Over many seeds a radial RMS is what it says, within 6 %.
        std::mt19937 dice(17);
        double squares = 0, stated = 0;
        for (int n = 0; n < 1500; ++n) {
            const Affine truth = Pose{1, -2, 1, false, 1, 1}.affine();
            const auto seen = mixed(dice, truth);
            const auto report = fitObservations(seen);
            const Vec2 at{70, -50};
            squares += std::pow(distance(report->fit(at), truth(at)) / report->fit.sigmaAt(at), 2);
            stated += 1;
        }
        VERIFY_NEAR(std::sqrt(squares / stated), 1, 0.06);
    }
};

RAPT_TEST(TestMotionFit)
#include "test_motion_fit.moc"
