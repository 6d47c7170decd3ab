// What goes in comes out: runs, trims, keys, files, identities.

#include "random_designs.h"

#include "divide/hooping_lists.h"
#include "divide/parts.h"
#include "formats/job_file.h"
#include "formats/zip_archive.h"
#include "handover/handover.h"
#include "job/edit_weigh.h"
#include "job/outline.h"
#include "load/probe.h"
#include "relieve/cut_list.h"
#include "respace/respace.h"
#include "thread/resize.h"
#include "thread/runs.h"
#include "thread/sequences.h"
#include "thread/ties.h"
#include "thread/trims.h"

#include <QRegularExpression>

using namespace rapt;

namespace {

std::size_t penetrations(const StitchList& list) { return measure(list).stitches; }

/// A job with a key of somebody else's at every depth.
std::string oddJob() {
    std::string text =
        "{'rapt_job': 1, 'id': 'abc', 'odd': 1,"
        "'cloth': {'width_mm': 300, 'height_mm': 200, 'guides': [{'name': 'g', 'points': "
        "[[0,0],[5,5]], 'odd': 2}]},"
        "'pieces': [{'id': 'a', 'pose': {'x': 1, 'y': 2, 'odd': 3}, 'respacing': {'share': 0.5, "
        "'odd': 4},"
        "'relief': {'tuck_mm': 1, 'odd': 5},"
        "'shape': {'parts': [{'kind': 'run', 'thread': {'color': '#112233', 'odd': 6},"
        "'lines': [[[0,0],[20,0]]]}]}}],"
        "'hoopings': [{'hoop': 'field-180x130', 'pose': {'x': 0, 'y': 0, 'odd': 7}, 'pieces': "
        "['a'],"
        "'marks': [{'name': 'm', 'x': 1, 'y': 2, 'odd': 8}]}],"
        "'cuts': [{'piece': 'a', 'element': 1, 'path': [[0,-5],[0,5]], 'odd': 9}],"
        "'repeats': [{'id': 'r', 'kind': 'line', 'pieces': ['a'], 'count': 3,"
        "'exceptions': [{'copy': 2, 'left_out': true, 'odd': 10}]}]}";
    std::replace(text.begin(), text.end(), '\'', '"');
    return text;
}

} // namespace

