// Plans claim no more than is so: bounds, proofs, and what is said to be impossible.

#include "support.h"

#include "divide/hooping_lists.h"
#include "divide/ring.h"
#include "job/edit.h"

#include <numbers>

using namespace rapt;

namespace {

StitchList boxList(const Box& b) {
    return test::listThrough(
        {{b.minX, b.minY}, {b.maxX, b.minY}, {b.maxX, b.maxY}, {b.minX, b.maxY}, {b.minX, b.minY}});
}

Job jobOf(const std::vector<Box>& boxes) {
    Job job;
    job.cloth.widthMm = job.cloth.heightMm = 6000;
    for (std::size_t i = 0; i < boxes.size(); ++i)
        job.pieces.push_back(test::designPiece("p" + std::to_string(i), boxList(boxes[i])));
    return job;
}

Hoop plainHoop(double w, double h) {
    Hoop hoop;
    hoop.id = hoop.name = "own";
    hoop.kind = "single";
    hoop.widthMm = w;
    hoop.heightMm = h;
    hoop.outerWidthMm = w + 60;
    hoop.outerHeightMm = h + 60;
    return hoop;
}

} // namespace

class TestClaims : public QObject {
    Q_OBJECT
    Library lib = test::library();

    Result<Division> divided(const Job& job, const Hoop& hoop, Method method = Method::datum) {
        std::erase_if(lib.hoops, [&](const Hoop& h) { return h.id == hoop.id; });
        lib.hoops.push_back(hoop);
        StitchCache cache;
        DivideOptions options{{hoop}};
        options.method = method;
        options.seconds = 3;
        return divideIntoHoopings(job, cache, options, lib);
    }
    /// The plan is one that can be sewn.
    void verifySewn(const Job& job, const Division& d) {
        const auto lists = hoopingLists(setHoopings(d.hoopings, 0, d.cuts).change(job), lib);
        QVERIFY2(lists, lists ? "" : lists.error().line().c_str());
    }

private slots:
    void aRowOfKeyPiecesTakesOneClampingEach() {
        // Thirteen that overlap the next and each fill a field, with small ones inside: the bound
        // is the number of fields, and an order that follows what lies on what reaches it.
        for (const int small : {1, 5}) {
            std::vector<Box> boxes;
            for (int i = 0; i < 13; ++i) {
                boxes.push_back(Box::centredAt({175.0 * i, 0}, 180, 100));
                for (int k = 0; k < small; ++k)
                    boxes.push_back(Box::centredAt({175.0 * i - 40 + 15.0 * k, 20}, 8, 8));
            }
            const Job job = jobOf(boxes);
            const auto d = divided(job, plainHoop(180, 130));
            QVERIFY(d);
            QCOMPARE(d->clampings, 13);
            QCOMPARE(d->lowerBoundClampings, 13);
            QVERIFY(d->provenMinimal);
            verifySewn(job, *d);
        }
    }

    void positionsAlternateInOneClamping() {
        // Two positions side by side; what is sewn in the one lies on what is sewn in the other,
        // and under it: first left, then right, then left again.
        Hoop hoop = plainHoop(100, 100);
        hoop.kind = "stepped";
        hoop.positions = {{{-40, 0}, 0}, {{40, 0}, 0}};
        const Job job = jobOf({Box::centredAt({-45, 0}, 85, 20),   // left only
                               Box::centredAt({40, 0}, 90, 20),    // right only, over the first
                               Box::centredAt({-42, 0}, 92, 12)}); // left only, over both
        for (const Method method : {Method::datum, Method::turn}) {
            const auto d = divided(job, hoop, method);
            QVERIFY2(d, d ? "" : d.error().line().c_str());
            QCOMPARE(d->clampings, 1);
            QCOMPARE(d->hoopings.size(), std::size_t{3});
            QCOMPARE(d->hoopings[0].position, d->hoopings[2].position);
            QVERIFY(d->hoopings[0].position != d->hoopings[1].position);
            verifySewn(job, *d);
        }
    }

