// Lettering in jobs: files, edits, findings; necklines, monograms and lists of names.

#include "support.h"

#include "base/paths.h"
#include "check/check.h"
#include "formats/job_file.h"
#include "job/edit_copies.h"
#include "job/edit_lettering.h"
#include "job/edit_threads.h"
#include "job/expansion.h"
#include "letter/monogram.h"
#include "letter/name_list.h"
#include "letter/neckline.h"
#include "letter/stitching.h"
#include "sheets/template_pdf.h"
#include "thread/measures.h"

#include <numbers>

using namespace rapt;
using test::near;
using test::words;

namespace {

Job jobOf(const Lettering& l, Pose pose = {}) {
    Job job;
    job.pieces.push_back(letteringPiece(l, pose));
    return job;
}

Box extents(const Job& job) {
    const auto stitched = stitchJob(job);
    if (!stitched) qFatal("%s", stitched.error().line().c_str());
    return extentsOf(stitched->list);
}

} // namespace

class TestLetteringJob : public QObject {
    Q_OBJECT
private slots:
    void aJobKeepsEverythingOfItsLettering() {
        Lettering l = words("Two\nlines", "garamond", 17.5);
        l.trackingMm = 0.4;
        l.wordGapMm = 2;
        l.lineGapMm = 25;
        l.alignment = Alignment::right;
        l.line = {LineKind::arc, 160, ArcSide::inside, 12, true, true, {}, {}};
        l.thread = {1, {1, 2, 3}, 60, "Fine"};
        l.pitchMm = 0.45;
        l.pullMm = 0.3;
        l.underlay = false;
        LetterChange& c = l.changeOf(2);
        c.dxMm = 1;
        c.dyMm = -2;
        c.turnDeg = 5;
        c.scale = 1.2;
        c.thread = Thread{1, {9, 9, 9}, 40, "Night"};
        c.columns = {{1, 20, false}, {2, 0, true}};
        l.letters.back() = c;
        const auto back = unpackJob(*packJob(jobOf(l)), "a");
        QVERIFY(bool(back));
        Lettering read = *letteringOf(*back, "words");
        // Threads outside a list have no index of their own.
        QVERIFY(read.thread.sameThread(l.thread));
        read.thread = l.thread;
        read.letters[0].thread = l.letters[0].thread;
        QVERIFY(read == l);
        Lettering path = words("on a path");
        path.line.kind = LineKind::path;
        path.line.path = {{0, 0}, {50, 20}, {160, 0}};
        QVERIFY(letteringOf(*unpackJob(*packJob(jobOf(path)), "a"), "words")->line.path ==
                path.line.path);
    }

    void aPieceStitchesAsTheWordsAlone() {
        Lettering l = words("SALTMARSH", "garamond", 30);
        l.line.kind = LineKind::arc;
        l.line.radiusMm = 160;
        l.trackingMm = 0.5;
        const auto alone = stitchLettering(l);
        const auto job = stitchJob(jobOf(l));
        QCOMPARE(measure(job->list).stitches, measure(alone->list).stitches);
        const Box a = extentsOf(alone->list), b = extentsOf(job->list);
        QVERIFY(near(a.minX, b.minX, 1e-4) && near(a.maxY, b.maxY, 1e-4));
    }

    void aResizedPieceIsLetteredAfreshAtItsNewSize() {
        Pose twice;
        twice.scaleX = twice.scaleY = 2;
        const Box one = extents(jobOf(words("Kite"))), two = extents(jobOf(words("Kite"), twice));
        QVERIFY(near(two.width(), 2 * one.width(), 0.3));
        const auto row = [](const Job& job) { return measure(stitchJob(job)->list).stitches; };
        // Twice as long columns have twice as many rows, not the same ones apart.
        QVERIFY(row(jobOf(words("Kite"), twice)) > 1.7 * row(jobOf(words("Kite"))));
        Pose wide;
        wide.scaleX = 1.5;
        const Box stretched = extents(jobOf(words("Kite"), wide));
        QVERIFY(near(stretched.width() / one.width(), 1.5, 0.03));
        QVERIFY(near(stretched.height() / one.height(), 1, 0.03));
        Pose mirrored;
        mirrored.mirror = true;
        QVERIFY(near(extents(jobOf(words("Kite"), mirrored)).maxX, -one.minX, 1e-3));
    }

