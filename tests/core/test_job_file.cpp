#include "support.h"

#include "formats/job_file.h"
#include "formats/zip_archive.h"
#include "job/edit.h"
#include "job/stitching.h"
#include "thread/measures.h"

#include <csignal>
#include <sys/wait.h>
#include <unistd.h>

using namespace rapt;

namespace {

const std::string kite = "# rapt-stitches 1\n# name,Kite\n# thread,1,#1f4e79,40,Deep tide\n"
                         "op,x_mm,y_mm,thread\njump,0,0,1\nstitch,0,0,1\nstitch,3,0,1\n"
                         "stitch,3,3,1\n";

/// JSON with its quotes written as single ones.
std::string q(std::string text) {
    std::replace(text.begin(), text.end(), '\'', '"');
    return text;
}

std::string archive(const std::map<std::string, std::string>& members) {
    ArchiveMembers all;
    for (const auto& [name, text] : members) all[name] = std::make_shared<const std::string>(text);
    return *packArchive(all);
}

std::string jobWith(const std::string& pieces, const std::string& more = {}) {
    return archive({{"job.json", q("{'rapt_job': 1, 'name': 'Banner', 'pieces': [") + pieces + "]" +
                                     more + "}"},
                    {"designs/kite.stitch.csv", kite}});
}

const std::string piece =
    q("{'id': 'p1', 'design': 'designs/kite.stitch.csv', 'pose': {'x': 5, 'rotation_deg': 90}}");

} // namespace

class TestJobFile : public QObject {
    Q_OBJECT
private slots:
    void absentKeysTakeDefaults() {
        const auto job = unpackJob(jobWith(piece), "a.rapt");
        QVERIFY2(bool(job), job ? "" : job.error().line().c_str());
        QCOMPARE(job->pieces[0].name, std::string("p1"));
        QCOMPARE(job->pieces[0].pose.scaleX, 1.0);
        QCOMPARE(job->pieces[0].keep, Keep::spacing);
        QCOMPARE(job->brief.quantity, 1);
        QCOMPARE(job->cloth.widthMm, 300.0);
    }

    void savingAndReadingChangesNothing() {
        QTemporaryDir dir;
        auto job = unpackJob(jobWith(piece), "a.rapt");
        job->pieces.push_back(
            test::shapePiece("fill", test::fillOf({test::rectangle(0, 0, 9.123456789, 5)}, 33)));
        job->pieces.back().pose = {1.0 / 3, -2.5, 12.3456789, true, 0.7, -1.2};
        Hooping hooping;
        hooping.hoop = "two-sided-360x200";
        hooping.clamping = 2;
        hooping.position = 2;
        hooping.frame = {3, 4, 90};
        hooping.pose = {3, 57, -90};
        hooping.pieces = {"p1", "fill"};
        hooping.parts = {{"p1", {1, 3}}};
        hooping.marks = {{"1A", {1, 2}}};
        hooping.witness = {{"2A", {5, 2}}};
        hooping.pinned = true;
        job->hoopings.push_back(hooping);
        job->cuts.push_back({"fill", 1, {{0, -4}, {1, 4}}});
        Registration seen;
        seen.scan = "scans/s.png";
        Observation card;
        card.kind = Observation::Kind::card;
        card.name = "1A";
        card.planned = {1, 2};
        card.seen = {1.1, 2.2};
        card.seenTurnDeg = -2.5;
        Observation line;
        line.kind = Observation::Kind::line;
        line.name = "line across";
        line.plannedLine = {Vec2{0, 0}, Vec2{100, 0}};
        line.seenLine = {{-40, 0.2}, {38, 0.4}};
        line.leftOut = true;
        seen.observations = {card, line};
        seen.model = MotionModel::stretch;
        seen.choice = CorrectionChoice::asPlanned;
        seen.plan = "field 1 2 3";
        seen.placed = {{101, {4, 5}, -1.5}};
        seen.done = {"hoop"};
        job->registrations.push_back(seen);
        job->brief.joinLimitMm = 0.4;
        job->members["scans/s.png"] = std::make_shared<const std::string>("picture");
        job->cloth.thickZones.push_back({{{1, 2}, 18}, 0.7, {}});
        const std::string path = dir.filePath("a.rapt").toStdString();
        QVERIFY(bool(writeJobFile(path, *job)));
        const auto back = readJobFile(path);
        QVERIFY2(bool(back), back ? "" : back.error().line().c_str());
        QVERIFY(back->pieces[1].pose == job->pieces[1].pose);
        QVERIFY(back->hoopings == job->hoopings);
        QVERIFY(back->registrations == job->registrations);
        QVERIFY(back->brief == job->brief);
        QVERIFY(back->cloth == job->cloth);
        QCOMPARE(*back->members.at("scans/s.png"), std::string("picture"));
        // Writing what was read gives the same bytes: nothing drifts.
        QCOMPARE(*packJob(*back), *packJob(*job));
        const auto a = stitchJob(*job), b = stitchJob(*back);
        QVERIFY(a->list.stitches == b->list.stitches);
    }

