#include "ledger_support.h"
#include "server.h"

#include "ledger/database.h"

#include <QSet>
#include <thread>

using namespace rapt;
using namespace rapt::test;

class TestLedgerServer : public QObject {
    Q_OBJECT

    Server server;
    QTemporaryDir home;
    QString database;
    int number = 0;

    LedgerPlace place() const { return *parseLedgerPlace(server.url(database), true); }
    /// Straight from the server.
    qint64 there() const {
        Ledger direct;
        return direct.open(place()) ? *direct.count({}) : -1;
    }

private slots:
    void initTestCase() {
        qputenv("XDG_DATA_HOME", home.path().toUtf8());
        QVERIFY2(server.start(), qPrintable(server.problem));
    }
    void init() {
        database = QString("kites_%1").arg(++number);
        QVERIFY2(server.create(database), qPrintable(server.problem));
    }

    void theServerAnswersAsTheFileDoes() {
        Ledger file, shared;
        QVERIFY(file.open(fileAt(home.filePath("same.sqlite"))));
        const Status opened = shared.open(place());
        QVERIFY2(opened, opened ? "" : opened.error().line().c_str());
        std::vector<StitchOut> records;
        for (int i = 0; i < 30; ++i) {
            StitchOut r = recordNamed("Tag " + std::to_string(i % 7),
                                      "2026-0" + std::to_string(1 + i % 5) + "-11");
            r.uid = "u" + std::to_string(i);
            r.note = i % 3 ? "green tail, wind-sock" : "Reed Å 12e5 40mm 620x240";
            r.peakLayers = 1.5 + 0.1 * i;
            r.threads = {{"#c0392b", "Brick", 1.25}};
            records.push_back(r);
        }
        const LedgerFile photo = ledgerFile("photo", QByteArray("\x00\xff light", 8));
        for (Ledger* l : {&file, &shared}) QVERIFY(l->add(records, {photo}));
        QCOMPARE(*shared.file(photo.hash), photo.bytes);
        for (const QString words : {"", "green", "sock", "windsock", "wind-sock", "2026-03", "a",
                                    "12e5", "40mm", "620x240", "bri", "tag 3", "nothing"}) {
            QCOMPARE(*shared.count({words}), *file.count({words}));
            QCOMPARE(*shared.find({words}, 9) == *file.find({words}, 9), true);
        }
        const PageEnd end{"2026-03-11", 12};
        QVERIFY(*shared.find({}, 9, end) == *file.find({}, 9, end));
        StitchOut r = **shared.record("u4");
        QVERIFY(shared.change(r));
        QVERIFY(!shared.change(r));
        // And both ways, whole.
        Ledger back;
        QVERIFY(back.open(fileAt(home.filePath("back.sqlite"))));
        QCOMPARE(*copyLedger(shared, back), 30);
        QVERIFY(**back.record("u7") == **shared.record("u7"));
    }

    void recordsWaitWhileTheServerIsAway() {
        SharedLedger bench;
        QVERIFY(bench.open(place()));
        QVERIFY(bench.add(recordNamed("Before")).operator*().has_value());
        server.stop();
        for (const char* job : {"One", "Two"}) {
            const auto id = bench.add(recordNamed(job), {ledgerFile("photo", job)});
            QVERIFY2(id && !*id, "kept here, without an id");
        }
        QVERIFY(bench.isAway());
        QVERIFY2(bench.notice().contains("kept here"), qPrintable(bench.notice()));
        QCOMPARE(bench.waiting(), 2);
        const auto found = bench.with([](Ledger& l) { return l.count({}); });
        QVERIFY2(!found && found.error().reason.find("does not answer") != std::string::npos,
                 found ? "answered" : found.error().line().c_str());
        // The application ends and begins again, the server is back.
        bench = SharedLedger();
        QVERIFY(server.start());
        QVERIFY(bench.open(place()));
        QCOMPARE(bench.waiting(), 0);
        QCOMPARE(there(), 3);
    }