    void editsChangeWordsAndLeaveLockedOnesAlone() {
        Job job = jobOf(words("Kite"));
        job = changeLettering("words", "Type", [](Lettering& l) { l.text = "Kites"; }).change(job);
        QCOMPARE(letteringOf(job, "words")->text, std::string("Kites"));
        QCOMPARE(job.pieces[0].name, std::string("Kites"));
        job.pieces[0].name = "Title";
        job = changeLettering("words", "Type", [](Lettering& l) { l.text = "Terns"; }).change(job);
        QCOMPARE(job.pieces[0].name, std::string("Title"));
        job.pieces[0].locked = true;
        QVERIFY(changeLettering("words", "Type", [](Lettering& l) { l.text = "X"; }).change(job) ==
                job);
        job.pieces[0].locked = false;
        const Thread ember{1, {200, 40, 30}, 40, "Ember"};
        job = recolour({}, letteringOf(job, "words")->thread, ember).change(job);
        QCOMPARE(threadsOf(job).size(), 1u);
        QVERIFY(threadsOf(job)[0].sameThread(ember));
    }

    void smallLettersAndOpenJoinsAreFindings() {
        const Library lib = *loadLibrary(dataFolder(), {});
        Job job = jobOf(words("Handgloves", "garamond", 5));
        auto checked = checkJob(job, lib);
        const auto find = [&](const char* kind) -> const Finding* {
            for (const Finding& f : checked->findings)
                if (f.kind == kind) return &f;
            return nullptr;
        };
        const Finding* small = find("letters-small");
        QVERIFY(small && small->severity == Severity::caution && small->remedy());
        QVERIFY(*small->value < *small->limit);
        job = small->remedy()->edit.change(job);
        checked = checkJob(job, lib);
        QVERIFY(!find("letters-small"));
        Lettering apart = words("nn", "dancing-script", 25);
        apart.trackingMm = 3;
        checked = checkJob(jobOf(apart), lib);
        QVERIFY(find("letters-join"));
        QVERIFY(find("letters-join")->at);
    }

    void whatWasLetteredIsListed() {
        Pose half;
        half.scaleX = half.scaleY = 0.5;
        const auto records = letteringRecords(jobOf(words("Kestrel", "garamond", 24), half));
        QCOMPARE(records.size(), 1u);
        QCOMPARE(records[0].text, std::string("Kestrel"));
        QCOMPARE(records[0].face, std::string("garamond"));
        QCOMPARE(records[0].capHeightMm, 12.0);
    }

    // Necklines.

    void theRadiusOfANeckIsThatOfItsCircle() {
        QCOMPARE(*neckRadius(180, 90), 90.0);
        QVERIFY(near(*neckRadius(200, 60), (100.0 * 100 + 60 * 60) / 120, 1e-12));
        QVERIFY(!neckRadius(0, 10) && !neckRadius(100, -1));
        // Three points on the same neck give the same circle.
        const auto circle = circleThrough({-100, 0}, {0, 60}, {100, 0});
        QVERIFY(near(circle->radius, *neckRadius(200, 60), 1e-9));
        QVERIFY(!circleThrough({0, 0}, {1, 1}, {2, 2}));
        // A traced curve, with a trembling hand, too.
        Polyline traced;
        for (int i = 0; i <= 40; ++i) {
            const double t = (i - 20) * 0.05, r = 90 + (i % 2 ? 0.4 : -0.4);
            traced.push_back({r * std::sin(t), r * std::cos(t)});
        }
        const auto fitted = circleAlong(traced);
        QVERIFY(near(fitted->circle.radius, 90, 0.5) && fitted->rmsMm < 0.5);
        QVERIFY(!circleAlong({{0, 0}, {10, 0}, {20, 0}}));
        QVERIFY(near(neckHalfAngle(180, 90), 90, 1e-9));
        QVERIFY(neckHalfAngle(200, 60) < 90);
    }

    void wordsArePlacedRoundTheNeckByAngleAndByLength() {
        NeckWords neck;
        neck.radiusMm = 90;
        neck.halfAngleDeg = 80;
        neck.fromEdgeMm = 12;
        neck.at = 30;
        const auto byAngle = planNeckWords(neck, 60, 10);
        QCOMPARE(byAngle->baselineRadiusMm, 112.0);
        QCOMPARE(byAngle->angleDeg, 30.0);
        QCOMPARE(byAngle->line.middleDeg, -30.0);
        const double perDegree = 112 * std::numbers::pi / 180;
        QVERIFY(near(byAngle->freeRightMm, 50 * perDegree - 30, 1e-9));
        QVERIFY(near(byAngle->freeLeftMm, 110 * perDegree - 30, 1e-9));
        neck.place = NeckPlace::fromCentre;
        neck.at = 90 * std::numbers::pi / 6; // a twelfth of the circle along the edge
        QVERIFY(near(planNeckWords(neck, 60, 10)->angleDeg, 30, 1e-9));
        neck.place = NeckPlace::fromShoulder;
        QVERIFY(near(planNeckWords(neck, 60, 10)->angleDeg, 50, 1e-9));
        neck.toLeft = true;
        QVERIFY(near(planNeckWords(neck, 60, 10)->angleDeg, -50, 1e-9));
        neck.fromEdgeMm = -5;
        QVERIFY(!planNeckWords(neck, 60, 10));
    }

