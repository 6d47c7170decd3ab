#include "support.h"

#include "formats/run_journal.h"
#include "handover/handover.h"
#include "run/queue.h"
#include "run/run_steps.h"
#include "thread/measures.h"

#include <QDir>

using namespace rapt;

namespace {

/// Two threads, ten penetrations each, with a trim between.
StitchList twoColours() {
    StitchList list = test::listThrough({});
    list.threads.push_back({2, {200, 90, 40}, 40, "Ember"});
    for (int i = 0; i < 20; ++i) {
        const auto thread = static_cast<std::uint8_t>(i < 10 ? 1 : 2);
        if (i == 10) list.stitches.push_back(stitchAt(Op::trim, {18, 0}, 1));
        if (i % 10 == 0) list.stitches.push_back(stitchAt(Op::jump, {2.0 * i, 0}, thread));
        list.stitches.push_back(stitchAt(Op::stitch, {2.0 * i, 0}, thread));
    }
    return list;
}

QueueItem itemOn(const char* machine, const char* frame, double hands, double sewing) {
    QueueItem item;
    item.id = item.job = std::string(machine) + frame;
    item.machine = machine;
    item.frame = frame;
    item.handsBefore = hands;
    item.sewing = sewing;
    return item;
}

} // namespace

class TestRuns : public QObject {
    Q_OBJECT
private slots:
    void goingOnOverlapsByThreeWithinTheThread() {
        const StitchList list = twoColours();
        const Penetrations points(list);
        QCOMPARE(points.count(), std::size_t{20});
        const auto at = [&](std::size_t sewn, StopKind why) {
            const Resume r = resumeAfter(list, points, sewn, why);
            return std::pair(r.from, r.overlap);
        };
        using P = std::pair<std::size_t, std::size_t>;
        QCOMPARE(at(7, StopKind::threadBreak), P(4, 3));
        QCOMPARE(at(2, StopKind::needleBreak), P(0, 2));
        QCOMPARE(at(0, StopKind::jam), P(0, 0));
        QCOMPARE(at(10, StopKind::powerCut), P(7, 3));
        QCOMPARE(at(11, StopKind::threadBreak), P(10, 1));
        QCOMPARE(at(15, StopKind::asked), P(15, 0));
        QCOMPARE(at(10, StopKind::coneChange), P(10, 0));
        QCOMPARE(threadStart(list, points, 14), std::size_t{10});
        QCOMPARE(nextThread(list, points, 4), std::size_t{10});
        QCOMPARE(nextThread(list, points, 12), std::size_t{20});
        QCOMPARE(points.before(points.record(13)), std::size_t{13});
    }

    void aRecordTakesNothingThatCannotBe() {
        RunRecord r;
        r.of = 20;
        QVERIFY(!r.progress(5, 1)); // it has not begun
        QVERIFY(r.begin(0));
        QVERIFY(r.progress(8, 4));
        QVERIFY(!r.progress(7, 5));
        QVERIFY(!r.progress(21, 5));
        QVERIFY(!r.begin(25));
        r.stopped(StopKind::threadBreak);
        QVERIFY(r.standing());
        QVERIFY(r.begin(5));
        QVERIFY(!r.standing());
        QVERIFY(r.progress(20, 9));
        QCOMPARE(r.sewnAgain(), std::size_t{3});
        r.finish();
        QVERIFY(r.finished);
    }

