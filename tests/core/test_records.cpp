#include "support.h"

#include "formats/demo_jobs.h"
#include "formats/job_file.h"
#include "record/columns.h"
#include "record/describe.h"
#include "record/record_csv.h"
#include "record/record_sums.h"

using namespace rapt;

namespace {

StitchOut full() {
    StitchOut r;
    r.id = 12;
    r.uid = "0123456789abcdef";
    r.date = "2026-03-04";
    r.job = "Wind-sock border, \"north\"";
    r.customer = "Zoë Ø";
    r.fabric = "sailcloth";
    r.outcome = "mended";
    r.cause = "thread-break";
    r.note = "Broke twice;\nslower next time";
    r.spotX = -12.5;
    r.widthMm = 620;
    r.heightMm = 240.4;
    r.threads = {{"#c0392b", "Brick, dark", 12.75}};
    r.lettering = {{"READING ROOM", "lato-bold", 32}};
    r.found = {{2, "card line", 0.13, 0.4, 0.998}};
    r.gapsMm = {0.1, 0.35};
    r.events = {{1, 2014, "thread-break", 3.9}};
    r.estimated = {{"sewing", 1234.5}};
    r.peakLayers = 3.8125;
    r.revision = 3;
    return r;
}

} // namespace

class TestRecords : public QObject {
    Q_OBJECT
private slots:
    void csvGivesBackEverythingButTheId() {
        StitchOut sparse;
        sparse.uid = "f00";
        sparse.job = "Tag";
        sparse.date = "2025-12-31";
        const auto back = parseRecordsCsv(formatRecordsCsv({full(), sparse}), "y.csv");
        QVERIFY2(bool(back), back ? "" : back.error().line().c_str());
        StitchOut expected = full();
        expected.id = 0;
        expected.revision = 1;
        QVERIFY((*back)[0] == expected);
        QVERIFY((*back)[1] == sparse);
    }

    void foreignRowsGetTheSameMarkEachTime() {
        const char* text = "date,job,outcome\n2026-01-02,Tag,good\n2026-01-02,Tag,good\n";
        const auto once = parseRecordsCsv(text, "a.csv"), again = parseRecordsCsv(text, "a.csv");
        QCOMPARE((*once)[0].uid, (*again)[0].uid);
        QCOMPARE((*once)[1].uid, (*again)[1].uid);
        QVERIFY2((*once)[0].uid != (*once)[1].uid, "two stitch-outs may look alike");
    }