    void forAOneSidedHoopTheWordsLieLevel() {
        NeckWords neck;
        neck.at = 40;
        neck.levelInHoop = true;
        const auto plan = planNeckWords(neck, 60, 10);
        QCOMPARE(plan->line.middleDeg, 0.0);
        QCOMPARE(plan->turnDeg, 40.0);
        // The garment is turned so that what was 40° to the right comes to the bottom.
        const Vec2 centreFront = plan->garment[1].front();
        QVERIFY(near(std::atan2(centreFront.x, centreFront.y) * 180 / std::numbers::pi, -40, 1e-6));
        QVERIFY(near(length(plan->garment[0].front()), neck.radiusMm, 1e-9));
    }

    void guidesAreKeptAndPrintedButNotSewn() {
        Job job = jobOf(words("Collar", "lato", 12));
        job.cloth.guides = {{"neck edge", {{-60, -40}, {0, -60}, {60, -40}}}};
        const auto back = unpackJob(*packJob(job), "a");
        QVERIFY(back->cloth.guides == job.cloth.guides);
        const auto stitched = stitchJob(job);
        QCOMPARE(measure(stitched->list).stitches,
                 measure(stitchLettering(*letteringOf(job, "words"))->list).stitches);
        const auto printed = makeTemplate(templateOf(job, stitched->list, test::library()),
                                          {false, Paper::a4, dataFolder() + "/faces"});
        QVERIFY(bool(printed));
        QCOMPARE(printed->pages, makeTemplate(templateOf(job, stitched->list, test::library()),
                                              {true, Paper::a4, dataFolder() + "/faces"})
                                     ->pages);
    }

    // Monograms.

    void initialsStandInTheOrderThatWasChosen() {
        MonogramRequest r;
        r.given = "anna";
        r.middle = "Berta";
        r.surname = "Cole";
        r.look = words("", "garamond", 20);
        const auto larger = makeMonogram(r);
        QCOMPARE(larger->lettering.text, std::string("ACB"));
        QCOMPARE(larger->lettering.change(1)->scale, 1.5);
        QVERIFY(QString::fromStdString(larger->order).contains("surname"));
        r.order = MonogramOrder::given;
        const auto equal = makeMonogram(r);
        QCOMPARE(equal->lettering.text, std::string("ABC"));
        QVERIFY(equal->lettering.letters.empty());
        r.order = MonogramOrder::surname;
        r.middle.clear();
        QCOMPARE(makeMonogram(r)->lettering.text, std::string("AC"));
        QVERIFY(QString::fromStdString(makeMonogram(r)->order).contains("three initials"));
        QVERIFY(!makeMonogram({}));
    }

    void theFrameStandsRoundTheInitials_data() {
        QTest::addColumn<int>("frame");
        QTest::addColumn<int>("layout");
        for (int frame = 1; frame <= 4; ++frame)
            for (int layout = 0; layout < 2; ++layout)
                QTest::addRow("%d %d", frame, layout) << frame << layout;
    }
    void theFrameStandsRoundTheInitials() {
        QFETCH(int, frame);
        QFETCH(int, layout);
        MonogramRequest r;
        r.given = "A";
        r.middle = "B";
        r.surname = "C";
        r.frame = static_cast<MonogramFrame>(frame);
        r.layout = static_cast<MonogramLayout>(layout);
        r.look = words("", "lato", 15);
        const auto m = makeMonogram(r);
        QVERIFY(m->frame);
        const Box letters = extentsOf(stitchLettering(m->lettering)->list);
        QVERIFY(near(letters.centre().x + m->shift.x, 0, 1e-6) &&
                near(letters.centre().y + m->shift.y, 0, 1e-6));
        const StitchList ring = stitchShape(*m->frame);
        // Every needle point of the frame is outside the box of the letters by the gap.
        for (const Stitch& s : ring.stitches) {
            if (s.op != Op::stitch) continue;
            const Vec2 p = s.at();
            const double out =
                std::max(std::abs(p.x) - letters.width() / 2, std::abs(p.y) - letters.height() / 2);
            QVERIFY2(out > -1e-6 || frame != 3, "inside");
            QVERIFY(
                !Box::centredAt({0, 0}, letters.width(), letters.height()).grown(0.2).contains(p));
        }
    }

    // Names.

