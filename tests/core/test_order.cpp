#include "job/edit_weigh.h"
#include "sequence/fewest_changes.h"
#include "sequence/job_order.h"
#include "sequence/travel.h"
#include "stitch_makers.h"

#include <numeric>

using namespace rapt;
using namespace rapt::test;

/// Fewest thread changes, without changing what lies on what.
class TestOrder : public QObject {
    Q_OBJECT

    static int changesOf(const OrderProblem& p, const std::vector<std::size_t>& order) {
        int changes = 0;
        for (std::size_t k = 1; k < order.size(); ++k)
            changes += p.items[order[k - 1]].last != p.items[order[k]].first;
        return changes;
    }
    static bool allowed(const OrderProblem& p, const std::vector<std::size_t>& order) {
        std::vector<std::size_t> place(order.size());
        for (std::size_t k = 0; k < order.size(); ++k) place[order[k]] = k;
        return std::all_of(p.before.begin(), p.before.end(), [&](const auto& pair) {
            return place[pair.first] < place[pair.second];
        });
    }
    /// By trying every order.
    static int trueMinimum(const OrderProblem& p) {
        std::vector<std::size_t> order(p.items.size());
        std::iota(order.begin(), order.end(), 0);
        int best = 1000;
        do
            if (allowed(p, order)) best = std::min(best, changesOf(p, order));
        while (std::next_permutation(order.begin(), order.end()));
        return best;
    }
    static OrderProblem randomProblem(Dice& dice, std::size_t n, int threads, double density,
                                      bool plain) {
        OrderProblem p;
        for (std::size_t i = 0; i < n; ++i) {
            const int a = static_cast<int>(dice.between(0, threads));
            const int b = plain ? a : static_cast<int>(dice.between(0, threads));
            p.items.push_back({a, b});
        }
        for (std::size_t j = 0; j < n; ++j)
            for (std::size_t i = 0; i < j; ++i)
                if (dice.between(0, 1) < density &&
                    !(p.items[i].isPlain() && p.items[j].isPlain() &&
                      p.items[i].first == p.items[j].first))
                    p.before.emplace_back(i, j);
        return p;
    }
    static Piece patch(const std::string& id, std::uint8_t r, double x, double y) {
        StitchList list;
        list.threads = {{1, {r, 60, 60}, 40, "thread " + std::to_string(r)}};
        sew(list, fillPoints(rectangleRows(10, 8)));
        return designPiece(id, list, x, y);
    }

private slots:
    void theMinimumIsTheTrueOne() {
        Dice dice(11);
        for (int round = 0; round < 150; ++round) {
            const OrderProblem p = randomProblem(
                dice, 2 + static_cast<std::size_t>(dice.between(0, 6)),
                1 + static_cast<int>(dice.between(0, 4)), dice.between(0, 0.7), round % 3 != 0);
            const OrderSolution s = fewestChanges(p);
            QCOMPARE(s.order.size(), p.items.size());
            QVERIFY(allowed(p, s.order));
            QCOMPARE(s.changes, changesOf(p, s.order));
            QCOMPARE(s.changes, trueMinimum(p));
            QCOMPARE(s.lowerBound, s.changes);
        }
    }

    void fortyItemsAreProved() {
        Dice dice(5);
        for (int round = 0; round < 12; ++round) {
            const OrderProblem p =
                randomProblem(dice, 40, 4 + round % 4, 0.02 + 0.03 * (round % 5), true);
            const OrderSolution s = fewestChanges(p);
            QVERIFY(allowed(p, s.order));
            QVERIFY(s.proven());
        }
    }

    void largeJobsGetATrueBound() {
        Dice dice(6);
        const OrderProblem p = randomProblem(dice, 150, 8, 0.05, true);
        const OrderSolution s = fewestChanges(p);
        QVERIFY(allowed(p, s.order));
        QCOMPARE(s.changes, changesOf(p, s.order));
        QVERIFY(s.lowerBound <= s.changes && s.lowerBound >= 7);
    }

    void travelIsShort() {
        // Along a line in a scrambled order: the shortest way is the sorted one.
        std::vector<Stop> stops;
        for (const int x : {7, 2, 9, 4, 1, 8, 3, 6, 5})
            stops.push_back({{10.0 * x, 0}, {10.0 * x + 5, 0}});
        const auto order = shortTravel({0, 0}, stops);
        for (std::size_t k = 1; k < order.size(); ++k)
            QVERIFY(stops[order[k - 1]].in.x < stops[order[k]].in.x);
        QVERIFY(shortTravel({}, {}).empty());
    }

