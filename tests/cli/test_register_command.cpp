#include "cli/ran.h"
#include "support.h"

#include "formats/job_file.h"
#include "formats/stitch_csv.h"
#include "registration/correction.h"
#include "registration/guided.h"
#include "registration/proposals.h"

#include <QDir>

using namespace rapt;
using test::Ran;
using test::ran;

/// Pictures, fits and corrections as a process.
class TestRegisterCommand : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString at(const QString& name) { return dir.filePath(name); }

    void writeObservations(const QString& name, const QByteArray& list) {
        test::writeFile(at(name), "{\"observations\": [" + list + "]}");
    }

private slots:
    void initTestCase() {
        QCOMPARE(ran({"demo", "-o", at("demo")}).status, 0);
        QCOMPARE(ran({"divide", at("demo/reading-room-banner.rapt"), "--hoop", "field-300x200",
                      "-o", at("plan.rapt")})
                     .status,
                 0);
    }

    void aPictureIsReadToItsTruth() {
        const QStringList take{"photograph", at("plan.rapt"), "--hooping", "1",         "--seed",
                               "7",          "--tilt",        "12",        "--shadow",  "0.3",
                               "-o",         at("s.png"),     "--truth",   at("t.json")};
        QCOMPARE(ran(take).status, 0);
        const QJsonObject truth = QJsonDocument::fromJson(test::readFile(at("t.json"))).object();
        const Ran r = ran({"locate", at("s.png"), "--hoop", "field-300x200", "--json"});
        QVERIFY2(r.status == 0, r.err);
        const QJsonObject seen = r.json();
        QCOMPARE(seen["cards"].toArray().size(), truth["cards"].toArray().size());
        for (qsizetype i = 0; i < seen["cards"].toArray().size(); ++i) {
            const QJsonValue a = seen["cards"][i], b = truth["cards"][i];
            QCOMPARE(a["id"], b["id"]);
            VERIFY_NEAR(a["x_mm"].toDouble(), b["x_mm"].toDouble(), 0.1);
            VERIFY_NEAR(a["y_mm"].toDouble(), b["y_mm"].toDouble(), 0.1);
            QVERIFY(a["sigma_mm"].toDouble() > 0);
        }
        VERIFY_NEAR(seen["datum"]["x_mm"].toDouble(), truth["datum"]["x_mm"].toDouble(), 0.25);
        VERIFY_NEAR(seen["datum"]["rotation_deg"].toDouble(),
                    truth["datum"]["rotation_deg"].toDouble(), 0.3);
        VERIFY_NEAR(seen["tilt_deg"].toDouble(), 12, 3);
        QVERIFY(truth["cloth"]["rotation_deg"].isDouble());
        // The same seed, the same picture; another frame is refused and named.
        const QByteArray before = test::readFile(at("s.png"));
        QCOMPARE(ran(take).status, 0);
        QCOMPARE(test::readFile(at("s.png")), before);
        const Ran wrong = ran({"locate", at("s.png"), "--hoop", "field-100x100"});
        QCOMPARE(wrong.status, 4);
        QVERIFY2(wrong.err.contains("another hoop") && wrong.out.isEmpty(), wrong.err);
        QCOMPARE(ran({"photograph", at("plan.rapt"), "--hooping", "9", "--seed", "1", "-o",
                      at("no.png"), "--truth", at("no.json")})
                     .status,
                 4);
        QVERIFY(!QFile::exists(at("no.png")));
        QCOMPARE(ran({"locate", at("t.json"), "--hoop", "field-300x200"}).status, 3);
    }

    void calibrationWantsTheBoard() {
        QVERIFY(QFile::exists(at("s.png")));
        const Ran r = ran({"calibrate", at("s.png"), at("s.png"), at("s.png"), "-o", at("c.json")});
        QCOMPARE(r.status, 4);
        QVERIFY(r.err.contains("board is found on 0 of 3"));
        QVERIFY(!QFile::exists(at("c.json")));
        QCOMPARE(ran({"calibrate", at("none.png"), "-o", at("c.json")}).status, 3);
    }

    void observationsAreFittedWithTheirUncertainty() {
        // Moved by (2, -1) and turned by 1°: a card, a point, and a line.
        const Affine m = Pose{2, -1, 1, false, 1, 1}.affine();
        const auto place = [](Vec2 p) {
            return QByteArray("[") + QByteArray::number(p.x, 'g', 12) + "," +
                   QByteArray::number(p.y, 'g', 12) + "]";
        };
        writeObservations(
            "o.json",
            "{\"kind\":\"card\",\"name\":\"c\",\"plan\":[40,20],\"seen\":" + place(m({40, 20})) +
                ",\"plan_rotation_deg\":0,\"seen_rotation_deg\":1,\"sigma_mm\":0.1,\"sigma_deg\":0."
                "5},"
                "{\"kind\":\"point\",\"name\":\"p\",\"plan\":[-60,0],\"seen\":" +
                place(m({-60, 0})) +
                "},{\"kind\":\"line\",\"name\":\"l\",\"plan\":[[0,0],[50,0]],\"seen\":[" +
                place(m({-30, 0})) + "," + place(m({70, 0})) + "]}");
        const Ran r = ran({"fit", at("o.json"), "--at", "0,0", "--at", "100,-50", "--json"});
        QVERIFY2(r.status == 0, r.err);
        const QJsonObject j = r.json();
        VERIFY_NEAR(j["translation"][0].toDouble(), 2, 1e-6);
        VERIFY_NEAR(j["rotation_deg"].toDouble(), 1, 1e-6);
        QCOMPARE(j["covariance"].toArray().size(), 3);
        QCOMPARE(j["covariance"][2].toArray().size(), 3);
        QCOMPARE(j["residuals"].toArray().size(), 3);
        QVERIFY(j["suspect"].isNull());
        const double origin =
            std::sqrt(j["covariance"][0][0].toDouble() + j["covariance"][1][1].toDouble());
        VERIFY_NEAR(j["trust"][0]["sigma_mm"].toDouble(), origin, 1e-9);
        QVERIFY(j["trust"][1]["sigma_mm"].toDouble() > origin);
        QCOMPARE(j["trust"][1]["at"][1].toDouble(), -50.0);
    }

    void badObservationsAreRefusedByPlaceAndReason_data() {
        QTest::addColumn<QByteArray>("list");
        QTest::addColumn<int>("status");
        QTest::addColumn<QByteArray>("words");
        QTest::newRow("none") << QByteArray() << 4 << QByteArray("nothing was observed");
        QTest::newRow("kind") << QByteArray("{\"kind\":\"dot\"}") << 3
                              << QByteArray("observations[0].kind");
        QTest::newRow("sigma") << QByteArray("{\"kind\":\"point\",\"plan\":[0,0],\"seen\":[0,0],"
                                             "\"sigma_mm\":0}")
                               << 3 << QByteArray("sigma_mm");
        QTest::newRow("open") << QByteArray("{\"kind\":\"line\",\"plan\":[[0,0],[9,0]],\"seen\":"
                                            "[[0,1],[9,1]]}")
                              << 4 << QByteArray("along the line");
        QTest::newRow("line of one")
            << QByteArray("{\"kind\":\"line\",\"plan\":[[0,0]],\"seen\":[]}") << 3
            << QByteArray("observations[0].plan");
    }
    void badObservationsAreRefusedByPlaceAndReason() {
        QFETCH(QByteArray, list);
        QFETCH(int, status);
        QFETCH(QByteArray, words);
        writeObservations("bad.json", list);
        const Ran r = ran({"fit", at("bad.json"), "--json"});
        QCOMPARE(r.status, status);
        QVERIFY2(r.err.contains(words) && r.err.contains("bad.json"), r.err);
        QVERIFY(r.out.isEmpty());
    }

    void exportMovesWhatIsRegistered() {
        Job job = *readJobFile(at("plan.rapt").toStdString());
        QCOMPARE(ran({"export", at("plan.rapt"), "-o", at("planned")}).status, 0);
        const Affine motion = Pose{0.8, -0.5, 0.2, false, 1, 1}.affine();
        const auto found = [&](const Affine& m) {
            std::vector<Observation> seen;
            const Hooping& h = job.hoopings[0];
            for (const Mark& mark : h.marks)
                seen.push_back(
                    pointSeen(h, mark, m(h.pose.affine().inverse()(mark.at)), "typed", 0.3));
            return addObservations(1, seen).change(job);
        };
        QVERIFY(bool(writeJobFile(at("seen.rapt").toStdString(), found(motion))));
        const Ran r = ran({"export", at("seen.rapt"), "--corrected", "-o", at("out"), "--json"});
        if (r.status == 0) {
            const auto before = readStitchFile(at("planned/hooping-01.stitch.csv").toStdString());
            const auto after = readStitchFile(at("out/hooping-01.stitch.csv").toStdString());
            QCOMPARE(after->stitches.size(), before->stitches.size());
            for (std::size_t i = 0; i < before->stitches.size(); i += 91)
                QVERIFY(distance(after->stitches[i].at(), motion(before->stitches[i].at())) < 0.02);
        } else {
            // The banner's first field is nearly full: then the edge is named.
            QCOMPARE(r.status, 4);
            QVERIFY(r.err.contains("edge"));
        }
        // Far off: the edge, by how much, and the way back; and nothing is written.
        const Affine far = Pose{40, 0, 0, false, 1, 1}.affine();
        QVERIFY(bool(writeJobFile(at("far.rapt").toStdString(), found(far))));
        const Ran no = ran({"export", at("far.rapt"), "--corrected", "-o", at("none")});
        QCOMPARE(no.status, 4);
        QVERIFY2(no.err.contains("right edge") && no.err.contains("hoop again"), no.err);
        QVERIFY(!QDir(at("none")).exists());
        // As planned it still leaves.
        QCOMPARE(ran({"export", at("far.rapt"), "-o", at("none")}).status, 0);
        const Ran check = ran({"check", at("far.rapt"), "--json"});
        QCOMPARE(check.status, 1);
        QVERIFY(check.out.contains("register-field"));
    }
};

RAPT_TEST(TestRegisterCommand)
#include "test_register_command.moc"
