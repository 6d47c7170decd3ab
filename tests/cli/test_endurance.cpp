#include "support.h"

#include "formats/stitch_csv.h"
#include "formats/zip_archive.h"

#include <QDir>
#include <QProcess>

using namespace rapt;

/// Hostile input through the command, with memory and time bounded from outside.
class TestEndurance : public QObject {
    Q_OBJECT
    QTemporaryDir dir;
    QString at(const QString& name) { return dir.filePath(name); }

    struct Ran {
        int status;
        QByteArray err;
    };
    /// 1 GiB of address space beyond the libraries' own, and fifteen seconds of the processor: a
    /// loaded machine takes longer by the clock.
    Ran bounded(const QString& arguments) {
        QProcess process;
        process.start("bash",
                      {"-c", QString("ulimit -v 1800000; ulimit -t 15; timeout 150 %1 %2 > %3")
                                 .arg(RAPT_BIN, arguments, at("stdout"))});
        process.waitForFinished(160'000);
        return {process.exitCode(), process.readAllStandardError()};
    }

    /// Every file of a folder, hidden ones too.
    static QMap<QString, QByteArray> stickWith(const QString& stick) {
        QMap<QString, QByteArray> files;
        for (const QString& name : QDir(stick).entryList(QDir::Files | QDir::Hidden))
            files[name] = test::readFile(stick + "/" + name);
        return files;
    }

    static std::string archive(const std::map<std::string, std::string>& members) {
        ArchiveMembers all;
        for (const auto& [name, text] : members)
            all[name] = std::make_shared<const std::string>(text);
        return *packArchive(all);
    }

    static std::string quoted(std::string text) {
        std::replace(text.begin(), text.end(), '\'', '"');
        return text;
    }

private slots:
    void hostileInputIsAnsweredSoonAndSmall_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QList<int>>("statuses");
        const auto row = [](const char* name, const std::string& bytes, QList<int> statuses) {
            QTest::newRow(name) << QByteArray::fromStdString(bytes) << statuses;
        };
        const std::string head = "# rapt-stitches 1\nop,x_mm,y_mm,thread\n";
        const std::string job =
            quoted("{'rapt_job': 1, 'pieces': [{'id': 'a', 'design': 'd.csv'}]}");
        // Our own writer refuses so large a member.
        test::writeFile(at("big"), QByteArray(70'000'000, '\0'));
        test::writeFile(at("bomb.rapt"),
                        QByteArray::fromStdString(archive({{"job.json", job}, {"d.csv", head}})));
        QProcess::execute("zip", {"-qj", at("bomb.rapt"), at("big")});
        row("a bomb of zeros", test::readFile(at("bomb.rapt")).toStdString(), {3});
        std::string numbers = "{\"rapt_job\": 1, \"x\": [";
        for (int i = 0; i < 3'000'000; ++i) numbers += "0,";
        row("millions of numbers", archive({{"job.json", numbers + "0]}"}}), {0});
        row("brackets",
            archive({{"job.json", "{\"rapt_job\": 1, \"x\": " + std::string(3'000'000, '[')}}),
            {3});
        row("a line without end", head + "stitch," + std::string(5'000'000, '1') + ",0,1\n", {3});
        row("quotes without end", head + std::string(5'000'000, '"'), {3});
        row("zeros", std::string(20'000'000, '\0'), {3});
        std::string far = head;
        for (int i = 0; i < 100'000; ++i)
            far += (i % 2 ? "stitch,9999,-9999,1\n" : "stitch,-9999,9999,1\n");
        row("stitches across everything", far, {4});
        const auto shape = [&](const std::string& kind, const std::string& lines) {
            return archive(
                {{"job.json", quoted("{'rapt_job': 1, 'pieces': [{'id': 'a', 'shape': {'parts': "
                                     "[{'kind': '" +
                                     kind +
                                     "', 'thread': {'color': '#000000'}, 'spacing_mm': 0.1, "
                                     "'lines': " +
                                     lines + "}]}}]}")}});
        };
        row("an endless fill",
            shape("fill", "[[[-9999,-9999],[9999,-9999],[9999,9999],[-9999,9999]]]"), {4});
        row("an endless satin",
            shape("satin", "[[[-9999,-9999],[9999,-9999]],[[-9999,9999],[9999,9999]]]"), {4});
        row("a shape without area", shape("fill", "[[[1,1],[1,1],[1,1]]]"), {0});
        row("a satin without length", shape("satin", "[[[1,1],[1,1]],[[1,1],[1,1]]]"), {0});
        row("a run without length", shape("run", "[[[1,1],[1,1]]]"), {0});
    }
    void hostileInputIsAnsweredSoonAndSmall() {
        QFETCH(QByteArray, bytes);
        QFETCH(QList<int>, statuses);
        test::writeFile(at("input"), bytes);
        const Ran r = bounded("load " + at("input"));
        QVERIFY2(statuses.contains(r.status),
                 qPrintable(QString("status %1: %2").arg(r.status).arg(QString(r.err.left(300)))));
        if (r.status != 0) {
            QCOMPARE(r.err.count('\n'), 1);
            QVERIFY(test::readFile(at("stdout")).isEmpty());
        }
    }

    void aCombIsRefusedBeforeItIsWorkedOut() {
        QByteArray path = "M0,60 L0,0";
        constexpr int teeth = 30'000;
        for (int i = 0; i < teeth; ++i)
            path += " L" + QByteArray::number(100.0 * i / teeth) + ",50 L" +
                    QByteArray::number(100.0 * (i + 0.5) / teeth) + ",0";
        for (const char* fill : {"#123456", "#ffffff"}) {
            test::writeFile(at("comb.svg"),
                            "<svg width='100mm' height='60mm' viewBox='0 0 100 60'><path fill='" +
                                QByteArray(fill) + "' d='" + path + " L100,60 Z'/></svg>");
            const Ran r = bounded("import " + at("comb.svg") + " -o " + at("comb.rapt"));
            QVERIFY2(r.status == 3 && r.err.contains("edges"), r.err);
        }
    }

    void cutOffFilesAreRefusedAtEveryLength() {
        const QByteArray whole =
            test::readFile(QString(RAPT_SOURCE_DIR) + "/data/demo/windsock-border/job.json");
        const std::string packed = archive({{"job.json", whole.toStdString()}});
        for (const double part : {0.01, 0.3, 0.6, 0.9, 0.99}) {
            const auto size = static_cast<std::size_t>(part * double(packed.size()));
            test::writeFile(at("cut.rapt"), QByteArray::fromStdString(packed.substr(0, size)));
            QCOMPARE(bounded("check " + at("cut.rapt")).status, 3);
        }
        test::writeFile(at("whole.rapt"), QByteArray::fromStdString(packed));
        QCOMPARE(bounded("check " + at("whole.rapt")).status, 0);
    }

    void aFullDiskLeavesTheOldFile() {
        test::writeFile(at("old.stitch.csv"),
                        "# rapt-stitches 1\nop,x_mm,y_mm,thread\nstitch,0,0,1\nstitch,3,0,1\n");
        const QByteArray before = test::readFile(at("old.stitch.csv"));
        // A limit on file size stands in for a full disk: writing fails half way.
        QProcess process;
        process.start("bash",
                      {"-c", QString("trap '' XFSZ; ulimit -f 0; %1 resize %2 --scale 2 --keep "
                                     "stitches -o %2 2> /dev/null")
                                 .arg(RAPT_BIN, at("old.stitch.csv"))});
        process.waitForFinished();
        QCOMPARE(process.exitCode(), 3);
        QCOMPARE(test::readFile(at("old.stitch.csv")), before);
        QCOMPARE(QDir(dir.path()).entryList({".*"}, QDir::Files | QDir::Hidden), QStringList());
    }

    void aStickThatFillsUpKeepsTheEarlierVersion() {
        bounded("demo -o " + at("demo"));
        const QString job = at("demo/reading-room-banner.rapt"), stick = at("stick");
        QCOMPARE(bounded("divide " + job + " --hoop field-300x200 -o " + at("a.rapt")).status, 0);
        QCOMPARE(bounded("divide " + job + " --hoop field-240x240 -o " + at("b.rapt")).status, 0);
        QDir().mkdir(stick);
        QCOMPARE(bounded("handover " + at("a.rapt") + " --to " + stick).status, 0);
        const auto before = stickWith(stick);
        QCOMPARE(before.size(), 2);
        // Room for a first file and a part of the next.
        for (const int kilobytes : {0, 60, 200, 300}) {
            QProcess process;
            process.start("bash",
                          {"-c", QString("trap '' XFSZ; ulimit -f %1; %2 handover %3 --to %4")
                                     .arg(kilobytes)
                                     .arg(RAPT_BIN, at("b.rapt"), stick)});
            process.waitForFinished(60'000);
            QCOMPARE(process.exitCode(), 3);
            QVERIFY(process.readAllStandardError().contains("cannot be written"));
            QVERIFY(stickWith(stick) == before);
        }
        QCOMPARE(bounded("handover " + at("b.rapt") + " --to " + stick).status, 0);
        QVERIFY(stickWith(stick) != before);
        QDir(stick).removeRecursively();
    }

    void aHandOverThatIsKilledLeavesWholeFiles() {
        const QString stick = at("killed");
        QDir().mkdir(stick);
        test::writeFile(stick + "/holiday.jpg", "picture");
        test::Dice dice(3);
        bool interrupted = false;
        for (int round = 0; round < 40; ++round) {
            QProcess process;
            process.start(RAPT_BIN,
                          {"handover", at(round % 2 ? "a.rapt" : "b.rapt"), "--to", stick});
            process.waitForStarted();
            QTest::qWait(static_cast<int>(dice.between(0, 450)));
            interrupted |= process.state() == QProcess::Running;
            process.kill();
            process.waitForFinished();
            for (const QString& name : QDir(stick).entryList({"*.stitch.csv"}, QDir::Files)) {
                const auto read = readStitchFile((stick + "/" + name).toStdString());
                QVERIFY2(bool(read), qPrintable(name));
                QVERIFY(read->stitches.size() > 100);
            }
            QCOMPARE(test::readFile(stick + "/holiday.jpg"), QByteArray("picture"));
        }
        QVERIFY(interrupted);
        // A last one that is left alone puts everything right.
        QCOMPARE(bounded("handover " + at("a.rapt") + " --to " + stick).status, 0);
        QCOMPARE(QDir(stick).entryList({"0*.stitch.csv"}, QDir::Files).size(), 2);
    }

    void theSameQuestionGetsTheSameAnswer() {
        const QString job = at("demo/reading-room-banner.rapt");
        bounded("demo -o " + at("demo"));
        for (const QString& question :
             {QString("load %1 --json").arg(job), QString("check %1 --json").arg(job),
              QString("divide %1 --hoop field-240x150 --json -o %2").arg(job, at("p.rapt"))}) {
            bounded(question);
            const QByteArray first = test::readFile(at("stdout"));
            bounded(question);
            QVERIFY(first.size() > 50);
            QCOMPARE(test::readFile(at("stdout")), first);
        }
    }
};

RAPT_TEST(TestEndurance)
#include "test_endurance.moc"
