#include "support.h"

#include "divide/division.h"
#include "estimate/price.h"
#include "estimate/savings.h"
#include "formats/job_file.h"
#include "job/edit.h"

#include <set>

using namespace rapt;

namespace {

Work someWork() {
    Work w;
    w.seconds = {1800, 120, 90, 240, 0};
    w.stitches = 25'000;
    w.coneChanges = 2;
    w.threads = {{{}, 20'000, 90'000, 60'000, 1500}, {{}, 5000, 10'000, 8000, 300}};
    w.bobbinMm = 68'000;
    w.stabilizerCm2 = 900;
    return w;
}

/// Eight patches in a row, of two threads by turns, hooped in a frame that holds two of them.
Job wasteful() {
    Job job;
    job.brief.hoops = {"field-100x100", "field-240x150"};
    job.cloth.widthMm = 260;
    job.cloth.heightMm = 160;
    for (int i = 0; i < 4; ++i)
        for (int k = 0; k < 2; ++k) {
            ShapePart square = test::fillOf({{{-9, -9}, {9, -9}, {9, 9}, {-9, 9}}});
            square.thread.color = k ? Rgb{200, 30, 30} : Rgb{30, 30, 200};
            square.thread.name = k ? "Rust" : "Tide";
            job.pieces.push_back(test::shapePiece("p" + std::to_string(i) + std::to_string(k),
                                                  square, -75.0 + 50 * i, k ? 22 : -22));
        }
    return job;
}

} // namespace

class TestPrice : public QObject {
    Q_OBJECT
private slots:
    void partsAddUpAndPriceAndMarginAgree() {
        const ShopRates shop;
        const Machine six = *test::library().machine("six-needle");
        Brief brief;
        brief.blankCost = 7.5;
        for (const int n : {1, 12, 400}) {
            const Price p = priceOf(someWork(), brief, n, six, shop);
            const Cost& c = p.cost;
            const double materials = c.blank + c.thread + c.bobbin + c.stabilizer;
            VERIFY_NEAR(c.blank, 7.5 * n, 1e-9);
            VERIFY_NEAR(c.thread, 0.1 * n * shop.threadPer1000M, 1e-9);
            VERIFY_NEAR(c.bobbin, 0.068 * n * shop.bobbinPer1000M, 1e-9);
            VERIFY_NEAR(c.stabilizer, 0.09 * n * shop.stabilizerPerM2, 1e-9);
            VERIFY_NEAR(c.wastage, materials * shop.wastage, 1e-9);
            // (materials × (1 + wastage) + labour + machine) × (1 + overhead)
            VERIFY_NEAR(c.total(),
                        (materials * (1 + shop.wastage) + c.labour + c.machine) *
                            (1 + shop.overhead),
                        1e-9);
            VERIFY_NEAR((p.price - c.total()) / p.price, shop.margin, 1e-12);
            VERIFY_NEAR(p.margin, shop.margin, 1e-12);
        }
        // Hands: 240 s clamping, two cones of 60 s, a tenth of the rest; ten minutes once.
        const double hands = 240 + 120 + 0.1 * (2250 - 240 - 120);
        const Price one = priceOf(someWork(), {}, 1, six, shop);
        VERIFY_NEAR(one.cost.labour, (600 + hands) / 3600 * shop.labourPerHour, 1e-9);
        const Price ten = priceOf(someWork(), {}, 10, six, shop);
        VERIFY_NEAR(ten.cost.labour, (600 + 10 * hands) / 3600 * shop.labourPerHour, 1e-9);
        QVERIFY(ten.each() < one.each());
    }

    void aPriceThatIsNamedGivesItsMargin() {
        Brief brief;
        brief.price = 50;
        const Price p =
            priceOf(someWork(), brief, 4, *test::library().machine("one-needle"), ShopRates());
        QCOMPARE(p.price, 200.0);
        VERIFY_NEAR(p.margin, (200 - p.cost.total()) / 200, 1e-12);
        QCOMPARE(marginOf(10, 0), 0.0);
        QVERIFY(marginOf(30, 20) < 0);
    }

    void ratesAreKeptAndBadOnesAreRefusedByKey() {
        QTemporaryDir folder;
        const std::string own = folder.path().toStdString();
        QCOMPARE(loadShop(dataFolder(), own)->source, std::string("starting values"));
        ShopRates mine = *loadShop(dataFolder(), own);
        mine.currency = "CHF";
        mine.labourPerHour = 41.5;
        QVERIFY(bool(saveShop(mine, own)));
        QVERIFY(*loadShop(dataFolder(), own) == mine);
        const auto error = [&](const char* json) {
            test::writeFile(folder.filePath("shop.json"), json);
            const auto read = loadShop(dataFolder(), own);
            return read ? QString() : QString::fromStdString(read.error().line());
        };
        QVERIFY(error(R"({"labour_per_hour": -3})").contains("labour_per_hour"));
        QVERIFY(error(R"({"margin": 1})").contains("margin"));
        QVERIFY(error(R"({"currency": ""})").contains("currency"));
        QVERIFY(error(R"({"wastage": "much"})").contains("wastage"));
        QVERIFY(error("[]").contains("shop.json"));
    }

    void theBriefKeepsWhatIsAsked() {
        QTemporaryDir folder;
        const std::string path = folder.filePath("j.rapt").toStdString();
        Job job;
        job.brief.blankCost = 3.25;
        job.brief.price = 19.9;
        QVERIFY(bool(writeJobFile(path, job)));
        const auto back = readJobFile(path);
        QCOMPARE(back->brief.blankCost, 3.25);
        QCOMPARE(back->brief.price, 19.9);
    }

    void whatWouldSaveIsTrueAndWorthIt() {
        const Library lib = test::library();
        Job job = wasteful();
        StitchCache cache;
        DivideOptions options;
        options.hoops = {*lib.hoop("field-100x100")};
        const auto plan = divideIntoHoopings(job, cache, options, lib);
        QVERIFY(plan && plan->clampings > 1);
        job = setHoopings(plan->hoopings, plan->predictedJoinRmsMm, plan->cuts).change(job);
        const SavingsRequest request{job, lib, *lib.machine("one-needle"), *lib.fabric("canvas"),
                                     {},  4};
        const auto found = savingsOf(request, cache);
        QVERIFY(found && found->size() >= 3);
        const auto costOf = [&](const Job& j, const Machine& m) {
            const auto lists = hoopingLists(j, lib, &cache);
            const auto work = workOf(j.hoopings, *lists, m, request.fabric, lib);
            return priceOf(*work, j.brief, 4, m, {}).cost.total();
        };
        const double now = costOf(job, request.machine);
        std::set<std::string> kinds;
        for (std::size_t i = 0; i < found->size(); ++i) {
            const Saving& s = (*found)[i];
            kinds.insert(s.words.substr(0, s.words.find(' ')));
            const double then =
                s.job ? costOf(*s.job, request.machine) : costOf(job, *lib.machine(s.machine));
            VERIFY_NEAR(s.money, now - then, 1e-6);
            QVERIFY(s.money >= 0.01 * now);
            QVERIFY(i == 0 || s.money <= (*found)[i - 1].money);
        }
        QVERIFY2(kinds.contains("Hoop") && kinds.size() >= 2, "another frame, and something else");
    }
};

RAPT_TEST(TestPrice)
#include "test_price.moc"
