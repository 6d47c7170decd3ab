#include "support.h"

#include "learn/lessons.h"
#include "library/learnt.h"
#include "library/shop.h"

#include <random>

using namespace rapt;

namespace {

constexpr double house = 3.0;

/// Stitch-outs with loads all over, and trouble from the limit on; some luck and some bad luck.
std::vector<LoadCase> planted(double limit, int n, unsigned seed, double noise = 0.04) {
    std::mt19937 dice(seed);
    std::uniform_real_distribution<double> load(0.5 * limit, 1.7 * limit), share(0, 1);
    std::vector<LoadCase> cases;
    for (int i = 0; i < n; ++i) {
        const double x = load(dice);
        // At the limit the load spoils one in ten.
        const double there = std::log(0.1 / (0.9 - 2 * noise));
        const double p =
            noise + (1 - 2 * noise) / (1 + std::exp(-std::log(x / limit) / 0.05 - there));
        cases.push_back({x, share(dice) < p});
    }
    return cases;
}

StitchOut record(const std::string& fabric, double layers, const std::string& outcome,
                 const std::string& cause = {}) {
    StitchOut r;
    r.job = "Tag";
    r.date = "2026-03-01";
    r.fabric = fabric;
    r.peakLayers = layers;
    r.outcome = outcome;
    r.cause = cause;
    return r;
}

const Lesson* lessonOf(const std::vector<Lesson>& lessons, const std::string& kind,
                       const std::string& subject) {
    for (const Lesson& l : lessons)
        if (l.kind == kind && l.subject == subject) return &l;
    return nullptr;
}

Library houseLibrary() { return *loadHouseLibrary(dataFolder(), "/nowhere"); }

} // namespace

class TestLearn : public QObject {
    Q_OBJECT
private slots:
    void aPlantedLimitIsFoundFromSixtyCases() {
        for (const double truth : {1.8, 2.6, 4.2})
            for (unsigned seed = 1; seed <= 12; ++seed) {
                const LimitFit fit = fitLimit(planted(truth, 60, seed), house);
                QVERIFY2(fit.isSettled, qPrintable(QString("%1 %2").arg(truth).arg(seed)));
                VERIFY_NEAR(fit.value / truth, 1, 0.2);
                QVERIFY(fit.interval.low < fit.value && fit.value < fit.interval.high);
            }
    }

    void theIntervalHoldsTheTruthAtItsRate() {
        int held = 0;
        constexpr int runs = 60;
        for (unsigned seed = 100; seed < 100 + runs; ++seed) {
            const LimitFit fit = fitLimit(planted(3.6, 60, seed), house);
            held += fit.interval.low <= 3.6 && 3.6 <= fit.interval.high;
        }
        // Nine in ten; five of sixty runs either way are chance.
        QVERIFY2(held >= 49, qPrintable(QString::number(held)));
    }

    void noiseAloneMovesNothing() {
        int moved = 0;
        std::mt19937 dice(5);
        for (int run = 0; run < 100; ++run) {
            auto cases = planted(house, 60, 1);
            for (LoadCase& c : cases) c.trouble = dice() % 4 == 0;
            moved += fitLimit(cases, house).isSettled;
        }
        QVERIFY2(moved <= 1, qPrintable(QString::number(moved)));
        // Trouble at light loads alone is no limit either.
        auto upside = planted(house, 60, 2);
        for (LoadCase& c : upside) c.trouble = !c.trouble;
        QVERIFY(!fitLimit(upside, house).isSettled);
    }

    void fewCasesStayWithTheHouse() {
        const auto fabric = houseLibrary().fabric("canvas");
        std::vector<StitchOut> records;
        for (int i = 0; i < 10; ++i)
            records.push_back(record("canvas", 1 + 0.3 * i, i > 5 ? "spoilt" : "good"));
        const Lesson lesson = limitLessons(records, *fabric)[0];
        QVERIFY(!lesson.isSettled);
        QCOMPARE(lesson.learnt, fabric->maxLayers);
        QVERIFY2(lesson.evidence.find("10 of the 15") == 0, lesson.evidence.c_str());
    }

    void whatHasOtherCausesTellsNothingOfTheLoad() {
        const Library library = houseLibrary();
        std::vector<StitchOut> records;
        for (int i = 0; i < 40; ++i) {
            records.push_back(record("felt", 1.5 + 0.05 * i, "mended", "misspelt"));
            records.push_back(record("felt", 1.5 + 0.05 * i, i >= 22 ? "spoilt" : "good"));
        }
        const auto lessons = lessonsOf(records, library, {});
        const Lesson* layers = lessonOf(lessons, "layers", "felt");
        QVERIFY(layers && layers->isSettled && layers->isNews);
        VERIFY_NEAR(layers->learnt, 2.6, 0.15);
        QCOMPARE(layers->cases, 40u); // without those that were misspelt
        QVERIFY(!lessonOf(lessons, "layers", "canvas"));
    }