    void whatWasSentBeforeItsReceiptWasLostIsNotDoubled() {
        SharedLedger bench;
        server.stop();
        QVERIFY(bench.open(place()));
        QVERIFY(bench.add(recordNamed("Once")));
        QVERIFY(server.start());
        Ledger direct;
        QVERIFY(direct.open(place()));
        QVERIFY(direct.add({recordNamed("Once")}));
        bench = SharedLedger();
        QVERIFY(bench.open(place()));
        QCOMPARE(bench.waiting(), 0);
        QCOMPARE(there(), 1);
    }

    void theServerGoesInTheMiddleOfWritingAgainAndAgain() {
        QSet<QString> kept;
        std::atomic<bool> over = false;
        std::thread writer([&] {
            SharedLedger bench;
            if (!bench.open(place())) return;
            for (int i = 0; !over; ++i) {
                StitchOut r = recordNamed("Tag " + std::to_string(i));
                if (bench.add(r)) kept.insert(QString::fromStdString(r.uid));
            }
        });
        for (int i = 0; i < 4; ++i) {
            QTest::qWait(250);
            server.stop();
            QTest::qWait(50);
            QVERIFY(server.start());
        }
        over = true;
        writer.join();
        SharedLedger bench;
        QVERIFY(bench.open(place()));
        QCOMPARE(bench.waiting(), 0);
        QVERIFY2(kept.size() > 10, qPrintable(QString::number(kept.size())));
        Ledger direct;
        QVERIFY(direct.open(place()));
        for (const QString& uid : kept) QVERIFY2(*direct.record(uid), qPrintable(uid));
        QCOMPARE(*direct.count({}), kept.size());
    }

    void twoBenchesAtOnceAreBothRight() {
        std::vector<std::thread> benches;
        std::atomic<int> failed = 0;
        for (int b = 0; b < 2; ++b)
            benches.emplace_back([&, b] {
                // Both may find an empty database and make its tables.
                SharedLedger bench;
                if (!bench.open(place())) ++failed;
                for (int i = 0; i < 40; ++i)
                    if (!bench.add(recordNamed(std::to_string(b) + "-" + std::to_string(i))))
                        ++failed;
            });
        for (std::thread& t : benches) t.join();
        QCOMPARE(failed.load(), 0);
        QCOMPARE(there(), 80);
    }

    void whatTheServerDoesNotTakeStaysAndKeepsNobodyBack() {
        SharedLedger bench;
        QVERIFY(bench.open(place()));
        Database byHand("by-hand-");
        QVERIFY(byHand.open(place()));
        QVERIFY(byHand.run("ALTER TABLE record ADD CONSTRAINT short CHECK (length(note) < 100)"));
        StitchOut tooMuch = recordNamed("Talked about");
        tooMuch.note = std::string(200, 'x');
        const auto kept = bench.add(tooMuch);
        QVERIFY2(kept && !*kept, "kept here, without an id");
        QVERIFY(!bench.isAway());
        QVERIFY2(bench.notice().contains("short"), qPrintable(bench.notice()));
        QVERIFY2(bench.add(recordNamed("After it"))->has_value(), "others go");
        QCOMPARE(bench.waiting(), 1);
        QCOMPARE(there(), 1);
        QVERIFY(byHand.run("ALTER TABLE record DROP CONSTRAINT short"));
        QCOMPARE(*bench.send(), 1);
        QVERIFY2(bench.notice().isEmpty(), qPrintable(bench.notice()));
        QCOMPARE(there(), 2);
    }

    void wrongPasswordsAndDatabasesAreSaidInWords() {
        LedgerPlace wrong = *parseLedgerPlace(server.url(database, "pepper"), true);
        SharedLedger bench;
        Status opened = bench.open(wrong);
        QVERIFY(!opened);
        QVERIFY2(opened.error().line().find("refuses the password") != std::string::npos,
                 opened.error().line().c_str());
        QVERIFY(opened.error().line().find("pepper") == std::string::npos);
        opened = bench.open(*parseLedgerPlace(server.url("nowhere"), true));
        QVERIFY(!opened);
        QVERIFY2(opened.error().line().find("nowhere") != std::string::npos,
                 opened.error().line().c_str());
        QVERIFY(!bench.isAway());
    }
};

RAPT_TEST(TestLedgerServer)
#include "test_ledger_server.moc"
