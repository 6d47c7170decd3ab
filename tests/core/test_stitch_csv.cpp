#include "support.h"

#include "base/file_io.h"
#include "thread/measures.h"

#include <filesystem>

using namespace rapt;

namespace {

const std::string head = "# rapt-stitches 1\n# name,Delta kite\n# thread,1,#1f4e79,40,Deep tide\n"
                         "# thread,2,#e3a72f,40,Marigold\nop,x_mm,y_mm,thread\n";

} // namespace

class TestStitchCsv : public QObject {
    Q_OBJECT
private slots:
    void theContractsExampleIsRead() {
        const auto list =
            parseStitchCsv(head + "jump,-12.40,3.10,1\nstitch,-12.40,3.10,1\nstitch,-10.05,3.50,1\n"
                                  "trim,-10.05,3.50,1\nstop,0,0,2\n",
                           "a");
        QVERIFY(bool(list));
        QCOMPARE(list->name, std::string("Delta kite"));
        QCOMPARE(list->threads.size(), std::size_t{2});
        QCOMPARE(list->threads[1].name, std::string("Marigold"));
        QCOMPARE(list->stitches.size(), std::size_t{5});
        QCOMPARE(list->stitches[2].at().x, -10.05);
        QCOMPARE(list->stitches[4].op, Op::stop);
    }

    void readersAreTolerantWhereTheContractSaysSo() {
        const std::string unix = head + "stitch,1,2,1\n\nstitch,3,4,1\n";
        std::string dos;
        for (char c : unix) dos += c == '\n' ? std::string("\r\n") : std::string(1, c);
        const auto a = parseStitchCsv(unix, "a");
        const auto b = parseStitchCsv(dos, "b");
        const auto c = parseStitchCsv(unix.substr(0, unix.size() - 1), "c");
        const auto d = parseStitchCsv(head + "\"stitch\",\"1\",\"2\",\"1\"\nstitch,3,4,1", "d");
        const auto e = parseStitchCsv("\xEF\xBB\xBF" + unix, "e");
        QVERIFY(a && b && c && d && e);
        QVERIFY(*a == *b && *a == *c && *a == *d && *a == *e);
    }

    void aTenThousandthIsKept() {
        const auto list = parseStitchCsv(head + "stitch,9999.9999,-0.0001,1\n", "a");
        QVERIFY(bool(list));
        VERIFY_NEAR(list->stitches[0].at().x, 9999.9999, 1e-9);
        VERIFY_NEAR(list->stitches[0].at().y, -0.0001, 1e-9);
    }

    void writingAndReadingChangesNothing() {
        test::Dice dice(7);
        StitchList list = test::listThrough({});
        list.name = "Kite, with \"quotes\"";
        list.threads.push_back({7, {1, 2, 3}, 60, "Fine, pale"});
        list.remarks = {"# drawn by hand"};
        for (int i = 0; i < 2000; ++i)
            list.stitches.push_back(
                stitchAt(Op::stitch, {dice.between(-9999, 9999), dice.between(-5, 5)}, 1));
        const auto back = parseStitchCsv(formatStitchCsv(list), "a");
        QVERIFY(bool(back));
        QVERIFY(*back == list);
    }

    void aMissingJumpIsWrittenWithoutChangingAnyMeasure() {
        const auto list = parseStitchCsv(
            head + "stitch,0,0,1\nstitch,3,0,1\ntrim,3,0,1\nstitch,9,0,1\nstitch,9,4,2\n", "a");
        const auto back = parseStitchCsv(formatStitchCsv(*list), "b");
        QVERIFY(list && back);
        QCOMPARE(measure(*back).jumps, std::size_t{2});
        QCOMPARE(measure(*back).lengthMm, measure(*list).lengthMm);
        QCOMPARE(measure(*back).threadChanges, measure(*list).threadChanges);
    }

    void withoutThreadLinesThreadsTakeDefaults() {
        const auto list =
            parseStitchCsv("# rapt-stitches 1\nop,x_mm,y_mm,thread\nstitch,0,0,3\n", "a");
        QVERIFY(bool(list));
        QCOMPARE(list->threads.size(), std::size_t{1});
        QCOMPARE(list->threads[0].index, std::uint8_t{3});
        QCOMPARE(list->threads[0].weight, 40.0);
    }