    void placingAndDrawInComeOutOfTheGaps() {
        std::mt19937 dice(3);
        std::normal_distribution<double> error(0, 1);
        const double sigma = 0.45, drawIn = 0.5;
        std::vector<StitchOut> records;
        for (int i = 0; i < 120; ++i) {
            const bool knit = i % 2;
            StitchOut r = record(knit ? "knit" : "canvas", 2, "good");
            r.method = "datum";
            r.predictedJoinMm = std::sqrt(4 * 0.3 * 0.3 + 0.1 * 0.1);
            r.placingSigmaMm = 0.3;
            r.drawInMm = 0.1;
            for (int k = 0; k < 3; ++k) {
                const double along = knit ? drawIn : 0.1;
                r.gapsMm.push_back(std::hypot(std::sqrt(2.0) * sigma * error(dice) + along,
                                              std::sqrt(2.0) * sigma * error(dice)));
            }
            records.push_back(r);
        }
        const auto lessons = lessonsOf(records, houseLibrary(), {});
        const Lesson* placing = lessonOf(lessons, "placing", "datum");
        QVERIFY(placing && placing->isNews);
        VERIFY_NEAR(placing->learnt, sigma, 0.05);
        QVERIFY(placing->interval.low < sigma && sigma < placing->interval.high);
        VERIFY_NEAR(placingOf(records)->value, sigma, 0.05);
        const Lesson* knit = lessonOf(lessons, "draw-in", "knit");
        QVERIFY(knit);
        VERIFY_NEAR(knit->learnt, drawIn, 0.15);
    }

    void timesAndMinutesAreComparedWithTheEstimate() {
        std::vector<StitchOut> records;
        for (int i = 0; i < 12; ++i) {
            StitchOut r = record("canvas", 2, "good");
            r.machine = "six-needle";
            r.secondsEstimated = 1000 + 100 * i;
            r.secondsTaken = *r.secondsEstimated * (i % 2 ? 1.2 : 1.1);
            r.labourMinutesEstimated = 20;
            r.labourMinutes = 24 + i % 3;
            records.push_back(r);
        }
        ShopRates shop;
        const auto lessons = lessonsOf(records, houseLibrary(), shop);
        const Lesson* time = lessonOf(lessons, "time", "six-needle");
        QVERIFY(time && time->isNews);
        VERIFY_NEAR(time->learnt, std::sqrt(1.2 * 1.1), 1e-9);
        VERIFY_NEAR(timeFactorOf(records)->value, time->learnt, 1e-9);
        const Lesson* setup = lessonOf(lessons, "setup", "");
        QVERIFY(setup && setup->isNews);
        VERIFY_NEAR(setup->learnt, shop.setupMinutes + 5, 1e-9);
    }

    void whatIsAcceptedCountsUntilItIsUndone() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        const double before = houseLibrary().fabric("canvas")->maxLayers;
        QVERIFY(saveLearnt({"layers", "canvas", 2.75, before, 63, 2.6, 2.9, "2026-11-28"}, folder));
        QVERIFY(saveLearnt({"placing", "chain", 0.42, 0.3, 30}, folder));
        QVERIFY(saveLearnt({"time", "six-needle", 1.25, 1, 9}, folder));
        QVERIFY(saveLearnt({"hits", "felt", 4, 9, 30, 3, 5, "2026-11-28", true}, folder));
        auto library = *loadLibrary(dataFolder(), folder);
        QCOMPARE(library.fabric("canvas")->maxLayers, 2.75);
        QCOMPARE(sourceOf(*library.fabric("canvas")), std::string("learnt from 63 stitch-outs"));
        QCOMPARE(library.practice.placingSigmaMm("chain"), 0.42);
        QCOMPARE(library.practice.placingSigmaMm("datum"), defaultPlacingSigmaMm);
        const Machine house = *houseLibrary().machine("six-needle");
        VERIFY_NEAR(library.machine("six-needle")->trimSeconds, 1.25 * house.trimSeconds, 1e-9);
        QCOMPARE(library.fabric("felt")->maxHits, houseLibrary().fabric("felt")->maxHits);

        // A fabric that is edited otherwise keeps what was learnt apart from what is its own.
        Fabric canvas = *library.fabric("canvas");
        canvas.topSpeed = 612;
        QVERIFY(saveUserFabric(canvas, folder));
        QVERIFY(dropLearnt("layers", "canvas", folder));
        library = *loadLibrary(dataFolder(), folder);
        QCOMPARE(library.fabric("canvas")->maxLayers, before);
        QCOMPARE(library.fabric("canvas")->topSpeed, 612);
    }

    void aLimitTypedByHandWins() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        QVERIFY(saveLearnt({"layers", "canvas", 2.75, 3.6, 63}, folder));
        Fabric canvas = *loadLibrary(dataFolder(), folder)->fabric("canvas");
        canvas.maxLayers = 3.1;
        QVERIFY(saveUserFabric(canvas, folder));
        QCOMPARE(loadLibrary(dataFolder(), folder)->fabric("canvas")->maxLayers, 3.1);
        QVERIFY(readLearnt(folder)->empty());
    }
};

RAPT_TEST(TestLearn)
#include "test_learn.moc"