class TestTruth : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    void everyOperationAccountsForItsStitches() {
        for (quint64 seed = 1; seed <= test::seedCount(80); ++seed) {
            test::Dice dice(seed);
            const StitchList list = test::randomDesign(seed, 90);
            const auto verify = [&](const std::vector<const TracedList*>& parts, const char* what) {
                const auto broken = brokenAccount(list, parts);
                QVERIFY2(!broken,
                         qPrintable(QString("seed %1, %2: %3")
                                        .arg(seed)
                                        .arg(what)
                                        .arg(QString::fromStdString(broken.value_or("")))));
                for (const TracedList* part : parts) QVERIFY2(!untiedEnd(list, *part), what);
            };
            // Cut along a path, and into its runs; leaving one of them out, and trims by length.
            const double x = dice.between(-20, 20);
            const auto sides = partLists(list, {{1, {{x, -200}, {dice.between(-20, 20), 200}}}});
            std::vector<const TracedList*> parts;
            for (const TracedList& side : sides) parts.push_back(&side);
            verify(parts, "cut");
            const auto runs = runsOf(list);
            parts.clear();
            for (const TracedList& run : runs) parts.push_back(&run);
            verify(parts, "runs");
            const TracedList without = withoutRuns(list, {1});
            verify({&without}, "left out");
            const TracedList trimmed = trimmedOver(list, dice.between(1, 30));
            verify({&trimmed}, "trims");
            // Relief takes away what lies inside, and says so; twice is once.
            const Region hole({test::arcLine(dice.between(5, 25), 0, 2 * std::numbers::pi, 90)});
            TracedList relieved = cutOut(list, hole, hole);
            relieved.origins.explain(list, WhyGone::hidden);
            verify({&relieved}, "relief");
            const StitchList twice = cutOut(relieved, hole, hole);
            const auto once = static_cast<double>(penetrations(relieved));
            QVERIFY2(std::abs(static_cast<double>(penetrations(twice)) - once) <= 4 + 0.1 * once,
                     qPrintable(QString("seed %1: %2 stitches, then %3")
                                    .arg(seed)
                                    .arg(once)
                                    .arg(penetrations(twice))));
            // A chain of three: parted, one run less, trimmed.
            if (runs.size() < 2) continue;
            const TracedList second = withoutRuns(sides[0], {2});
            TracedList third = trimmedOver(second, 5);
            third.origins = third.origins.after(second.origins).after(sides[0].origins);
            for (std::size_t i = 0; i < third.stitches.size(); ++i)
                if (const auto from = third.origins.at(i);
                    from && third.stitches[i].op == Op::stitch)
                    QCOMPARE(list.stitches[*from], third.stitches[i]);
        }
    }

    void aHiddenRunDoesNotMoveTheNumbers() {
        // Three runs, the first of them under what is sewn later: the second keeps its number.
        StitchList list;
        test::sew(list, test::fillPoints(test::rectangleRows(8, 8)), 1);
        test::sew(list, test::fillPoints(test::rectangleRows(30, 4)), 2);
        list.threads.push_back({3, {150, 30, 30}, 40, "Rust"});
        Polyline far = test::fillPoints(test::rectangleRows(6, 6));
        for (Vec2& p : far) p = p + Vec2{0, 40};
        test::sew(list, far, 3);
        StitchList cover;
        test::sew(cover, test::fillPoints(test::discRows(9)), 2);
        Job job;
        job.pieces = {test::designPiece("low", list), test::designPiece("up", cover)};
        job = setRelief({"low"}, Relief{}).change(job);
        const auto stitched = stitchJob(job);
        QVERIFY(stitched);
        const auto runs = runContributionsAt(*stitched, "low", {0, 40});
        QCOMPARE(runs.size(), std::size_t{1});
        QCOMPARE(runs[0].run, 3);
        const Job left = leaveOutRun("low", 3, true).change(job);
        const auto after = stitchJob(left);
        QVERIFY(runContributionsAt(*after, "low", {0, 40}).empty());
        QVERIFY(!runContributionsAt(*after, "low", {13, 0}).empty());
        QCOMPARE(runContributionsAt(*after, "low", {13, 0})[0].run, 2);
    }

    void whatFollowsAFillOverAHoleStaysWhenItIsLaidAfresh() {
        // Rows that jump over a hole, and a satin sewn on without a trim.
        StitchList list;
        list.threads = {{1, {31, 78, 121}, 40, "Deep tide"}};
        for (int i = 0; i < 12; ++i) {
            const double y = 0.4 * i, way = i % 2 == 0 ? 1 : -1;
            for (const double x : {-15.0, -12.0, -9.0, -6.0})
                list.stitches.push_back(stitchAt(Op::stitch, {way * x, y}, 1));
            if (i >= 4 && i < 8) list.stitches.push_back(stitchAt(Op::jump, {way * 6, y}, 1));
            for (const double x : {6.0, 9.0, 12.0, 15.0})
                list.stitches.push_back(stitchAt(Op::stitch, {way * x, y}, 1));
        }
        for (int i = 0; i < 120; ++i)
            list.stitches.push_back(stitchAt(Op::stitch, {-15 + (i % 2) * 3.0, 6 + 0.2 * i}, 1));
        const auto laid = respace(list, {1.01, 1.01}, {});
        QVERIFY(laid);
        const auto above = [](const StitchList& l) {
            return std::count_if(l.stitches.begin(), l.stitches.end(), [](const Stitch& t) {
                return t.op == Op::stitch && t.at().y > 7;
            });
        };
        VERIFY_NEAR(above(laid->list), above(list), 5);
        QVERIFY(penetrations(laid->list) >= penetrations(list));
        VERIFY_NEAR(extentsOf(laid->list).maxY, 1.01 * extentsOf(list).maxY, 0.3);
    }

    void trimsFollowTheLengthOfTheMove() {
        StitchList list;
        test::sew(list, test::runPoints({{0, 0}, {10, 0}}));
        test::sew(list, test::runPoints({{12, 0}, {20, 0}}));    // trimmed over 2 mm
        list.stitches.push_back(stitchAt(Op::jump, {60, 0}, 1)); // carried over 40
        for (const Vec2 p : test::runPoints({{60, 0}, {70, 0}}))
            list.stitches.push_back(stitchAt(Op::stitch, p, 1));
        const TracedList trimmed = trimmedOver(list, 10);
        QCOMPARE(measure(trimmed).trims, std::size_t{1});
        QCOMPARE(penetrations(trimmed), penetrations(list) + 4);
        QVERIFY(!untiedEnd(list, trimmed));
    }

    void keysThatWeDoNotKnowSurviveAtEveryDepth() {
        const std::string text = oddJob();
        const auto job =
            unpackJob(*packArchive({{"job.json", std::make_shared<const std::string>(text)}}), "x");
        QVERIFY2(job, job ? "" : job.error().line().c_str());
        QCOMPARE(job->identity.text, std::string("abc"));
        const auto bytes = packJob(*job);
        QVERIFY(bytes);
        const std::string written = *unpackArchive(*bytes, "x")->at("job.json");
        for (int n = 1; n <= 10; ++n)
            QVERIFY2(QString::fromStdString(written).contains(
                         QRegularExpression(QString("\"odd\": ?%1\\b").arg(n))),
                     qPrintable(QString::number(n)));
        QVERIFY(written.find("[[0.0,0.0],[5.0,5.0]]") != std::string::npos); // points on one line
        QCOMPARE(*packJob(*unpackJob(*bytes, "x")), *bytes);
        // A relief that goes takes its keys with it.
        const Job whole = setRelief({"a"}, {}).change(*job);
        QVERIFY(unpackArchive(*packJob(whole), "x")->at("job.json")->find("relief") ==
                std::string::npos);
    }

    void twoListsUnderOneNameStayTwo() {
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {3, 0}})),
                      test::designPiece("b", test::listThrough({{0, 0}, {0, 7}})),
                      test::designPiece("c", test::listThrough({{0, 0}, {3, 0}}))};
        for (Piece& p : job.pieces)
            std::get<DesignContent>(p.content).member = "designs/same.stitch.csv";
        const auto back = unpackJob(*packJob(job), "x");
        QVERIFY(back);
        for (std::size_t i = 0; i < 3; ++i)
            QCOMPARE(*std::get<DesignContent>(back->pieces[i].content).list,
                     *std::get<DesignContent>(job.pieces[i].content).list);
    }

    void twoJobsOfOneNameAreTwoOnTheStick() {
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {3, 0}, {6, 1}}))};
        job.identity = newIdentity();
        Job other = job;
        other.identity = newIdentity();
        const StitchList handed = *parseStitchCsv(
            handedText(job, *std::get<DesignContent>(job.pieces[0].content).list, 0), "x");
        StoredDesign there = originOf(handed);
        QVERIFY(there.isOf(job) && !there.isOf(other));
        there.jobId.clear(); // of an older version: by its name
        QVERIFY(there.isOf(other));
    }

    void aLargeContourAndLongDiagonalsAreSoonDone() {
        // Minutes and gigabytes, if an edge were filed in every cell: ctest's limits tell.
        StitchList list;
        test::sew(list, test::fillPoints(test::rectangleRows(60, 60)));
        QVERIFY(!contoursAround(list, 500).empty());
        StitchList far = test::listThrough({});
        for (int i = 0; i < 6900; ++i)
            far.stitches.push_back(
                stitchAt(Op::stitch, {i % 2 ? 9000.0 : -9000.0, i % 3 ? -9000.0 : 9000.0}, 1));
        std::vector<Segment> segments;
        for (std::size_t i = 1; i < far.stitches.size(); ++i)
            segments.push_back({far.stitches[i - 1].at(), far.stitches[i].at()});
        const SegmentGrid grid(std::move(segments));
        QVERIFY(grid.nearest({0, 0}, 10).has_value());
    }

    void theNearestOfManySegmentsIsFound() {
        test::Dice dice(5);
        std::vector<Segment> segments;
        for (int i = 0; i < 300; ++i) {
            const Vec2 a{dice.between(-100, 100), dice.between(-60, 60)};
            segments.push_back({a, a + Vec2{dice.between(-80, 80), dice.between(-80, 80)}});
        }
        const SegmentGrid grid(segments);
        for (int k = 0; k < 2000; ++k) {
            const Vec2 p{dice.between(-250, 250), dice.between(-200, 200)};
            double least = 1e9;
            for (const Segment& s : segments)
                least = std::min(least, distanceToSegment(p, s.a, s.b));
            const auto near = grid.nearest(p, 400);
            QVERIFY(near.has_value());
            VERIFY_NEAR(near->distance, least, 1e-9);
        }
    }
};

RAPT_TEST(TestTruth)
#include "test_truth.moc"