    void theJournalTellsTheRunAgain() {
        QTemporaryDir folder;
        const std::string at = folder.filePath("runs").toStdString();
        RunRecord r;
        r.mark = "abc";
        r.job = "Banner, \"large\"";
        r.hooping = 2;
        r.of = 20;
        {
            auto journal = RunJournal::open(at, r);
            QVERIFY(bool(journal));
            journal->confirmed("frame-on", true);
            journal->confirmed("clear", true);
            journal->confirmed("clear", false);
            r.steps = {"frame-on"};
            r.begin(0);
            journal->began(0);
            r.progress(8, 4);
            r.stopped(StopKind::threadBreak);
            journal->stopped(r.events.back());
            r.begin(5);
            journal->began(5);
        }
        auto back = readRunJournal(at, "abc");
        QVERIFY(bool(back) && *back);
        QVERIFY(**back == r);
        QVERIFY(!*readRunJournal(at, "none"));
        // Cut off anywhere, it tells what stands whole, and is gone on from.
        const QByteArray whole = test::readFile(folder.filePath("runs/abc.jsonl"));
        for (qsizetype cut = whole.indexOf('\n') + 1; cut < whole.size(); cut += 7) {
            test::writeFile(folder.filePath("runs/abc.jsonl"), whole.left(cut));
            const auto some = readRunJournal(at, "abc");
            QVERIFY(bool(some) && *some && (*some)->of == 20);
            QVERIFY((*some)->sewn <= 8);
            auto more = RunJournal::open(at, **some);
            more->stopped({9, 8, StopKind::powerCut});
            const auto after = readRunJournal(at, "abc");
            QVERIFY((*after)->events.size() == (*some)->events.size() + 1);
        }
        test::writeFile(
            folder.filePath("runs/abc.jsonl"),
            "{\"of\":5}\nnonsense\n[1,2]\n{\"sewn\":\"x\",\"of\":-3}\n{\"job\":7,\"of\":9}\n");
        QVERIFY(bool(readRunJournal(at, "abc")));
        removeRunJournal(at, "abc");
        QVERIFY(!*readRunJournal(at, "abc"));
    }

    void stepsAreWhatThisHoopingNeeds() {
        const Library lib = test::library();
        Job job;
        job.brief.fabric = "felt";
        Hooping h;
        h.hoop = "field-100x100";
        h.marks = {{"1A", {0, 0}}};
        job.hoopings = {h, h};
        job.hoopings[1].clamping = 2;
        const std::vector<HoopingList> lists(2, {twoColours(), 20, extentsOf(twoColours())});
        NeedlePlan needles;
        needles.changes = {{2, lists[0].list.threads[1], 1, 0, true}};
        const auto words = [&](std::size_t i) {
            QString all;
            for (const RunStep& s : stepsBefore(job, i, lists, needles, lib))
                all += QString::fromStdString(s.id + ": " + s.words + " " + s.caution) + "\n";
            return all;
        };
        QVERIFY(words(0).contains("1A") && words(0).contains("clamped:"));
        QVERIFY(!words(0).contains("needles:"));
        QVERIFY(words(1).contains("Ember on needle 2") && words(1).contains("Power off"));
        QVERIFY(words(1).contains("registered:"));
        job.brief.floated = true;
        QVERIFY(words(0).contains("floated:") && words(0).contains("flame"));
        job.hoopings[1].clamping = 1;
        QVERIFY(words(1).contains("moved-on:") && !words(1).contains("floated:"));
    }

    void whatIsLeftAfterwardsWaitsForTheLastHooping() {
        const Library lib = test::library();
        Job job;
        job.brief.fabric = "terry";
        Hooping h;
        h.hoop = "field-100x100";
        h.marks = {{"1A", {0, 0}}};
        job.hoopings = {h, h};
        job.hoopings[1].clamping = 2;
        std::vector<HoopingList> lists(2, {twoColours(), 20, extentsOf(twoColours())});
        const auto ids = [&](std::size_t i) {
            QStringList all;
            for (const RunStep& s : stepsAfter(job, i, lists, lib))
                all << QString::fromStdString(s.id);
            return all;
        };
        QCOMPARE(ids(0), (QStringList{"frame-off", "marks-stay"}));
        QCOMPARE(ids(1),
                 (QStringList{"frame-off", "topper-off", "stabilizer-off", "marks-out", "press"}));
        job.hoopings[0].witness = h.marks;
        QVERIFY(ids(1).contains("basting-out"));
        // Loose thread is counted between stitches that no trim parts.
        StitchList loose;
        loose.threads = {defaultThread(1)};
        for (const auto& [op, x] : {std::pair{Op::stitch, 0.0},
                                    {Op::stitch, 2.0},
                                    {Op::jump, 12.0},
                                    {Op::stitch, 12.0},
                                    {Op::trim, 12.0},
                                    {Op::jump, 40.0},
                                    {Op::stitch, 40.0}})
            loose.stitches.push_back(stitchAt(op, {x, 0}, 1));
        lists[0].list = loose;
        QCOMPARE(stepsAfter(job, 0, lists, lib)[1].words,
                 std::string("Cut 1 loose thread, the longest 10 mm."));
        job.hoopings[1].clamping = 1;
        QCOMPARE(ids(0), QStringList{"stays"});
    }