    void whatIsMalformedIsRefusedWithItsLine_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("place");
        const auto row = [](const char* name, const std::string& text, const char* place) {
            QTest::newRow(name) << QByteArray::fromStdString(text) << QString(place);
        };
        row("empty", "", "line 1");
        row("no version", "op,x_mm,y_mm,thread\nstitch,0,0,1\n", "line 1");
        row("version 2", "# rapt-stitches 2\nop,x_mm,y_mm,thread\n", "line 1");
        row("cut off", "# rapt-stitches 1\n# name,A\n", "line 2");
        row("other columns", "# rapt-stitches 1\nx,y\n", "line 2");
        row("not a number", head + "stitch,a,0,1\n", "line 6");
        row("nan", head + "stitch,NaN,0,1\n", "line 6");
        row("infinite", head + "stitch,0,inf,1\n", "line 6");
        row("exponent", head + "stitch,1e3,0,1\n", "line 6");
        row("comma as point", head + "stitch,\"1,5\",0,1\n", "line 6");
        row("too far", head + "stitch,10000.01,0,1\n", "line 6");
        row("very far", head + "stitch,99999999999999999999,0,1\n", "line 6");
        row("missing field", head + "stitch,0,0\n", "line 6");
        row("extra field", head + "stitch,0,0,1,9\n", "line 6");
        row("empty field", head + "stitch,,0,1\n", "line 6");
        row("unknown op", head + "stitch,0,0,1\nsew,0,0,1\n", "line 7");
        row("undeclared thread", head + "stitch,0,0,3\n", "line 6");
        row("thread 0", head + "stitch,0,0,0\n", "line 6");
        row("thread 256", head + "stitch,0,0,256\n", "line 6");
        row("thread 1.0", head + "stitch,0,0,1.0\n", "line 6");
        row("open quote", head + "\"stitch,0,0,1\n", "line 6");
        row("late comment", head + "stitch,0,0,1\n# name,B\n", "line 7");
        row("doubled thread",
            "# rapt-stitches 1\n# thread,1,#000000,40,a\n# thread,1,#000000,40,b\n", "line 3");
        row("bad colour", "# rapt-stitches 1\n# thread,1,#00000g,40,a\n", "line 2");
        row("bad weight", "# rapt-stitches 1\n# thread,1,#000000,-40,a\n", "line 2");
        row("nan weight", "# rapt-stitches 1\n# thread,1,#000000,nan,a\n", "line 2");
        row("unquoted comma", "# rapt-stitches 1\n# name,a,b\n", "line 2");
        row("invalid utf-8 name", "# rapt-stitches 1\n# name,a\xff\n", "line 2");
        row("invalid utf-8 record", head + "stitch,0,0,\xc3\x28\n", "line 6");
        row("nul byte", head + std::string("stitch,0,0,1\0\n", 14), "line 6");
        row("binary", std::string("\x89PNG\r\n\x1a\n", 8), "line 1");
    }
    void whatIsMalformedIsRefusedWithItsLine() {
        QFETCH(QByteArray, text);
        QFETCH(QString, place);
        const auto list = parseStitchCsv(text.toStdString(), "kite.stitch.csv");
        QVERIFY(!list);
        QCOMPARE(QString::fromStdString(list.error().file), "kite.stitch.csv");
        QCOMPARE(QString::fromStdString(list.error().place), place);
        QVERIFY(list.error().reason.size() > 8);
        QCOMPARE(list.error().fault, Fault::badInput);
    }

    void aFolderAndAMissingFileAreRefused() {
        QTemporaryDir dir;
        QVERIFY(!readStitchFile(dir.path().toStdString()));
        QVERIFY(!readStitchFile(dir.filePath("none").toStdString()));
    }

    void filesAppearWholeAndLeaveNothingBehind() {
        QTemporaryDir dir;
        const QString path = dir.filePath("out.csv");
        QVERIFY(bool(writeWholeFile(path.toStdString(), "one")));
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        QVERIFY(bool(writeWholeFile(path.toStdString(), "two")));
        QCOMPARE(test::readFile(path), QByteArray("two"));
        QCOMPARE(QDir(dir.path()).entryList(QDir::Files | QDir::Hidden), QStringList{"out.csv"});
        const auto mode = std::filesystem::status(path.toStdString()).permissions();
        QCOMPARE(static_cast<unsigned>(mode), 0600u);
        QVERIFY(!writeWholeFile(dir.path().toStdString(), "x"));
        QVERIFY(!writeWholeFile(dir.filePath("no/such/folder").toStdString(), "x"));
    }

    void aLinkIsFollowedWhenWriting() {
        QTemporaryDir dir;
        test::writeFile(dir.filePath("real"), "old");
        QVERIFY(QFile::link(dir.filePath("real"), dir.filePath("link")));
        QVERIFY(bool(writeWholeFile(dir.filePath("link").toStdString(), "new")));
        QCOMPARE(test::readFile(dir.filePath("real")), QByteArray("new"));
        QVERIFY(QFileInfo(dir.filePath("link")).isSymLink());
    }

    void aFailedSetOfFilesLeavesTheEarlierSet() {
        QTemporaryDir dir;
        const std::string folder = dir.filePath("set").toStdString();
        QVERIFY(bool(writeFilesTogether(folder, {{"a", "1"}, {"b", "1"}})));
        QDir(dir.filePath("set")).mkdir("c");
        QVERIFY(!writeFilesTogether(folder, {{"a", "2"}, {"c", "2"}}));
        QCOMPARE(test::readFile(dir.filePath("set/a")), QByteArray("1"));
        QCOMPARE(QDir(dir.filePath("set")).entryList(QDir::Files | QDir::Hidden),
                 (QStringList{"a", "b"}));
    }

    void utf8IsJudgedByTheStandard() {
        QVERIFY(isPlainUtf8("Kite ✓ 凧 🪁"));
        for (const char* bad :
             {"\xff", "\xc3", "\xe2\x82", "\xc0\x80", "\xed\xa0\x80", "\xf4\x90\x80\x80", "\x80"})
            QVERIFY(!isPlainUtf8(bad));
        QVERIFY(!isPlainUtf8(std::string("a\0b", 3)));
    }
};

RAPT_TEST(TestStitchCsv)
#include "test_stitch_csv.moc"