    void aJobIsOrderedButOverlapsStay() {
        Job job;
        job.name = "order";
        // Two threads in turns; the last red one lies on a blue one.
        job.pieces = {patch("r1", 200, 0, 0), patch("b1", 20, 20, 0),  patch("r2", 200, 40, 0),
                      patch("b2", 20, 60, 0), patch("r3", 200, 64, 2), patch("b3", 20, 100, 0)};
        const auto ordered = orderJob(job);
        QVERIFY(ordered);
        QCOMPARE(ordered->changesBefore, 5);
        QCOMPARE(ordered->changesAfter, 1); // blue first, then red
        QCOMPARE(ordered->lowerBound, 1);
        const auto place = [&](const char* id) {
            for (std::size_t k = 0; k < ordered->job.pieces.size(); ++k)
                if (ordered->job.pieces[k].id == id) return k;
            return std::size_t{99};
        };
        QVERIFY(place("b2") < place("r3"));
        QVERIFY(ordered->job.trimOverMm);
        QVERIFY(ordered->split.empty());
        // Ordering what is in order changes nothing more.
        QCOMPARE(orderJob(ordered->job)->changesAfter, 1);
    }

    void piecesThatOnlyTouchMayChangePlaces() {
        Job job;
        job.pieces = {patch("r1", 200, 0, 0), patch("b1", 20, 10, 0), patch("r2", 200, 20, 0)};
        QCOMPARE(orderJob(job)->changesAfter, 1);
        job.pieces[1].pose.x = 9; // a millimetre of overlap
        job.pieces[2].pose.x = 18;
        QCOMPARE(orderJob(job)->changesAfter, 2);
    }

    void piecesOfSeveralThreadsAreTakenApartWhereItSaves() {
        Job job;
        StitchList two;
        sew(two, fillPoints(rectangleRows(10, 8)), 1);
        Polyline beside = fillPoints(rectangleRows(10, 8));
        for (Vec2& p : beside) p.y += 20;
        sew(two, beside, 2);
        job.pieces = {designPiece("a", two, 0, 0), designPiece("b", two, 30, 0),
                      designPiece("c", two, 60, 0)};
        const auto ordered = orderJob(job);
        QCOMPARE(ordered->changesBefore, 5);
        QCOMPARE(ordered->changesAfter, 1);
        QVERIFY(!ordered->split.empty());
        QCOMPARE(measure(stitchJob(ordered->job)->list).stitches,
                 measure(stitchJob(job)->list).stitches);
        JobOrderOptions whole;
        whole.split = false;
        // Turned about, neighbours could share a thread, but pieces keep their own order.
        QCOMPARE(orderJob(job, whole)->changesAfter, 5);
    }

    void theBoundIsTrueWhereReliefHidesARun() {
        Job job;
        job.pieces = {patch("r", 200, 0, 0), patch("b", 20, 0, 0), patch("g", 90, 0, 0)};
        // The two upper ones are larger: nothing is left of the lowest.
        StitchList large;
        large.threads = {{1, {20, 60, 60}, 40, "thread 20"}};
        sew(large, fillPoints(rectangleRows(16, 14)));
        job.pieces[1] = designPiece("b", large);
        job = setRelief(idsOf(job), Relief{}).change(job);
        const auto ordered = orderJob(job);
        QVERIFY(ordered);
        QVERIFY(ordered->lowerBound <= ordered->changesAfter);
    }

    void trimsFollowTheLengthOfMoves() {
        Job job;
        job.pieces = {patch("r1", 200, 0, 0), patch("r2", 200, 12, 0), patch("r3", 200, 60, 0)};
        QCOMPARE(measure(stitchJob(job)->list).trims, std::size_t{2});
        job = setTrimOver(20).change(job);
        QCOMPARE(measure(stitchJob(job)->list).trims, std::size_t{1});
        StitchList loose = listThrough({{0, 0}, {2, 0}});
        loose.stitches.push_back(stitchAt(Op::jump, {40, 0}, 1));
        loose.stitches.push_back(stitchAt(Op::stitch, {40, 0}, 1));
        job.pieces = {designPiece("loose", loose)};
        QCOMPARE(measure(stitchJob(job)->list).trims, std::size_t{1});
    }
};

RAPT_TEST(TestOrder)
#include "test_order.moc"