    void unknownKeysAndMembersAreKept() {
        const std::string odd = q("{'id': 'p1', 'design': 'designs/kite.stitch.csv', 'mood': [1, "
                                  "{'a': null}], 'pose': {'x': 1, 'wobble': 2}}");
        auto bytes = archive({{"job.json", q("{'rapt_job': 1, 'future': {'x': 1}, 'pieces': [") +
                                               odd + q("], 'brief': {'client': 'Library'}}")},
                              {"designs/kite.stitch.csv", kite},
                              {"notes/readme.txt", "hello"}});
        const auto job = unpackJob(bytes, "a");
        QVERIFY(bool(job));
        const auto members = unpackArchive(*packJob(*job), "b");
        const std::string json = *members->at("job.json");
        for (const char* kept : {"\"future\"", "\"mood\"", "\"wobble\"", "\"client\""})
            QVERIFY2(json.find(kept) != std::string::npos, kept);
        QCOMPARE(*members->at("notes/readme.txt"), std::string("hello"));
    }

    void letteringThatCannotBeSewnIsKeptWithItsReason_data() {
        QTest::addColumn<QString>("lettering");
        QTest::addColumn<QString>("reason");
        QTest::newRow("unknown face") << "{'text': 'SALTMARSH', 'face': 'runes', 'future': 7}"
                                      << "known are garamond";
        QTest::newRow("no text") << "{'text': '', 'face': 'lato', 'future': 7}"
                                 << "no text";
        QTest::newRow("absurd size") << "{'text': 'SALTMARSH', 'cap_height_mm': 9000, 'future': 7}"
                                     << "2 to 400 mm";
        QTest::newRow("not in the face") << "{'text': '\u6f22', 'face': 'lato', 'future': 7}"
                                         << "does not have";
    }
    void letteringThatCannotBeSewnIsKeptWithItsReason() {
        QFETCH(QString, lettering);
        QFETCH(QString, reason);
        const auto job = unpackJob(jobWith(q("{'id': 't', 'name': 'Title', 'lettering': " +
                                             lettering.toStdString() + "}")),
                                   "a");
        QVERIFY(bool(job));
        const auto stitched = stitchJob(*job);
        QVERIFY(!stitched);
        QCOMPARE(stitched.error().fault, Fault::cannotDo);
        QVERIFY2(QString::fromStdString(stitched.error().reason).contains(reason),
                 stitched.error().reason.c_str());
        const auto members = unpackArchive(*packJob(*job), "b");
        QVERIFY(members->at("job.json")->find("\"future\"") != std::string::npos);
    }

