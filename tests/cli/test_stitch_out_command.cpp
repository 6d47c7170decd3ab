#include "support.h"

#include "cli/ran.h"

#include <QDir>

using namespace rapt;
using test::ran;
using test::Ran;

namespace {

struct Line {
    double seconds;
    int hooping;
    double x, y;
    QString color;
};

std::vector<Line> logOf(const QString& path) {
    std::vector<Line> lines;
    const QStringList rows =
        QString::fromUtf8(test::readFile(path)).split('\n', Qt::SkipEmptyParts);
    if (rows.value(0) != "seconds,hooping,x_mm,y_mm,color") return {};
    for (const QString& row : rows.mid(1)) {
        const QStringList f = row.split(',');
        lines.push_back({f[0].toDouble(), f[1].toInt(), f[2].toDouble(), f[3].toDouble(), f[4]});
    }
    return lines;
}

} // namespace

/// estimate, sew, handover and sheets as a person runs them.
class TestStitchOutCommand : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString banner, divided;

private slots:
    void initTestCase() {
        QCOMPARE(ran({"demo", "-o", dir.filePath("demo")}).status, 0);
        banner = dir.filePath("demo/reading-room-banner.rapt");
        divided = dir.filePath("divided.rapt");
        QCOMPARE(ran({"divide", banner, "-o", divided}).status, 0);
        QCOMPARE(ran({"export", divided, "-o", dir.filePath("lists")}).status, 0);
    }

    void theEstimateAddsUpAndAgreesWithTheMachine() {
        const QJsonObject e = ran({"estimate", divided, "--json"}).json();
        const QJsonObject s = e["seconds"].toObject();
        VERIFY_NEAR(s["total"].toDouble(),
                    s["sewing"].toDouble() + s["thread_changes"].toDouble() +
                        s["trims"].toDouble() + s["clampings"].toDouble() +
                        s["registrations"].toDouble(),
                    1e-6);
        const QJsonObject run =
            ran({"sew", divided, "-o", dir.filePath("log.csv"), "--json"}).json();
        VERIFY_NEAR(run["seconds"].toDouble(), s["total"].toDouble(), 0.03 * s["total"].toDouble());
        QCOMPARE(run["stitches"].toInt(), e["stitches"].toInt());
        const QJsonObject ten = ran({"estimate", divided, "--quantity", "10", "--json"}).json();
        VERIFY_NEAR(ten["bobbin_m"].toDouble(), 10 * e["bobbin_m"].toDouble(), 1e-6);
        const QJsonObject cost = e["cost"].toObject();
        double parts = 0;
        for (const QString& part : cost.keys())
            if (part != "total") parts += cost[part].toDouble();
        VERIFY_NEAR(parts, cost["total"].toDouble(), 1e-9);
        const double price = e["price"].toDouble();
        VERIFY_NEAR(e["margin"].toDouble(), (price - cost["total"].toDouble()) / price, 1e-9);
        // A job without a plan is divided first.
        QVERIFY(ran({"estimate", banner, "--json"}).json()["divided_now"].toBool());
        QCOMPARE(ran({"estimate", divided, "--machine", "loom"}).status, 4);
        QCOMPARE(ran({"estimate", dir.filePath("none.rapt")}).status, 3);
    }

    void whatIsSewnIsWhatIsExported() {
        QCOMPARE(ran({"sew", divided, "-o", dir.filePath("log.csv")}).status, 0);
        const auto log = logOf(dir.filePath("log.csv"));
        std::size_t k = 0;
        for (const QString& name : QDir(dir.filePath("lists")).entryList(QDir::Files, QDir::Name)) {
            const auto list = readStitchFile((dir.filePath("lists/") + name).toStdString());
            for (const Stitch& s : list->stitches) {
                if (s.op != Op::stitch) continue;
                QVERIFY(k < log.size());
                VERIFY_NEAR(log[k].x, s.at().x, 1e-4);
                VERIFY_NEAR(log[k].y, s.at().y, 1e-4);
                QCOMPARE(log[k].color,
                         QString::fromStdString(formatRgb(list->find(s.thread)->color)));
                ++k;
            }
        }
        QCOMPARE(k, log.size());
        const QJsonObject one =
            ran({"sew", divided, "--hooping", "2", "-o", dir.filePath("two.csv"), "--json"}).json();
        QCOMPARE(one["events"].toArray().size(), 0);
        for (const Line& l : logOf(dir.filePath("two.csv"))) QCOMPARE(l.hooping, 2);
        QCOMPARE(ran({"sew", divided, "--hooping", "9", "-o", dir.filePath("x.csv")}).status, 4);
        QVERIFY(!QFile::exists(dir.filePath("x.csv")));
    }

    void faultsAreResumedAndTheSameSeedIsTheSameRun() {
        const auto sewn = [&](const char* seed, const char* file) {
            return ran({"sew", divided, "--faults", "many", "--seed", seed, "-o",
                        dir.filePath(file), "--json"})
                .json();
        };
        const QJsonObject a = sewn("5", "a.csv"), b = sewn("5", "b.csv"), c = sewn("6", "c.csv");
        QCOMPARE(test::readFile(dir.filePath("a.csv")), test::readFile(dir.filePath("b.csv")));
        QVERIFY(a["events"] == b["events"] && a["events"] != c["events"]);
        int again = 0;
        for (const QJsonValue& r : a["resumed"].toArray()) {
            QVERIFY(r["overlap"].toInt() <= 3);
            again += r["overlap"].toInt();
        }
        QVERIFY(a["resumed"].toArray().size() > 5);
        QCOMPARE(static_cast<int>(logOf(dir.filePath("a.csv")).size()),
                 static_cast<int>(logOf(dir.filePath("log.csv")).size()) + again);
        QCOMPARE(
            ran({"sew", divided, "--faults", "some of them", "-o", dir.filePath("x.csv")}).status,
            2);
    }

    void aHandOverIsRefusedBeforeAnythingIsWritten() {
        QDir(dir.path()).mkdir("stick");
        const QString stick = dir.filePath("stick");
        const Ran given =
            ran({"handover", divided, "--machine", "one-needle", "--to", stick, "--json"});
        QCOMPARE(given.status, 0);
        const QJsonArray files = given.json()["files"].toArray();
        QCOMPARE(files.size(), 2);
        for (const QJsonValue& f : files) {
            const QString name = f["file"].toString();
            QVERIFY(name.section('.', 0, 0).size() <= 8 && name.startsWith("0"));
            QCOMPARE(QFileInfo(stick + "/" + name).size(), f["bytes"].toInteger());
            const auto back = readStitchFile((stick + "/" + name).toStdString());
            const auto list = readStitchFile(
                dir.filePath(QString("lists/hooping-0%1.stitch.csv").arg(f["hooping"].toInt()))
                    .toStdString());
            QVERIFY(back->stitches == list->stitches);
        }
        QVERIFY(given.json()["needles"].toArray().size() >= 7);
        const QStringList before = QDir(stick).entryList(QDir::Files);
        const Ran nowhere = ran({"handover", divided, "--to", dir.filePath("no/such/stick")});
        QCOMPARE(nowhere.status, 3);
        QVERIFY(nowhere.err.contains("stick"));
        // A stick that may not be written to, where that holds for this user.
        QFile::setPermissions(stick, QFile::ReadOwner | QFile::ExeOwner);
        if (!QFile(stick + "/probe").open(QIODevice::WriteOnly)) {
            QCOMPARE(ran({"handover", divided, "--machine", "six-needle", "--to", stick}).status,
                     3);
        }
        QFile::setPermissions(stick, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
        QFile::remove(stick + "/probe");
        QCOMPARE(QDir(stick).entryList(QDir::Files), before);
        // Another machine's names take the place of the earlier version's.
        const Ran again =
            ran({"handover", divided, "--machine", "six-needle", "--to", stick, "--json"});
        QCOMPARE(again.json()["removed"].toArray().size(), 2);
        QCOMPARE(QDir(stick).entryList(QDir::Files).size(), 2);
    }

    void sheetsAreWrittenAsAsked() {
        const QString pdf = dir.filePath("s.pdf");
        QCOMPARE(ran({"sheets", divided, "-o", pdf, "--json"}).json()["pages"].toInt(), 4);
        QVERIFY(test::readFile(pdf).startsWith("%PDF"));
        QCOMPARE(
            ran({"sheets", divided, "-o", pdf, "--only", "hoopings", "--paper", "letter", "--json"})
                .json()["pages"]
                .toInt(),
            2);
        QCOMPARE(ran({"sheets", divided, "-o", pdf, "--only", "banners"}).status, 2);
        QCOMPARE(ran({"sheets", divided, "-o", dir.filePath("no/such/s.pdf")}).status, 3);
        QCOMPARE(
            ran({"template", divided, "-o", pdf, "--outline", "--grid", "20", "--cut", "8"}).status,
            0);
    }
};

RAPT_TEST(TestStitchOutCommand)
#include "test_stitch_out_command.moc"