    void roundFieldsTakeWhatFits() {
        Hoop hoop = plainHoop(180, 130);
        hoop.shape = Hoop::Shape::rounded;
        hoop.cornerMm = 20;
        const auto square = divided(jobOf({Box::centredAt({7, 3}, 120, 90)}), hoop);
        QVERIFY2(square, square ? "" : square.error().line().c_str());
        QCOMPARE(square->hoopings.size(), std::size_t{1});
        // Four in the corners of the greatest box that the rounding leaves.
        const double off = 20 * (1 - std::numbers::sqrt2 / 2), x = 90 - off, y = 65 - off;
        const auto most = divided(jobOf({Box{-x, -y, -x + 9, -y + 9}, Box{x - 9, -y, x, -y + 9},
                                         Box{-x, y - 9, -x + 9, y}, Box{x - 9, y - 9, x, y}}),
                                  hoop);
        QVERIFY(most);
        QCOMPARE(most->hoopings.size(), std::size_t{1});
        // In a quarter turn's positions, which see the field upright.
        hoop.kind = "quarter-turn";
        hoop.positions = {{{0, 0}, 0}, {{0, 0}, 90}};
        const auto cross = divided(
            jobOf({Box::centredAt({0, 0}, 170, 60), Box::centredAt({0, 0}, 60, 170)}), hoop);
        QVERIFY(cross);
        QCOMPARE(cross->clampings, 1);
        QCOMPARE(cross->hoopings.size(), std::size_t{2});
    }

    void boundsOfCutLayoutsHoldForOtherCuts() {
        // Cut in its middle the long one leaves no room for the small one beside it; cut elsewhere
        // two fields do. So two is all that may be claimed.
        Job job = jobOf({Box::centredAt({0, 0}, 200, 20), Box::centredAt({-160, 0}, 20, 20)});
        const auto d = divided(job, plainHoop(180, 130));
        QVERIFY(d);
        QVERIFY(d->lowerBound <= 2);
        QVERIFY(d->provenMinimal == (d->clampings == 2));
    }

    void theMostHoopingsCountsThoseOfAChain() {
        Job job = jobOf({Box::centredAt({0, 0}, 60, 60), Box::centredAt({900, 0}, 60, 60)});
        StitchCache cache;
        DivideOptions options{{*lib.hoop("field-180x130")}};
        options.method = Method::chain;
        const auto d = divideIntoHoopings(job, cache, options, lib);
        QVERIFY(d);
        QVERIFY(d->hoopings.size() > 2);
        options.mostHoopings = 2;
        const auto no = divideIntoHoopings(job, cache, options, lib);
        QVERIFY(!no);
        QVERIFY2(no.error().reason.find("no plan with at most 2") != std::string::npos,
                 no.error().line().c_str());
    }

    void aHugeZoneIsWalkedInNoTime() {
        Job job = jobOf({Box::centredAt({-150, 0}, 60, 40), Box::centredAt({150, 0}, 60, 40)});
        job.cloth.forbiddenZones.push_back({{{0, 21'000}, 20'000, {}}, "the bench", {}});
        QVERIFY(divided(job, plainHoop(180, 130))); // hangs, if it is walked step by step
    }

    void theMarginIsKeptWhenFramesAreMoved() {
        Job job = jobOf({Box::centredAt({-90, 0}, 100, 60), Box::centredAt({60, 0}, 150, 60)});
        job.cloth.forbiddenZones.push_back({{{60, 95}, 6, {}}, "the button", {}});
        StitchCache cache;
        DivideOptions options{{*lib.hoop("field-180x130")}};
        options.marginMm = 10;
        const auto d = divideIntoHoopings(job, cache, options, lib);
        QVERIFY(d);
        const auto lists = hoopingLists(setHoopings(d->hoopings, 0, d->cuts).change(job), lib);
        QVERIFY(lists);
        for (const HoopingList& list : *lists) {
            QVERIFY(list.extents.minX >= -80 - 1e-3 && list.extents.maxX <= 80 + 1e-3);
            QVERIFY(list.extents.minY >= -55 - 1e-3 && list.extents.maxY <= 55 + 1e-3);
        }
    }
};

RAPT_TEST(TestClaims)
#include "test_claims.moc"
