#include "cli/ran.h"
#include "support.h"

#include "formats/job_file.h"
#include "job/edit.h"

#include <QDir>

using namespace rapt;
using test::Ran;
using test::ran;

/// The command as a process: keys, exit statuses, and what is left on the disk.
class TestCommand : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString at(const QString& name) { return dir.filePath(name); }
    QString kite =
        QString(RAPT_SOURCE_DIR) + "/data/demo/reading-room-banner/designs/box-kite.stitch.csv";

    void nothingElseWasWritten(const QStringList& allowed) {
        QStringList all =
            QDir(dir.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot);
        for (const QString& name : allowed) all.removeAll(name);
        QCOMPARE(all, QStringList());
    }

private slots:
    void init() {
        for (const QString& name :
             QDir(dir.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot))
            QFileInfo(at(name)).isDir() ? QDir(at(name)).removeRecursively()
                                        : QFile::remove(at(name));
    }

    void infoAnswersWithTheContractsKeys() {
        const Ran r = ran({"info", kite, "--json"});
        QCOMPARE(r.status, 0);
        const QJsonObject j = r.json();
        for (const char* key :
             {"stitches", "jumps", "trims", "thread_changes", "threads", "extents_mm"})
            QVERIFY2(j.contains(key), key);
        QVERIFY(j["stitches"].toInt() > 8000);
        QCOMPARE(j["threads"].toArray().size(), 4);
        for (const char* key : {"index", "color", "weight", "name", "stitches", "length_mm"})
            QVERIFY2(j["threads"][0].toObject().contains(key), key);
        for (const char* key : {"x", "y", "width", "height"})
            QVERIFY2(j["extents_mm"].toObject().contains(key), key);
        QVERIFY(ran({"info", kite}).out.contains("Green box kite"));
    }

    void loadAnswersForDesignsAndJobs() {
        QCOMPARE(ran({"demo", "-o", at("demo")}).status, 0);
        for (const QString& file : {kite, at("demo/reading-room-banner.rapt")}) {
            const Ran r = ran({"load", file, "--json", "--fabric", "sheer", "--map", at("m.png")});
            QCOMPARE(r.status, 0);
            const QJsonObject j = r.json();
            for (const char* key :
                 {"cell_mm", "window_mm", "peak_layers", "peak_layers_at", "mean_layers",
                  "peak_hits_per_mm2", "peak_hits_at", "short_stitches", "long_stitches", "fabric",
                  "limits", "findings"})
                QVERIFY2(j.contains(key), key);
            QCOMPARE(j["fabric"].toString(), "sheer");
            const QJsonArray findings = j["findings"].toArray();
            QVERIFY(!findings.isEmpty());
            for (const char* key : {"severity", "kind", "at", "value", "limit", "text", "remedy"})
                QVERIFY2(findings[0].toObject().contains(key), key);
            QVERIFY(test::readFile(at("m.png")).startsWith("\x89PNG"));
        }
        const Ran unknown = ran({"load", kite, "--fabric", "moon-silk"});
        QCOMPARE(unknown.status, 4);
        QVERIFY(unknown.err.contains("canvas"));
        QVERIFY(unknown.out.isEmpty());
    }

    void resizeKeepsStitchesAndMayReplaceItsInput() {
        QFile::copy(kite, at("k.stitch.csv"));
        const Ran r = ran({"resize", at("k.stitch.csv"), "--scale", "0.5", "--keep", "stitches",
                           "-o", at("k.stitch.csv"), "--json"});
        QCOMPARE(r.status, 0);
        const QJsonObject j = r.json();
        QCOMPARE(j["stitches_before"], j["stitches_after"]);
        VERIFY_NEAR(j["row_spacing_after_mm"].toDouble(), j["row_spacing_before_mm"].toDouble() / 2,
                    0.005);
        QVERIFY(j["peak_layers_after"].toDouble() > j["peak_layers_before"].toDouble());
        nothingElseWasWritten({"k.stitch.csv"});
        const double width = ran({"info", at("k.stitch.csv"), "--json"})
                                 .json()["extents_mm"]
                                 .toObject()["width"]
                                 .toDouble();
        const Ran back = ran({"resize", at("k.stitch.csv"), "--width", QString::number(2 * width),
                              "--keep", "stitches", "-o", at("b.stitch.csv"), "--json"});
        VERIFY_NEAR(back.json()["extents_mm"].toObject()["width"].toDouble(), 2 * width, 1e-3);
        // A decimal comma is a point; two of them are nothing.
        QStringList comma{"resize", kite,       "--width", "98,6",
                          "--keep", "stitches", "-o",      at("c.stitch.csv")};
        QCOMPARE(
            ran(comma + QStringList{"--json"}).json()["extents_mm"].toObject()["width"].toDouble(),
            98.6);
        comma[3] = "9,8,6";
        QCOMPARE(ran(comma).status, 2);
    }

    void aJobAndAGroupOfItAreSizedAsOne() {
        QCOMPARE(ran({"demo", "-o", at("demo")}).status, 0);
        const QString job = at("demo/felt-tags.rapt");
        const Ran r = ran({"resize", job, "--height", "150", "-o", at("r.rapt"), "--json"});
        QCOMPARE(r.status, 0);
        const QJsonObject before = r.json()["extents_before_mm"].toObject();
        const QJsonObject after = r.json()["extents_after_mm"].toObject();
        VERIFY_NEAR(after["height"].toDouble(), 150, 0.01);
        VERIFY_NEAR(after["width"].toDouble() / before["width"].toDouble(),
                    150 / before["height"].toDouble(), 0.002);
        // What the written job sews is as large, about the same middle.
        const Ran sewn = ran({"stitch", at("r.rapt"), "-o", at("r.stitch.csv"), "--json"});
        const QJsonObject e = sewn.json()["extents_mm"].toObject();
        VERIFY_NEAR(e["height"].toDouble(), 150, 0.01);
        VERIFY_NEAR(e["x"].toDouble() + e["width"].toDouble() / 2,
                    before["x"].toDouble() + before["width"].toDouble() / 2, 0.01);
        const Job read = *readJobFile(job.toStdString());
        QVERIFY(!read.pieces.empty());
        const QString group = QString::fromStdString(read.pieces[0].group);
        QVERIFY(!group.isEmpty());
        QCOMPARE(
            ran({"resize", job, "--group", group, "--scale", "0.9", "-o", at("g.rapt")}).status, 0);
        QVERIFY(ran({"resize", job, "--group", "no", "--scale", "2", "-o", at("x")})
                    .err.contains(group.toUtf8()));
        QCOMPARE(ran({"resize", job, "--free", "--width", "9", "-o", at("x")}).status, 2);
        QCOMPARE(ran({"resize", kite, "--group", "a", "--width", "9", "-o", at("x")}).status, 2);
        QVERIFY(!QFile::exists(at("x")));
    }

    void resizeSaysWhatItCannotDoAndWritesNothing() {
        const Ran large =
            ran({"resize", kite, "--scale", "9", "--keep", "stitches", "-o", at("x")});
        QCOMPARE(large.status, 4);
        QVERIFY(large.err.contains("12.1"));
        QCOMPARE(ran({"resize", kite, "--scale", "0.8", "--spacing", "9", "-o", at("x")}).status,
                 4);
        QCOMPARE(ran({"resize", kite, "--scale", "0", "--keep", "stitches", "-o", at("x")}).status,
                 4);
        nothingElseWasWritten({});
    }

    void resizeKeepsTheSpacingOfBareStitches() {
        const Ran half =
            ran({"resize", kite, "--scale", "0.5", "-o", at("h.stitch.csv"), "--json"});
        QCOMPARE(half.status, 0);
        const QJsonObject j = half.json();
        VERIFY_NEAR(j["row_spacing_after_mm"].toDouble(), j["row_spacing_before_mm"].toDouble(),
                    0.02);
        QVERIFY(j["stitches_after"].toInt() < j["stitches_before"].toInt() / 2);
        QVERIFY(j["peak_layers_after"].toDouble() < 1.1 * j["peak_layers_before"].toDouble());
        QCOMPARE(j["stretches"].toObject()["unrecognised"].toInt(), 0);
        const Ran open = ran({"resize", kite, "--scale", "1", "--spacing", "0.5", "-o",
                              at("o.stitch.csv"), "--json"});
        VERIFY_NEAR(open.json()["row_spacing_after_mm"].toDouble(), 0.5, 0.03);
    }

    void relieveOrderAndCheckWorkTogether() {
        ran({"demo", "-o", at("demo")});
        const QString job = at("demo/mending-patch.rapt");
        const Ran before = ran({"check", job, "--json"});
        QCOMPARE(before.status, 1);
        QStringList kinds;
        for (const QJsonValue& f : before.json()["findings"].toArray())
            kinds << f.toObject()["kind"].toString();
        for (const char* kind : {"layers", "hits", "forbidden-zone", "seam-cover"})
            QVERIFY2(kinds.contains(kind), kind);
        const Ran r = ran({"relieve", job, "-o", at("r.rapt"), "--json"});
        QCOMPARE(r.status, 0);
        const QJsonObject j = r.json();
        QVERIFY(j["removed_stitches"].toInt() > 100);
        QVERIFY(j["peak_layers_after"].toDouble() < j["peak_layers_before"].toDouble());
        QCOMPARE(j["pieces"].toArray().size(), 5);
        int sum = 0;
        for (const QJsonValue& p : j["pieces"].toArray()) sum += p.toObject()["removed"].toInt();
        QCOMPARE(sum, j["removed_stitches"].toInt());
        // Once is enough.
        const Ran again = ran({"relieve", at("r.rapt"), "-o", at("rr.rapt"), "--json"});
        QCOMPARE(again.json()["removed_stitches"], j["removed_stitches"]);
        const Ran o = ran({"order", at("r.rapt"), "-o", at("o.rapt"), "--json"});
        QCOMPARE(o.status, 0);
        const QJsonObject k = o.json();
        QVERIFY(k["thread_changes_after"].toInt() <= k["thread_changes_before"].toInt());
        QVERIFY(k["lower_bound"].toInt() <= k["thread_changes_after"].toInt());
        QCOMPARE(ran({"stitch", at("o.rapt"), "-o", at("o.stitch.csv")}).status, 0);
        QCOMPARE(ran({"relieve", at("none.rapt"), "-o", at("x.rapt")}).status, 3);
        QCOMPARE(ran({"relieve", job, "--tuck", "-1", "-o", at("x.rapt")}).status, 2);
        QCOMPARE(ran({"order", job}).status, 2);
    }

    void divideExportAndStitchAgree() {
        ran({"demo", "-o", at("demo")});
        const QString job = at("demo/reading-room-banner.rapt");
        const Ran d = ran({"divide", job, "--hoop", "field-180x130", "-o", at("p.rapt"), "--json"});
        QCOMPARE(d.status, 0);
        const QJsonObject j = d.json();
        for (const char* key :
             {"hoopings", "lower_bound", "proven_minimal", "cut_pieces", "predicted_join_rms_mm"})
            QVERIFY2(j.contains(key), key);
        const QJsonArray hoopings = j["hoopings"].toArray();
        QVERIFY(hoopings.size() > 1);
        for (const char* key :
             {"index", "hoop", "pose", "pieces", "stitches", "extents_mm", "marks"})
            QVERIFY2(hoopings[0].toObject().contains(key), key);
        const Ran e = ran({"export", at("p.rapt"), "-o", at("out"), "--json"});
        QCOMPARE(e.status, 0);
        QCOMPARE(e.json()["files"].toArray().size(), hoopings.size());
        const Ran s = ran({"stitch", at("p.rapt"), "-o", at("all.stitch.csv"), "--json"});
        int sum = 0;
        for (const auto& file : e.json()["files"].toArray())
            sum += ran({"info", at("out/" + file.toString()), "--json"}).json()["stitches"].toInt();
        QCOMPARE(sum, s.json()["stitches"].toInt());
        QCOMPARE(ran({"export", job, "-o", at("none")}).status, 4);
        QVERIFY(!QDir(at("none")).exists());
        QCOMPARE(ran({"divide", job, "--hoop", "oval-70x50", "--whole", "-o", at("q.rapt")}).status,
                 4);
        QCOMPARE(ran({"divide", job, "--hoop", "moon", "-o", at("q.rapt")}).status, 4);
        nothingElseWasWritten({"demo", "p.rapt", "out", "all.stitch.csv"});
    }

    void theCameraAndTheReaderAgree() {
        ran({"demo", "-o", at("demo")});
        ran({"divide", at("demo/windsock-border.rapt"), "--hoop", "field-180x130", "-o",
             at("p.rapt")});
        const Ran p = ran({"photograph", at("p.rapt"), "--hooping", "2", "--seed", "4", "-o",
                           at("s.png"), "--truth", at("t.json")});
        QCOMPARE(p.status, 0);
        const QJsonObject truth = QJsonDocument::fromJson(test::readFile(at("t.json"))).object();
        QVERIFY(truth.contains("cloth"));
        const Ran l = ran({"locate", at("s.png"), "--hoop", "field-180x130", "--json"});
        QCOMPARE(l.status, 0);
        for (const char* key : {"px_per_mm", "tilt_deg", "sharpness", "frame_tags", "quality",
                                "reasons", "cards", "datum"})
            QVERIFY2(l.json().contains(key), key);
        const QJsonArray seen = l.json()["cards"].toArray();
        QCOMPARE(seen.size(), truth["cards"].toArray().size());
        for (int i = 0; i < seen.size(); ++i) {
            VERIFY_NEAR(seen[i].toObject()["x_mm"].toDouble(),
                        truth["cards"].toArray()[i].toObject()["x_mm"].toDouble(), 0.3);
            VERIFY_NEAR(seen[i].toObject()["y_mm"].toDouble(),
                        truth["cards"].toArray()[i].toObject()["y_mm"].toDouble(), 0.3);
        }
        QCOMPARE(ran({"photograph", at("p.rapt"), "--hooping", "99", "--seed", "1", "-o",
                      at("z.png"), "--truth", at("z.json")})
                     .status,
                 4);
        QCOMPARE(ran({"locate", at("s.png"), "--hoop", "field-240x240"}).status, 4);
        QCOMPARE(ran({"locate", at("t.json"), "--hoop", "field-240x240"}).status, 3);
    }

    void fitAnswersAndRefuses() {
        test::writeFile(at("p.csv"), "name,plan_x,plan_y,seen_x,seen_y\nA,0,0,1,2\nB,100,0,101,2\n"
                                     "C,0,50,1,52\n");
        const Ran r = ran({"fit", at("p.csv"), "--json"});
        QCOMPARE(r.status, 0);
        for (const char* key :
             {"translation", "rotation_deg", "rms_mm", "scale", "square_error_deg", "residuals",
              "suspect", "without_suspect", "verdict", "text"})
            QVERIFY2(r.json().contains(key), key);
        VERIFY_NEAR(r.json()["translation"].toArray()[1].toDouble(), 2, 1e-9);
        QVERIFY(r.json()["suspect"].isNull());
        test::writeFile(at("p.csv"), "name,plan_x,plan_y,seen_x,seen_y\nA,0,0,1,2\n");
        QCOMPARE(ran({"fit", at("p.csv")}).status, 4);
    }

    void templateAndCheckAndDemo() {
        QCOMPARE(ran({"demo", "-o", at("demo"), "--json"}).json()["jobs"].toArray().size(), 10);
        const QString job = at("demo/reading-room-banner.rapt");
        const Ran t = ran({"template", job, "-o", at("t.pdf"), "--mirror", "--json"});
        QCOMPARE(t.status, 0);
        QVERIFY(t.json()["pages"].toInt() > 1);
        QVERIFY(test::readFile(at("t.pdf")).startsWith("%PDF"));
        const Ran c = ran({"check", job, "--json"});
        QCOMPARE(c.status, 0); // an honest banner
        const Ran patch = ran({"check", at("demo/mending-patch.rapt"), "--json"});
        QCOMPARE(patch.status, 1);
        const QJsonArray findings = patch.json()["findings"].toArray();
        QCOMPARE(findings[0]["kind"].toString(), QString("forbidden-zone")); // it can hurt
        const QJsonObject worst = findings[1].toObject();
        QCOMPARE(worst["severity"].toString(), QString("stop"));
        QVERIFY(worst["excess"].toDouble() >= 6 && worst["count"].toInt() >= 1);
        QVERIFY(worst["excess_total"].toDouble() >= worst["excess"].toDouble());
        const QJsonObject remedy = worst["remedies"].toArray()[0].toObject();
        QVERIFY(remedy["value_after"].toDouble() < remedy["value_before"].toDouble());
        QCOMPARE(worst["remedy"], remedy["text"]);
        const Ran quick = ran({"load", at("demo/mending-patch.rapt"), "--json"});
        for (const QJsonValue f : quick.json()["findings"].toArray())
            QCOMPARE(f["remedy"].isNull(), f["remedies"].toArray().isEmpty());
        QCOMPARE(ran({"check", at("demo/windsock-border.rapt")}).status, 0);
    }

    void wrongUsageIsTwo() {
        QCOMPARE(ran({}).status, 2);
        QCOMPARE(ran({"info"}).status, 2);
        QCOMPARE(ran({"info", kite, "--nope"}).status, 2);
        QCOMPARE(ran({"resize", kite, "--keep", "hope", "-o", at("x")}).status, 2);
        const Ran verb = ran({"levitate", kite});
        QCOMPARE(verb.status, 2);
        QVERIFY(verb.err.contains("does not exist"));
        QVERIFY(verb.out.isEmpty());
        QCOMPARE(ran({"--help"}).status, 0);
    }

    void badInputIsThreeInOneLineAndWritesNothing_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("empty") << QByteArray();
        QTest::newRow("text") << QByteArray("hello\n");
        QTest::newRow("cut zip") << QByteArray("PK\x03\x04 and no more");
        QTest::newRow("nan") << QByteArray(
            "# rapt-stitches 1\nop,x_mm,y_mm,thread\nstitch,nan,0,1\n");
        QTest::newRow("huge") << QByteArray(
            "# rapt-stitches 1\nop,x_mm,y_mm,thread\nstitch,1e9,0,1\n");
    }
    void badInputIsThreeInOneLineAndWritesNothing() {
        QFETCH(QByteArray, bytes);
        test::writeFile(at("bad"), bytes);
        const QStringList verbs[] = {
            {"info", at("bad")},
            {"load", at("bad")},
            {"resize", at("bad"), "--scale", "2", "--keep", "stitches", "-o", at("o")},
            {"stitch", at("bad"), "-o", at("o")},
            {"divide", at("bad"), "--hoop", "field-100x100", "-o", at("o")},
            {"export", at("bad"), "-o", at("o")},
            {"fit", at("bad")},
            {"photograph", at("bad"), "--hooping", "1", "--seed", "1", "-o", at("o"), "--truth",
             at("o2")},
            {"locate", at("bad"), "--hoop", "field-100x100"},
            {"template", at("bad"), "-o", at("o")},
            {"check", at("bad")}};
        for (const QStringList& verb : verbs) {
            const Ran r = ran(verb);
            QCOMPARE(r.status, 3);
            QVERIFY(r.out.isEmpty());
            QVERIFY2(r.err.startsWith(at("bad").toUtf8()), r.err);
            QCOMPARE(r.err.count('\n'), 1);
        }
        nothingElseWasWritten({"bad"});
    }

    void missingFilesAndFoldersAreThree() {
        QCOMPARE(ran({"info", at("none")}).status, 3);
        QCOMPARE(ran({"info", dir.path()}).status, 3);
        QCOMPARE(ran({"check", at("none")}).status, 3);
        const Ran r =
            ran({"resize", kite, "--scale", "1", "--keep", "stitches", "-o", at("no/where")});
        QCOMPARE(r.status, 3);
        test::writeFile(at("file"), "x");
        QCOMPARE(ran({"demo", "-o", at("file")}).status, 3);
        nothingElseWasWritten({"file"});
    }

    void drawingsBecomeJobsAndStitches() {
        test::writeFile(at("a.svg"),
                        "<svg width='140mm' height='90mm' viewBox='0 0 140 90'>"
                        "<rect id='r' x='20' y='10' width='100' height='60' fill='#1f4e79'/>"
                        "<path id='line' d='M10 80 H130' stroke='#d9603b' stroke-width='0.3'/>"
                        "<text>words</text></svg>");
        const Ran job = ran({"import", at("a.svg"), "-o", at("a.rapt"), "--json"});
        QCOMPARE(job.status, 0);
        QCOMPARE(job.json()["pieces"].toArray().size(), 2);
        QCOMPARE(job.json()["pieces"].toArray()[0].toObject()["kind"].toString(), QString("fill"));
        QCOMPARE(job.json()["unsupported"].toArray().size(), 1);
        for (const char* key : {"stitches", "jumps", "trims", "thread_changes", "threads"})
            QVERIFY2(job.json().contains(key), key);
        // Straight to stitches it is the same sewing, in the page's own frame.
        const Ran list = ran({"import", at("a.svg"), "-o", at("a.stitch.csv"), "--json"});
        QCOMPARE(list.json()["stitches"].toInt(), job.json()["stitches"].toInt());
        const QJsonObject box = list.json()["extents_mm"].toObject();
        VERIFY_NEAR(box["x"].toDouble(), 10, 0.01);
        VERIFY_NEAR(box["y"].toDouble(), 10, 0.01);
        QCOMPARE(ran({"stitch", at("a.rapt"), "-o", at("b.stitch.csv"), "--json"})
                     .json()["stitches"]
                     .toInt(),
                 list.json()["stitches"].toInt());
        // The recipe as asked.
        const Ran wide = ran({"import", at("a.svg"), "--spacing", "0.8", "--angle", "90",
                              "--length", "4", "-o", at("w.stitch.csv"), "--json"});
        const double thread =
            list.json()["threads"].toArray()[0].toObject()["length_mm"].toDouble();
        VERIFY_NEAR(wide.json()["threads"].toArray()[0].toObject()["length_mm"].toDouble(),
                    thread / 2, 0.02 * thread);
        nothingElseWasWritten({"a.svg", "a.rapt", "a.stitch.csv", "b.stitch.csv", "w.stitch.csv"});
    }

    void badImportsAreRefused() {
        test::writeFile(at("bad.svg"), "<svg><rect width='9' height='x'/></svg>");
        const Ran bad = ran({"import", at("bad.svg"), "-o", at("out.rapt")});
        QCOMPARE(bad.status, 3);
        QVERIFY(bad.err.contains("bad.svg") && bad.err.contains("height"));
        QCOMPARE(bad.err.count('\n'), 1);
        QVERIFY(bad.out.isEmpty());
        QCOMPARE(ran({"import", at("none.svg"), "-o", at("out.rapt")}).status, 3);
        test::writeFile(at("good.svg"), "<svg><rect width='90' height='90'/></svg>");
        QCOMPARE(ran({"import", at("good.svg"), "-o", at("out.png")}).status, 4);
        QCOMPARE(ran({"import", at("good.svg"), "--spacing", "0", "-o", at("out.rapt")}).status, 4);
        QCOMPARE(ran({"import", at("good.svg")}).status, 2);
        nothingElseWasWritten({"bad.svg", "good.svg"});
    }

    void picturesAndStepsOfThePanelAnswerOrSayWhy() {
        ran({"demo", "-o", at("demo")});
        const QString job = at("demo/book-tag.rapt");
        for (const auto& [file, begins] :
             {std::pair{"t.svg", "<svg"}, {"t.png", "\x89PNG"}, {"t.apng", "\x89PNG"}}) {
            const Ran made =
                ran({"picture", job, "-o", at(file), "--scale", "4", "--frames", "5", "--json"});
            QCOMPARE(made.status, 0);
            QVERIFY(test::readFile(at(file)).startsWith(begins));
            QVERIFY(made.json()["extents_mm"].toObject()["width"].toDouble() > 1);
        }
        // What came out comes in: the picture, traced.
        const Ran again =
            ran({"import", at("t.png"), "--width", "60", "-o", at("again.rapt"), "--json"});
        QCOMPARE(again.status, 0);
        VERIFY_NEAR(again.json()["extents_mm"].toObject()["width"].toDouble(), 60, 1.5);
        QCOMPARE(ran({"picture", job, "-o", at("t.gif")}).status, 2);
        QCOMPARE(ran({"picture", job, "-o", at("x.png"), "--scale", "1000"}).status, 4);
        const Ran panel = ran({"panel", job, "--hooping", "1"});
        QCOMPARE(panel.status, 4);
        QVERIFY(panel.err.contains("nothing was seen"));
        QVERIFY(ran({"panel", job, "--hooping", "9"}).err.contains("no hooping 9"));
    }

    void repeatsAndMirrorsOfAJobAreStitchedDividedAndExported() {
        ran({"demo", "-o", at("demo")});
        const QString job = at("demo/cotton-square.rapt");
        const Ran all = ran({"stitch", job, "-o", at("all.stitch.csv"), "--json"});
        QCOMPARE(all.status, 0);
        const Ran divided =
            ran({"divide", job, "--hoop", "field-180x130", "-o", at("p.rapt"), "--json"});
        QCOMPARE(divided.status, 0);
        int pieces = 0, stitches = 0;
        for (const QJsonValue& h : divided.json()["hoopings"].toArray()) {
            pieces += static_cast<int>(h.toObject()["pieces"].toArray().size());
            stitches += h.toObject()["stitches"].toInt();
        }
        QCOMPARE(pieces, 4 + 6);
        QCOMPARE(stitches, all.json()["stitches"].toInt());
        QCOMPARE(ran({"export", at("p.rapt"), "-o", at("out")}).status, 0);
    }
};

RAPT_TEST(TestCommand)
#include "test_command.moc"
