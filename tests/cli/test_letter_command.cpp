// rapt faces and rapt letter, as they are called.

#include "support.h"

#include "base/paths.h"
#include "formats/stitch_csv.h"

#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>

using namespace rapt;
using test::near;

namespace {

struct Ran {
    int status = -1;
    QByteArray out, err;
    QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
};

} // namespace

class TestLetterCommand : public QObject {
    Q_OBJECT

    QTemporaryDir dir;
    QString at(const QString& name) const { return dir.filePath(name); }
    Ran run(QStringList arguments) const {
        QProcess process;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert("XDG_DATA_HOME", at("home"));
        process.setProcessEnvironment(environment);
        process.start(RAPT_BIN, arguments);
        process.waitForFinished(60'000);
        return {process.exitCode(), process.readAllStandardOutput(),
                process.readAllStandardError()};
    }
    Ran letter(const QString& text, const QString& face, const QString& cap,
               const QStringList& more = {}) const {
        return run(QStringList{"letter", text, "--face", face, "--cap", cap, "-o",
                               at("out.stitch.csv"), "--json"} +
                   more);
    }

private slots:
    void facesAreListed() {
        const Ran r = run({"faces", "--json"});
        QCOMPARE(r.status, 0);
        QStringList ids, joined;
        for (const auto& f : r.json()["faces"].toArray()) {
            ids << f.toObject()["id"].toString();
            QVERIFY(QFile::exists(f.toObject()["file"].toString()));
            QVERIFY(!f.toObject()["name"].toString().isEmpty());
            if (f.toObject()["joined"].toBool()) joined << ids.last();
        }
        QCOMPARE(ids, (QStringList{"garamond", "lato", "lato-bold", "dancing-script"}));
        QCOMPARE(joined, QStringList{"dancing-script"});
    }

    void facesOfOnesOwnAreListedAndUsed() {
        QDir().mkpath(at("home/rapt-thimble/faces"));
        const QString own = at("home/rapt-thimble/faces/Harbour.ttf");
        QVERIFY(QFile::copy(QString::fromStdString(dataFolder()) + "/faces/Lato-Regular.ttf", own));
        QFile broken(at("home/rapt-thimble/faces/broken.ttf"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("not a font");
        broken.close();
        const QJsonObject shelf = run({"faces", "--json"}).json();
        QCOMPARE(shelf["faces"].toArray().size(), 5);
        QCOMPARE(shelf["refused"].toArray().size(), 1);
        const Ran r = letter("Harbour", "harbour", "20");
        QCOMPARE(r.status, 0);
        QCOMPARE(r.json()["font_file"].toString(), own);
        // A font file itself can be named, and a damaged one is refused.
        QCOMPARE(letter("Harbour", own, "20").status, 0);
        const Ran bad = letter("Harbour", broken.fileName(), "20");
        QCOMPARE(bad.status, 3);
        QVERIFY(bad.err.contains("broken.ttf"));
        QFile::remove(broken.fileName());
        QFile::remove(own);
    }

    void wordsBecomeAStitchList() {
        const Ran r = letter("SALTMARSH", "garamond", "30", {"--tracking", "0.5"});
        QCOMPARE(r.status, 0);
        const QJsonObject j = r.json();
        for (const char* key : {"stitches", "width_mm", "height_mm", "cap_height_mm", "satin_share",
                                "font_file", "letters", "gaps"})
            QVERIFY2(j.contains(key), key);
        QCOMPARE(j["letters"].toArray().size(), 9);
        QCOMPARE(j["letters"].toArray()[0].toObject()["char"].toString(), QString("S"));
        QCOMPARE(j["cap_height_mm"].toDouble(), 30.0);
        QVERIFY(j["satin_share"].toDouble() > 0.985);
        const auto list = readStitchFile(at("out.stitch.csv").toStdString());
        QVERIFY(bool(list));
        int penetrations = 0, trims = 0;
        for (const Stitch& s : list->stitches) {
            penetrations += s.op == Op::stitch;
            trims += s.op == Op::trim;
        }
        QCOMPARE(penetrations, j["stitches"].toInt());
        QCOMPARE(trims, 8); // between letters, never inside one
    }

    void arcsAreSetOutsideAndInside() {
        for (const char* side : {"outside", "inside"}) {
            const QJsonArray letters =
                letter("KITE", "lato", "15", {"--arc-radius", "80", "--side", side})
                    .json()["letters"]
                    .toArray();
            for (const auto& l : letters)
                QVERIFY(near(std::hypot(l.toObject()["x"].toDouble(), l.toObject()["y"].toDouble()),
                             80, 1e-6));
            const bool outside = QByteArray(side) == "outside";
            // Read from left to right, tops away from the centre or towards it.
            QVERIFY(letters[0].toObject()["x"].toDouble() < letters[3].toObject()["x"].toDouble());
            QVERIFY((letters[1].toObject()["y"].toDouble() < 0) == outside);
            QVERIFY((letters[0].toObject()["rotation_deg"].toDouble() < 0) == outside);
        }
    }

    void fabricAndColumnsCanBeAskedFor() {
        const double plain = letter("H", "lato", "20").json()["width_mm"].toDouble();
        const double pulled =
            letter("H", "lato", "20", {"--fabric", "fleece"}).json()["width_mm"].toDouble();
        QVERIFY(pulled > plain + 0.3);
        // The cloth's own least letter height counts, and is said.
        QCOMPARE(letter("H", "lato-bold", "20", {"--fabric", "fleece"})
                     .json()["least_good_cap_mm"]
                     .toDouble(),
                 9.0);
        QVERIFY(run({"letter", "H", "--face", "lato-bold", "--cap", "8", "--fabric", "fleece", "-o",
                     at("h.csv")})
                    .out.contains("least good height"));
        QCOMPARE(letter("H", "lato", "20", {"--columns", at("h.svg")}).status, 0);
        QFile svg(at("h.svg"));
        QVERIFY(svg.open(QIODevice::ReadOnly));
        QCOMPARE(svg.readAll().count("stroke-width"), 3);
    }

    void whatCannotBeLetteredIsRefused_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<int>("status");
        QTest::addColumn<QString>("words");
        const auto row = [](const char* name, const char* text, const char* face, const char* cap,
                            int status, const char* said, const QStringList& more = {}) {
            QTest::newRow(name) << (QStringList{text, face, cap} + more) << status << QString(said);
        };
        row("unknown face", "A", "runes", "20", 4, "garamond");
        row("empty text", "", "lato", "20", 4, "no text");
        row("not in the face", "漢", "lato", "20", 4, "does not have");
        row("absurd size", "A", "lato", "100000", 4, "2 to 400");
        row("no size", "A", "lato", "0", 4, "2 to 400");
        row("not a number", "A", "lato", "twenty", 2, "");
        row("too small a circle", "KITE LIBRARY", "lato", "20", 4, "would fit",
            {"--arc-radius", "12"});
        row("unknown side", "A", "lato", "20", 2, "", {"--arc-radius", "80", "--side", "above"});
        row("unknown fabric", "A", "lato", "20", 4, "canvas", {"--fabric", "chainmail"});
        row("no such file", "A", "/nowhere/a.ttf", "20", 3, "/nowhere/a.ttf");
    }
    void whatCannotBeLetteredIsRefused() {
        QFETCH(QStringList, arguments);
        QFETCH(int, status);
        QFETCH(QString, words);
        QFile::remove(at("out.stitch.csv"));
        const Ran r = letter(arguments[0], arguments[1], arguments[2], arguments.mid(3));
        QCOMPARE(r.status, status);
        QVERIFY2(QString::fromUtf8(r.err).contains(words), r.err.constData());
        QVERIFY(r.out.isEmpty());
        QVERIFY(!QFile::exists(at("out.stitch.csv")));
    }
};

RAPT_TEST(TestLetterCommand)
#include "test_letter_command.moc"