    void badCsvNamesLineAndColumn_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QByteArray>("words");
        QTest::newRow("empty") << QByteArray("") << QByteArray("empty");
        QTest::newRow("unknown column") << QByteArray("date,job,colour\n") << QByteArray("colour");
        QTest::newRow("twice") << QByteArray("date,job,job\n") << QByteArray("twice");
        QTest::newRow("short row")
            << QByteArray("date,job\n2026-01-01\n") << QByteArray("line 2: has 1 cells");
        QTest::newRow("no day") << QByteArray("date,job\n2026-02-30,Tag\n")
                                << QByteArray("2026-02-30");
        QTest::newRow("no job") << QByteArray("date,job\n2026-02-03,\n") << QByteArray("no name");
        QTest::newRow("outcome") << QByteArray("date,job,outcome\n2026-02-03,Tag,fine\n")
                                 << QByteArray("'fine'");
        QTest::newRow("number") << QByteArray("date,job,peak_layers\n2026-02-03,Tag,3,5\n")
                                << QByteArray("cells");
        QTest::newRow("words as number")
            << QByteArray("job,date,note,peak_layers\nA,2026-02-03,\"two\nlines\",1\n"
                          "Tag,2026-02-03,,many\n")
            << QByteArray("line 4, peak_layers");
        QTest::newRow("list") << QByteArray("date,job,threads\n2026-02-03,Tag,red\n")
                              << QByteArray("threads");
        QTest::newRow("gap") << QByteArray("date,job,gaps_mm\n2026-02-03,Tag,[-1]\n")
                             << QByteArray("gap");
        QTest::newRow("bytes") << QByteArray("date,job\n2026-02-03,\xff\xfe\n")
                               << QByteArray("UTF-8");
    }

    void badCsvNamesLineAndColumn() {
        QFETCH(QByteArray, text);
        QFETCH(QByteArray, words);
        const auto read = parseRecordsCsv(text.toStdString(), "bad.csv");
        QVERIFY(!read);
        QVERIFY2(read.error().line().find(words.toStdString()) != std::string::npos,
                 read.error().line().c_str());
    }

    void everyWordOfARecordCanBeSearched() {
        const std::string words = " " + searchWords(full()) + " ";
        for (const char* query :
             {"Wind",   "windsock", "WIND-SOCK", "sock",   "north",        "zoe",     "brick",
              "c0392b", "reading",  "Room",      "lato",   "sailcloth",    "2026-03", "2026-03-04",
              "mended", "620",      "620x240",   "slower", "thread-break", "card"})
            for (const std::string& term : searchTerms(query))
                QVERIFY2(words.find(" " + term) != std::string::npos, query);
        QCOMPARE(searchTerms("  620 × 240 mm! ").size(), 3u);
        QVERIFY(searchTerms("... × -").empty());
    }

    void aJobFillsItsRecord() {
        const auto library = *loadHouseLibrary(dataFolder(), "/nowhere");
        QTemporaryDir dir;
        QVERIFY(writeDemoJobs(dataFolder() + "/demo", dir.path().toStdString()));
        const Job job = *readJobFile(dir.filePath("reading-room-banner.rapt").toStdString());
        StitchCache cache;
        const auto r = describeStitchOut(
            {job, {}, *library.machine("six-needle"), *library.fabric("canvas"), library, {}},
            cache);
        QVERIFY(r);
        QCOMPARE(r->job, job.name);
        QVERIFY(*r->peakLayers > 2 && *r->peakHits > 1 && *r->stitches > 10'000);
        QVERIFY2(!r->secondsEstimated, "without a plan nothing is sewn");
        const auto checked = checkJob(job, library);
        VERIFY_NEAR(*r->peakLayers, checked->load.summary().peakLayers, 1e-9);
    }

    void aQuantityCountsOnce() {
        const auto library = *loadHouseLibrary(dataFolder(), "/nowhere");
        QTemporaryDir dir;
        QVERIFY(writeDemoJobs(dataFolder() + "/demo", dir.path().toStdString()));
        Job job = *readJobFile(dir.filePath("book-tag.rapt").toStdString());
        Hooping all;
        all.hoop = job.brief.hoops.at(0);
        for (const Piece& p : job.pieces) all.pieces.push_back(p.id);
        job.hoopings = {all};
        StitchCache cache;
        const auto lists = hoopingLists(job, library, &cache);
        QVERIFY2(lists, lists ? "" : lists.error().line().c_str());
        std::vector<double> factors;
        for (const int quantity : {1, 12}) {
            job.brief.quantity = quantity;
            auto r = describeStitchOut({job,
                                        *lists,
                                        *library.machine("six-needle"),
                                        *library.fabric("canvas"),
                                        library,
                                        {}},
                                       cache);
            QVERIFY(r);
            RunRecord run;
            run.seconds = 600;
            addRuns(*r, {run}, *lists);
            factors.push_back(*r->secondsTaken / *r->secondsEstimated);
        }
        VERIFY_NEAR(factors[0], factors[1], 1e-9);
    }

    void recordsAreAddedUp() {
        StitchOut a, b, c;
        a.outcome = "good";
        a.threads = {{"#112233", "Reed", 12}, {"#223344", "Ember", 8.5}};
        a.secondsEstimated = 600;
        a.secondsTaken = 660;
        b.outcome = "mended";
        b.secondsEstimated = 300;
        const RecordSums sums = sumsOf({a, b, c});
        QVERIFY(sums.good == 1 && sums.mended == 1 && sums.spoilt == 0);
        VERIFY_NEAR(sums.threadM, 20.5, 1e-9);
        VERIFY_NEAR(sums.seconds, 960, 1e-9);
    }
};

RAPT_TEST(TestRecords)
#include "test_records.moc"