    void aBreakIsExplainedOnlyWhereTheLoadDoes() {
        const Fabric canvas = *test::library().fabric("canvas");
        QVERIFY(reasonOfBreak(StopKind::threadBreak, 1.0, 2, canvas).empty());
        QVERIFY(reasonOfBreak(StopKind::bobbinEmpty, 9, 2, canvas).empty());
        QVERIFY(reasonOfBreak(StopKind::threadBreak, 4.2, 2, canvas).find("4.2 layers") == 0);
        QVERIFY(
            reasonOfBreak(StopKind::needleBreak, 1, canvas.maxHits, canvas).find("needle points") !=
            std::string::npos);
    }

    void onePersonServesTwoMachines() {
        std::vector<QueueItem> q{itemOn("a", "x", 100, 1000), itemOn("a", "y", 100, 500),
                                 itemOn("b", "z", 60, 300)};
        const QueuePlan p = planQueue(q);
        QCOMPARE(p.times[0].handsFrom, 0.0);
        QCOMPARE(p.times[0].from, 100.0);
        // The other machine's frame is clamped next, the second one while the first is sewn.
        QCOMPARE(p.times[2].handsFrom, 100.0);
        QCOMPARE(p.times[2].until, 460.0);
        QVERIFY(p.times[1].handsUntil <= 1100);
        QCOMPARE(p.times[1].from, 1100.0);
        QCOMPARE(p.until, 1600.0);
        for (std::size_t i = 1; i < p.person.size(); ++i)
            QVERIFY(p.person[i].at >= p.person[i - 1].until);
        // Without a second frame of the kind it waits until the first is off.
        q[1].frame = "x";
        QCOMPARE(planQueue(q, false).times[1].handsFrom, 1100.0);
        QVERIFY(planQueue(q, true).times[1].handsFrom < 1100);
        // A cone that must be changed calls the person, and a late one moves everything.
        q[0].stops = {{400, 60, "put on Ember"}};
        const QueuePlan changed = planQueue(q);
        QCOMPARE(changed.times[0].until, 1160.0);
        QVERIFY(std::any_of(changed.person.begin(), changed.person.end(), [](const PersonNeed& n) {
            return n.what == "put on Ember" && n.at == 500;
        }));
        // Hands that need the machine itself wait until it stands.
        q[1].onMachine = 30;
        q[1].standing = "put on Reed";
        const QueuePlan cones = planQueue(q);
        QVERIFY(std::any_of(cones.person.begin(), cones.person.end(), [](const PersonNeed& n) {
            return n.what == "put on Reed" && n.at == 1160 && n.until == 1190;
        }));
        QCOMPARE(cones.times[1].from, 1190.0);
        QVERIFY2(cones.times[1].handsFrom < 1160, "the rest is done meanwhile");
        q[1].onMachine = 0;
        q[0].running = true;
        q[0].already = 200;
        const double before = planQueue(q).until;
        q[0].late = 90;
        VERIFY_NEAR(planQueue(q).until, before + 90, 1e-9);
    }

    void theQueueKnowsHowLongAJobTakes() {
        const Library lib = test::library();
        Job job;
        job.name = "Two";
        Hooping h;
        h.hoop = "field-100x100";
        job.hoopings = {h, h};
        job.hoopings[1].clamping = 2;
        const std::vector<HoopingList> lists(2, {twoColours(), 20, extentsOf(twoColours())});
        const Machine one = *lib.machine("one-needle");
        const Fabric canvas = *lib.fabric("canvas");
        const auto needles = planNeedles(threadSteps(lists, canvas), Needles(1));
        const auto items = queueItemsOf(job, lists, *needles, one, canvas);
        QCOMPARE(items.size(), std::size_t{2});
        QCOMPARE(items[0].stops.size(), std::size_t{1});
        QVERIFY(items[0].stops[0].what == "put on Ember");
        QCOMPARE(items[0].handsBefore,
                 one.hoopingSeconds + one.registrationSeconds + one.coneChangeSeconds);
        VERIFY_NEAR(items[0].sewing, 20 * 60.0 / 700 + one.trimSeconds, 1e-3);
    }
};

RAPT_TEST(TestRuns)
#include "test_runs.moc"
