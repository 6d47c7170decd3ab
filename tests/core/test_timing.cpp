#include "support.h"

#include "estimate/timing.h"
#include "job/stitching.h"
#include "thread/measures.h"

using namespace rapt;

namespace {

Machine machineOf(int speed) {
    Machine m;
    m.topSpeed = speed;
    m.fullSpeedUpToMm = 4;
    m.threadChangeSeconds = 30;
    m.trimSeconds = 5;
    return m;
}

Fabric fabricOf(int speed) {
    Fabric f;
    f.topSpeed = speed;
    return f;
}

} // namespace

class TestTiming : public QObject {
    Q_OBJECT
private slots:
    void aStitchTakesWhatItsLengthAllows() {
        const Machine m = machineOf(600);
        QCOMPARE(stitchSeconds(0, m, fabricOf(1000)), 0.1);
        QCOMPARE(stitchSeconds(4, m, fabricOf(1000)), 0.1);
        VERIFY_NEAR(stitchSeconds(8, m, fabricOf(1000)), 0.2, 1e-12);
    }

    void theFabricMaySlowTheMachineDown() {
        QCOMPARE(stitchSeconds(1, machineOf(900), fabricOf(600)), 0.1);
        QCOMPARE(stitchSeconds(1, machineOf(600), fabricOf(900)), 0.1);
    }

    void runsFollowEachOtherWithTheirChangesAndTrims() {
        Job job;
        StitchList two = test::listThrough({{0, 0}, {3, 0}, {6, 0}});
        StitchList other = test::listThrough({{0, 0}, {3, 0}});
        other.threads[0].name = "Marigold";
        job.pieces = {test::designPiece("a", two), test::designPiece("b", other, 20)};
        const auto stitched = stitchJob(job);
        const TimeLine line =
            timeLineOf(stitched->list, stitched->spans, machineOf(600), fabricOf(600));
        QCOMPARE(line.runs.size(), std::size_t{2});
        QCOMPARE(line.stitches, std::size_t{5});
        QCOMPARE(line.threadChanges, std::size_t{1});
        QCOMPARE(line.runs[0].piece, std::string("a"));
        QCOMPARE(line.runs[1].piece, std::string("b"));
        QVERIFY(!line.runs[0].changeBefore && line.runs[1].changeBefore);
        VERIFY_NEAR(line.runs[0].seconds, 0.3, 1e-9);
        // One trim and one change stand between them.
        VERIFY_NEAR(line.runs[1].startSeconds, 0.3 + 5 + 30, 1e-9);
        VERIFY_NEAR(line.totalSeconds, 35.5, 1e-9);
    }

    void everyStitchIsInExactlyOneRun() {
        Job job;
        for (int i = 0; i < 4; ++i)
            job.pieces.push_back(test::shapePiece(
                "p" + std::to_string(i), test::fillOf({test::rectangle(0, 0, 20, 20)}), 30 * i));
        const auto stitched = stitchJob(job);
        const TimeLine line =
            timeLineOf(stitched->list, stitched->spans, machineOf(800), fabricOf(800));
        std::size_t sum = 0;
        double last = 0;
        for (const ThreadRun& run : line.runs) {
            sum += run.stitches;
            QVERIFY(run.startSeconds >= last);
            last = run.startSeconds + run.seconds;
        }
        QCOMPARE(sum, measure(stitched->list).stitches);
        VERIFY_NEAR(last + 5, line.totalSeconds, 1e-9); // it is trimmed at the end
    }

    void nothingTakesNoTime() {
        const TimeLine line = timeLineOf({}, {}, machineOf(600), fabricOf(600));
        QCOMPARE(line.totalSeconds, 0.0);
        QVERIFY(line.runs.empty());
    }

    void durationsAreWrittenForPeople() {
        QCOMPARE(formatDuration(45), std::string("45 s"));
        QCOMPARE(formatDuration(38 * 60), std::string("38 min"));
        QCOMPARE(formatDuration(72 * 60), std::string("1 h 12 min"));
        QCOMPARE(formatDuration(125 * 60), std::string("2 h 05 min"));
    }
};

RAPT_TEST(TestTiming)
#include "test_timing.moc"