    void namesAreReadFromTheirColumn() {
        QCOMPARE(*namesOf("Tern\n\n Knot \n", "a"), (std::vector<std::string>{"Tern", "Knot"}));
        QCOMPARE(*namesOf("no,Name,where\r\n1,\"Harrier, marsh\",east\r\n2,Tern,west\r\n", "a"),
                 (std::vector<std::string>{"Harrier, marsh", "Tern"}));
        const auto open = namesOf("Tern\n\"Knot\n", "list.csv");
        QVERIFY(!open);
        QCOMPARE(open.error().place, std::string("line 2"));
        QVERIFY(!namesOf("", "a"));
        QVERIFY(!namesOf("\xff\xfe\x01", "a"));
        QVERIFY(!namesOf("no,name\n1,\n", "a"));
    }

    void doubtfulNamesAreListedBeforeAnythingIsSewn() {
        const Lettering look = words("x", "lato", 12);
        const std::vector<std::string> names{"Tern", "Oystercatcher of the saltmarsh", "tern", "漢",
                                             "Knot"};
        const auto plan = planNames(names, look, 60, 6, NameSizing::longestDecides);
        QCOMPARE(plan->doubtful, 4);
        QVERIFY(plan->names[4].doubts.empty());
        QVERIFY(!plan->names[3].usable);
        QVERIFY(QString::fromStdString(plan->names[1].doubts[0]).contains("too long"));
        QVERIFY(QString::fromStdString(plan->names[0].doubts[0]).contains("2 times"));
        // The longest decides: all are as small as it would have to be, but legible.
        for (const NamedLettering& n : plan->names)
            if (n.usable) QCOMPARE(n.capHeightMm, 6.0);
        const auto each = planNames(names, look, 60, 6, NameSizing::eachFits);
        QCOMPARE(each->names[4].capHeightMm, 12.0);
        QVERIFY(!planNames(names, words("x", "runes"), 60, 6, NameSizing::eachFits));
    }

    void namesTakeThePlacesOfTheCopies() {
        Job job = jobOf(words("Name", "lato", 9));
        job.pieces[0].outline = Outline{};
        Repeat r;
        r.pieces = {"words"};
        r.columns = 3;
        r.rows = 2;
        job = setRepeat(r).change(job);
        StitchCache cache;
        std::vector<Pose> before;
        for (const PlacedPiece& p : placedPieces(job, cache))
            if (!p.outline) before.push_back(p.piece.pose);
        QCOMPARE(before.size(), 6u);
        const std::vector<std::string> names{"Tern", "Knot", "Ruff", "Smew",
                                             "Gull", "Teal", "Rook"};
        const Job named = letterNames("words", names, {9, 9, 8, 9, 9, 9, 9}).change(job);
        QCOMPARE(named.pieces.size(), 7u);
        QVERIFY(named.repeats.empty());
        for (std::size_t i = 0; i < 6; ++i) {
            QVERIFY(named.pieces[i].pose == before[i]);
            QCOMPARE(named.pieces[i].name, names[i]);
            QVERIFY(named.pieces[i].outline.has_value());
        }
        QCOMPARE(letteringOf(named, named.pieces[2].id)->capHeightMm, 8.0);
        QVERIFY(named.pieces[6].pose.y > named.pieces[5].pose.y);
        // A kite beside the word keeps its own copies where they were.
        Job both = jobOf(words("Name", "lato", 9));
        both.pieces.push_back(test::designPiece("kite", test::listThrough({{-30, 0}, {-20, 5}})));
        r.pieces = {"words", "kite"};
        both = setRepeat(r).change(both);
        const auto kites = [](const Job& j) {
            StitchCache own;
            std::vector<Pose> poses;
            for (const PlacedPiece& p : placedPieces(j, own))
                if (p.source == "kite") poses.push_back(p.piece.pose);
            return poses;
        };
        const Job after = letterNames("words", names, std::vector<double>(7, 9.0)).change(both);
        QVERIFY(kites(after) == kites(both));
    }

    void namesHaveTheirHeightOnAResizedPieceToo() {
        Pose twice;
        twice.scaleX = twice.scaleY = 2;
        const Job job = jobOf(words("Name", "lato", 9), twice);
        for (const Job& named :
             {withName(job, "words", "HH", 12), letterNames("words", {"HH"}, {12}).change(job)}) {
            VERIFY_NEAR(extents(named).height(), 12, 0.2);
            QCOMPARE(letteringRecords(named)[0].capHeightMm, 12.0);
        }
    }

    void aVariantOfTheJobForEachName() {
        const Job job = withName(jobOf(words("Name")), "words", "Tern", 11);
        QCOMPARE(letteringOf(job, "words")->text, std::string("Tern"));
        QCOMPARE(letteringOf(job, "words")->capHeightMm, 11.0);
        QVERIFY(QString::fromStdString(job.name).endsWith("Tern"));
    }
};

RAPT_TEST(TestLetteringJob)
#include "test_lettering_job.moc"