    void badJobsAreRefusedWithTheirPlace_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("place");
        const auto row = [](const char* name, const std::string& bytes, const char* place) {
            QTest::newRow(name) << QByteArray::fromStdString(bytes) << QString(place);
        };
        const auto json = [](const std::string& text) {
            return archive({{"job.json", text}, {"designs/kite.stitch.csv", kite}});
        };
        const std::string good = jobWith(piece);
        row("empty", "", "job.json");
        row("cut off", good.substr(0, good.size() / 2), "");
        row("no job.json", archive({{"a.txt", "x"}}), "job.json");
        row("not json", json("{"), "job.json");
        row("version", json(q("{'rapt_job': 2, 'pieces': []}")), "job.json: rapt_job");
        row("no version", json(q("{'pieces': []}")), "job.json: rapt_job");
        row("invalid utf-8", json("{\"rapt_job\": 1, \"name\": \"\xff\"}"), "job.json");
        row("nan", json(q("{'rapt_job': 1, 'cloth': {'width_mm': NaN}}")), "job.json");
        row("huge", json(q("{'rapt_job': 1, 'cloth': {'width_mm': 1e999}}")), "job.json");
        row("negative size", json(q("{'rapt_job': 1, 'cloth': {'width_mm': -5}}")),
            "job.json: cloth.width_mm");
        row("zero scale",
            jobWith(
                q("{'id': 'p', 'design': 'designs/kite.stitch.csv', 'pose': {'scale': [0, 1]}}")),
            "job.json: pieces[0].pose.scale");
        row("doubled id", jobWith(piece + "," + piece), "job.json: pieces[1].id");
        row("missing member", jobWith(q("{'id': 'p', 'design': 'designs/none.stitch.csv'}")),
            "job.json: pieces[0].design");
        row("member outside", jobWith(q("{'id': 'p', 'design': '../kite.stitch.csv'}")),
            "job.json: pieces[0].design");
        row("wrong type", jobWith(q("{'id': 5, 'design': 'designs/kite.stitch.csv'}")),
            "job.json: pieces[0].id");
        row("pieces no list", json(q("{'rapt_job': 1, 'pieces': {}}")), "job.json: pieces");
        row("nested deep", json("{\"rapt_job\": 1, \"x\": " + std::string(100000, '[') + "}"),
            "job.json");
        row("bad design",
            archive({{"job.json", q("{'rapt_job': 1, 'pieces': [") + piece + "]}"},
                     {"designs/kite.stitch.csv", kite + "stitch,NaN,0,1\n"}}),
            "designs/kite.stitch.csv: line 9");
        row("satin with one rail",
            jobWith(q("{'id': 's', 'shape': {'parts': [{'kind': 'satin', 'thread': {'color': "
                      "'#000000'}, 'lines': [[[0,0],[1,1]]]}]}}")),
            "job.json: pieces[0].shape.parts[0].lines");
        // Made by hand, since our writer refuses nothing but our reader must.
        std::string evil = archive({{"aa/job.jsonx", "x"}, {"job.json", "{}"}});
        for (std::size_t at = 0; (at = evil.find("aa/job.jsonx", at)) != std::string::npos;)
            evil.replace(at, 12, "../job.jsonx");
        row("name leads out", evil, "../job.jsonx");
    }
    void badJobsAreRefusedWithTheirPlace() {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, place);
        const auto job = unpackJob(bytes.toStdString(), "banner.rapt");
        QVERIFY(!job);
        QCOMPARE(job.error().fault, Fault::badInput);
        QCOMPARE(QString::fromStdString(job.error().file), "banner.rapt");
        QCOMPARE(QString::fromStdString(job.error().place), place);
        QVERIFY(!job.error().reason.empty());
    }

    void anAbsurdDeclaredSizeIsRefusedBeforeUnpacking() {
        std::string bytes = jobWith(piece);
        // The uncompressed size in the central directory of the first member: 4 bytes at +24.
        const std::size_t directory = bytes.find("PK\x01\x02");
        QVERIFY(directory != std::string::npos);
        for (int k = 0; k < 4; ++k) bytes[directory + 24 + static_cast<std::size_t>(k)] = '\x7f';
        const auto job = unpackJob(bytes, "a");
        QVERIFY(!job);
        QCOMPARE(job.error().fault, Fault::badInput);
    }

    void damagedArchivesNeverCrash() {
        const std::string good = jobWith(piece);
        test::Dice dice(11);
        for (int round = 0; round < 400; ++round) {
            std::string bytes = good;
            for (int k = 0; k < 3; ++k)
                bytes[static_cast<std::size_t>(dice.between(0, double(bytes.size()) - 1))] =
                    static_cast<char>(dice.between(0, 255));
            const auto job = unpackJob(bytes, "a");
            if (!job) QVERIFY(!job.error().line().empty());
        }
    }

    void aKillWhileSavingLeavesTheOldJobOrTheNew() {
        QTemporaryDir dir;
        const std::string path = dir.filePath("a.rapt").toStdString();
        Job small = *unpackJob(jobWith(piece), "a");
        small.name = "old";
        QVERIFY(bool(writeJobFile(path, small)));
        Job large = small;
        large.name = "new";
        StitchList many = test::listThrough({});
        for (int i = 0; i < 60'000; ++i)
            many.stitches.push_back(stitchAt(Op::stitch, {i % 100 * 1.0, i / 100 * 0.4}, 1));
        large.pieces.push_back(test::designPiece("many", many));
        for (int round = 0; round < 12; ++round) {
            const pid_t child = fork();
            if (child == 0) {
                while (true) (void)writeJobFile(path, large);
            }
            usleep(static_cast<useconds_t>(4000 + 9000 * round));
            kill(child, SIGKILL);
            waitpid(child, nullptr, 0);
            const auto job = readJobFile(path);
            QVERIFY2(bool(job), job ? "" : job.error().line().c_str());
            QVERIFY(job->name == "old" || job->name == "new");
        }
    }

    void threadsOfTheSameLookAreOneAcrossPieces() {
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {3, 0}})),
                      test::designPiece("b", test::listThrough({{0, 0}, {3, 0}}), 20, 5)};
        const auto stitched = stitchJob(job);
        QCOMPARE(stitched->list.threads.size(), std::size_t{1});
        const Measures m = measure(stitched->list);
        QCOMPARE(m.threadChanges, std::size_t{0});
        QCOMPARE(m.stitches, std::size_t{4});
        // The way from one piece to the next lays no thread.
        VERIFY_NEAR(m.lengthMm, 6, 1e-6);
    }

    void piecesAreStitchedWhereTheirPoseSays() {
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {4, 0}}))};
        job.pieces[0].pose = {10, 20, 90, true, 2, 1};
        const auto stitched = stitchJob(job);
        const Vec2 end = stitched->list.stitches.back().at();
        // Scaled to (8, 0), mirrored to (−8, 0), turned to (0, −8), moved.
        VERIFY_NEAR(end.x, 10, 1e-5);
        VERIFY_NEAR(end.y, 12, 1e-5);
    }

    void shapesAreRespacedAndKeptStitchesAreNot() {
        Job job;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(-20, -15, 40, 30)}))};
        job.pieces[0].pose.scaleX = job.pieces[0].pose.scaleY = 0.6;
        VERIFY_NEAR(*medianRowSpacing(stitchJob(job)->list), 0.4, 0.012);
        const Job kept = setKeep("a", Keep::stitches).change(job);
        VERIFY_NEAR(*medianRowSpacing(stitchJob(kept)->list), 0.24, 0.008);
    }

    void placesBeyondTheFrameAreRefused() {
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {4, 0}}), 9'999, 0)};
        const auto stitched = stitchJob(job);
        QVERIFY(!stitched);
        QCOMPARE(stitched.error().place, std::string("a"));
    }

    void aPieceThatWouldTakeMillionsOfStitchesIsRefused() {
        Job job;
        job.pieces = {test::shapePiece(
            "huge", test::fillOf({test::rectangle(-9000, -9000, 18000, 18000)}, 0, 0.1))};
        const auto stitched = stitchJob(job);
        QVERIFY(!stitched);
        QCOMPARE(stitched.error().fault, Fault::cannotDo);
        QVERIFY(stitched.error().reason.find("million") != std::string::npos);
        job.pieces = {test::shapePiece("wide", test::fillOf({test::rectangle(0, 0, 10, 1)}))};
        job.pieces[0].pose.scaleX = 9000;
        QVERIFY(!stitchJob(job));
    }

    void theCacheGivesWhatStitchingAfreshGives() {
        StitchCache cache;
        Job job;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 20, 20)})),
                      test::shapePiece("b", test::fillOf({test::rectangle(0, 0, 9, 9)}))};
        (void)stitchJob(job, &cache);
        Job edited = movePieces({"a"}, {5, 5}).change(job);
        edited.pieces[1].pose.scaleX = 1.5;
        QVERIFY(stitchJob(edited, &cache)->list == stitchJob(edited)->list);
    }

    void editsAreFromJobToJob() {
        Job job;
        job.pieces = {test::shapePiece("a", test::fillOf({test::rectangle(0, 0, 20, 20)})),
                      test::shapePiece("b", test::fillOf({test::rectangle(0, 0, 9, 9)}))};
        const Job turned = turnPieces({"a"}, 90, {10, 10}).change(job);
        QCOMPARE(job.pieces[0].pose.rotationDeg, 0.0);
        const Vec2 centre = turned.pieces[0].pose.affine()({10, 10});
        VERIFY_NEAR(distance(centre, {10, 10}), 0, 1e-12);
        QVERIFY(mirrorPieces({"a"}, {3, 0}).change(mirrorPieces({"a"}, {3, 0}).change(turned)) ==
                turned);
        QCOMPARE(reorderPiece("b", 0).change(job).pieces[0].id, std::string("b"));
        QCOMPARE(shiftPiece("b", -1).change(job).pieces[0].id, std::string("b"));
        QCOMPARE(shiftPiece("a", -5).change(job).pieces[0].id, std::string("a"));
        QCOMPARE(shiftPiece("a", 9).change(job).pieces[1].id, std::string("a"));
        const Job two = duplicatePieces({"a"}, {1, 1}).change(job);
        QCOMPARE(two.pieces[2].id, std::string("a 2"));
        QCOMPARE(deletePieces({"a", "b"}).change(two).pieces.size(), std::size_t{1});
        QVERIFY(movePieces({"none"}, {1, 1}).change(job) == job);
    }
};

RAPT_TEST(TestJobFile)
#include "test_job_file.moc"
