#include "cli/ran.h"
#include "support.h"

#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "thread/measures.h"

#include <QDir>

using namespace rapt;
using test::Ran;
using test::ran;

/// Division, batches and borders as a process.
class TestDivideCommand : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString at(const QString& name) { return dir.filePath(name); }
    QString demo(const QString& name) { return at("demo/" + name + ".rapt"); }
    QString kite = QString(RAPT_SOURCE_DIR) + "/data/designs/kites/delta-kite.stitch.csv";

private slots:
    void initTestCase() { QCOMPARE(ran({"demo", "-o", at("demo")}).status, 0); }

    void aPlanNamesClampingsPositionsAndBounds() {
        const Ran r = ran({"divide", demo("reading-room-banner"), "--hoop", "two-sided-360x200",
                           "-o", at("p.rapt"), "--json"});
        QVERIFY2(r.status == 0, r.err);
        const QJsonObject j = r.json();
        int clampings = 0;
        QJsonValue last;
        for (const QJsonValue& h : j["hoopings"].toArray()) {
            const int clamping = h["clamping"].toInt();
            QVERIFY(clamping == clampings || clamping == clampings + 1);
            clampings = clamping;
            QVERIFY(h["position"].toInt() >= 1 && h["position"].toInt() <= 2);
            QVERIFY(h["stitches"].toInt() > 0);
        }
        QCOMPARE(j["clampings"].toInt(), clampings);
        QVERIFY(j["lower_bound_clampings"].toInt() <= clampings);
        QVERIFY(j["lower_bound"].toInt() <= j["hoopings"].toArray().size());
        QVERIFY(j["cut_pieces"].toArray().size() > 0); // the kite is higher than one side
        QCOMPARE(ran({"export", at("p.rapt"), "-o", at("out")}).status, 0);
    }

    void whatFitsOneFrameIsHoopedByItself() {
        // Exported, printed and sewn without a plan; the middle of it is the field's middle.
        QCOMPARE(ran({"export", demo("library-title"), "-o", at("self")}).status, 0);
        QCOMPARE(QDir(at("self")).entryList({"*.csv"}).size(), 1);
        const auto list = readStitchFile(at("self/hooping-01.stitch.csv").toStdString());
        QVERIFY(list);
        const Vec2 middle = measure(*list).extents.centre();
        VERIFY_NEAR(middle.x, 0, 0.02);
        VERIFY_NEAR(middle.y, 0, 0.02);
        QCOMPARE(ran({"sheets", demo("library-title"), "-o", at("self.pdf")}).status, 0);
        // What fits none is not divided in silence; its price is what a plan would cost.
        for (const QStringList& verb :
             {QStringList{"export", demo("reading-room-banner"), "-o", at("no")},
              {"sheets", demo("reading-room-banner"), "-o", at("no.pdf")}}) {
            const Ran r = ran(verb);
            QCOMPARE(r.status, 4);
            QVERIFY2(r.err.contains("divide"), r.err);
        }
        QVERIFY(!QFile::exists(at("no")) && !QFile::exists(at("no.pdf")));
        QCOMPARE(ran({"estimate", demo("reading-room-banner")}).status, 0);
    }

    void aTemplateIsOnePageOfWhatItIsOf() {
        const auto pages = [&](const QStringList& more) {
            QStringList all{"template", demo("library-title"), "-o", at("t.pdf"), "--json"};
            return ran(all << more).json()["pages"].toInt();
        };
        QCOMPARE(pages({}), 1);
        QCOMPARE(pages({"--piece", "script"}), 1);
        QCOMPARE(pages({"--hooping", "1", "--paper", "letter", "--mirror"}), 1);
        QVERIFY(pages({"--cloth"}) > 1);
        QCOMPARE(ran({"divide", demo("reading-room-banner"), "-o", at("planned.rapt")}).status, 0);
        const Ran one =
            ran({"template", at("planned.rapt"), "--hooping", "2", "-o", at("t.pdf"), "--json"});
        QVERIFY2(one.status == 0, one.err);
        for (const QStringList& odd : {QStringList{"--piece", "nope"}, {"--hooping", "9"}}) {
            const Ran r =
                ran(QStringList{"template", demo("library-title"), "-o", at("odd.pdf")} << odd);
            QCOMPARE(r.status, 4);
        }
        QVERIFY(!QFile::exists(at("odd.pdf")));
        QCOMPARE(ran({"template", demo("library-title"), "--cloth", "--piece", "script", "-o",
                      at("odd.pdf")})
                     .status,
                 2);
    }

    void whatMustNotBeCutIsRefused() {
        const Ran r = ran({"divide", demo("reading-corner-hanging"), "--hoop", "field-180x130",
                           "--whole", "-o", at("q.rapt")});
        QCOMPARE(r.status, 4);
        QVERIFY(r.err.contains("fits no field"));
        QVERIFY(!QFile::exists(at("q.rapt")));
        QCOMPARE(ran({"divide", demo("reading-room-banner"), "--hoop", "field-100x100", "--method",
                      "turn", "-o", at("q.rapt")})
                     .status,
                 4);
        QCOMPARE(ran({"divide", demo("reading-room-banner"), "--hoop", "field-180x130", "--most",
                      "3", "-o", at("q.rapt")})
                     .status,
                 4);
    }

    void chainsAreLongerButShareMarks() {
        const Ran datum = ran({"divide", demo("windsock-border"), "--hoop", "field-300x200", "-o",
                               at("d.rapt"), "--json"});
        const Ran chain = ran({"divide", demo("windsock-border"), "--hoop", "field-300x200",
                               "--method", "chain", "-o", at("c.rapt"), "--json"});
        QVERIFY2(chain.status == 0, chain.err);
        QVERIFY(chain.json()["clampings"].toInt() >= datum.json()["clampings"].toInt());
        QCOMPARE(ran({"export", at("c.rapt"), "-o", at("chained")}).status, 0);
    }

    void aBatchIsCountedForEveryFrameOwned() {
        const Ran r = ran({"batch", demo("book-tag"), "--quantity", "40", "--json"});
        QVERIFY2(r.status == 0, r.err);
        const QJsonArray hoops = r.json()["hoops"].toArray();
        QCOMPARE(hoops.size(), 2); // those of the brief
        int last = 0;
        for (const QJsonValue& h : hoops) {
            const int per = h["per_clamping"].toInt(), clampings = h["clampings"].toInt();
            QCOMPARE(clampings, (40 + per - 1) / per);
            QCOMPARE(h["left_over"].toInt(), clampings * per - 40);
            QVERIFY(clampings >= last && h["seconds"].toDouble() > 0);
            last = clampings;
        }
        QCOMPARE(
            ran({"batch", demo("reading-room-banner"), "--quantity", "2", "--hoop", "oval-70x50"})
                .status,
            4);
    }

    void aBorderIsExactlyAsLargeAsAsked() {
        const Ran strip = ran(
            {"border", kite, "--length", "612.5", "--strip", "40", "-o", at("s.rapt"), "--json"});
        QVERIFY2(strip.status == 0, strip.err);
        QVERIFY(strip.json()["repeats"].toArray()[1].isNull());
        const Ran frame = ran({"border", kite, "--length", "400", "--height", "300", "--strip",
                               "30", "--corner", "open", "-o", at("f.rapt"), "--json"});
        QVERIFY2(frame.status == 0, frame.err);
        for (const auto& [file, w, h] :
             {std::tuple{"s.rapt", 612.5, 40.0}, std::tuple{"f.rapt", 400.0, 300.0}}) {
            const auto job = readJobFile(at(file).toStdString());
            const Box box = extentsOf(stitchJob(*job)->list);
            VERIFY_NEAR(box.width(), w, 0.03);
            VERIFY_NEAR(box.height(), h, 0.03);
        }
        const Ran no = ran({"border", kite, "--length", "70", "--strip", "50", "-o", at("n.rapt")});
        QCOMPARE(no.status, 4);
        QVERIFY(no.err.contains("mm work"));
    }

    void theTemplateGainsTheMarkingPlan() {
        QCOMPARE(
            ran({"divide", demo("windsock-border"), "--hoop", "field-180x130", "-o", at("w.rapt")})
                .status,
            0);
        const Ran without =
            ran({"template", demo("windsock-border"), "--cloth", "-o", at("a.pdf"), "--json"});
        const Ran with = ran({"template", at("w.rapt"), "--cloth", "-o", at("b.pdf"), "--json"});
        QVERIFY(with.json()["pages"].toInt() > without.json()["pages"].toInt());
        QProcess text;
        text.start("pdftotext", {at("b.pdf"), "-"});
        QVERIFY(text.waitForFinished(20'000));
        const QByteArray words = text.readAllStandardOutput();
        QVERIFY(words.contains("marking plan") && words.contains("level line"));
    }

    void whatIsSewnIsNotHandedOutAgain() {
        const QString job = at("sewn.rapt");
        QCOMPARE(ran({"divide", demo("reading-room-banner"), "--hoop", "field-300x200", "-o", job})
                     .status,
                 0);
        QCOMPARE(ran({"export", job, "-o", at("all")}).status, 0);
        QCOMPARE(ran({"sewn", job, "--hooping", "1", "-o", job}).status, 0);
        QCOMPARE(ran({"sewn", job, "--hooping", "2", "--stitches", "100", "-o", job}).status, 0);
        QCOMPARE(ran({"sewn", job, "--hooping", "9", "-o", job}).status, 4);
        const Ran open = ran({"export", job, "--open", "-o", at("open"), "--json"});
        QCOMPARE(open.json()["files"].toArray(), (QJsonArray{"hooping-02.stitch.csv"}));
        const auto penetrations = [&](const QString& file) {
            std::vector<Vec2> places;
            const auto list = readStitchFile(at(file).toStdString());
            if (!list) return places;
            for (const Stitch& s : list->stitches)
                if (s.op == Op::stitch) places.push_back(s.at());
            return places;
        };
        const auto all = penetrations("all/hooping-02.stitch.csv");
        const auto left = penetrations("open/hooping-02.stitch.csv");
        QVERIFY(left.size() >= all.size() - 100 && left.size() <= all.size() - 97);
        QVERIFY(
            std::equal(all.begin() + 100, all.end(), left.end() - (all.end() - all.begin() - 100)));
        // Sized, it would not be what is sewn.
        const Ran sized = ran({"resize", job, "--scale", "0.9", "-o", at("x.rapt")});
        QVERIFY2(sized.status == 4 && sized.err.contains("is sewn in hooping"), sized.err);
        QVERIFY(!QFile::exists(at("x.rapt")));
        QCOMPARE(ran({"divide", job, "--hoop", "field-180x130", "-o", job}).status, 0);
        QCOMPARE(ran({"export", job, "-o", at("again")}).status, 0);
        QCOMPARE(test::readFile(at("again/hooping-01.stitch.csv")),
                 test::readFile(at("all/hooping-01.stitch.csv")));
        const Ran handed =
            ran({"handover", job, "--machine", "six-needle", "--to", at(""), "--json"});
        for (const QJsonValue& f : handed.json()["files"].toArray())
            QVERIFY(f["hooping"].toInt() != 1);
    }

    void badFramesAreRefusedWithFileAndKey() {
        const QString home = at("home/rapt-thimble");
        QDir().mkpath(home);
        const auto refused = [&](const QByteArray& json, const char* key) {
            test::writeFile(home + "/hoops.json", json);
            QProcess process;
            auto environment = QProcessEnvironment::systemEnvironment();
            environment.insert("XDG_DATA_HOME", at("home"));
            process.setProcessEnvironment(environment);
            process.start(RAPT_BIN, {"batch", demo("book-tag"), "--quantity", "1"});
            process.waitForFinished(20'000);
            const QByteArray err = process.readAllStandardError();
            QVERIFY2(process.exitCode() == 3 && err.contains("hoops.json") && err.contains(key),
                     err);
        };
        const QByteArray head =
            R"({"hoops":[{"id":"x","kind":"sliding","field":{"width_mm":100,"height_mm":80},)";
        refused(head + R"("slide":{"from":50,"to":-50}}]})", "slide.to");
        refused(head + R"("positions":[{"x":1e999,"y":0}]}]})", "hoops");
        refused(R"({"hoops":[{"id":"x","kind":"round","field":{"width_mm":1,"height_mm":1}}]})",
                "kind");
        refused(R"({"hoops":[{"id":"x","field":{"width_mm":-1,"height_mm":1}}]})", "width_mm");
    }
};

RAPT_TEST(TestDivideCommand)
#include "test_divide_command.moc"
