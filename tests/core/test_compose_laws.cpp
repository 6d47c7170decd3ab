#include "random_designs.h"
#include "support.h"

#include "divide/hooping_lists.h"
#include "formats/job_file.h"
#include "formats/palette_files.h"
#include "formats/zip_archive.h"
#include "job/edit_copies.h"
#include "job/edit_threads.h"
#include "job/expansion.h"
#include "place/arrange.h"
#include "place/sizing.h"
#include "svg/to_shapes.h"
#include "thread/measures.h"

#include <random>

using namespace rapt;

namespace {

/// Random jobs of a few pieces with copies, outlines, groups and scales; the same for the same
/// seed.
class JobMaker {
public:
    explicit JobMaker(unsigned seed) : random(seed) {}

    Job make() {
        Job job;
        job.cloth = {900, 900, {}, {}, {}};
        const int n = whole(2, 5);
        for (int i = 0; i < n; ++i) job.pieces.push_back(piece("p" + std::to_string(i)));
        for (int i = 0; i < n; i += 2)
            if (coin())
                job = setRepeat(repeat(job.pieces[static_cast<std::size_t>(i)].id)).change(job);
        return job;
    }

    double real(double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    }
    int whole(int low, int high) { return std::uniform_int_distribution<int>(low, high)(random); }
    bool coin() { return whole(0, 1) == 1; }

private:
    Piece piece(const std::string& id) {
        Piece p = coin() ? test::shapePiece(id, shape()) : test::designPiece(id, design());
        p.pose = {real(-200, 200), real(-200, 200), real(-180, 180), coin(), 1, 1};
        p.pose.scaleX = p.pose.scaleY = real(0.6, 1.6);
        p.keep = coin() ? Keep::spacing : Keep::stitches;
        if (whole(0, 3) == 0) {
            Outline o;
            o.form = static_cast<Outline::Form>(whole(0, 2));
            o.thread = {1, {10, 20, 30}, 40, "Line"};
            p.outline = o;
        }
        return p;
    }
    ShapePart shape() {
        ShapePart part = test::fillOf(
            {test::rectangle(real(-20, 0), real(-20, 0), real(8, 30), real(8, 30))}, real(0, 180));
        part.underlay = static_cast<Underlay>(whole(0, 2));
        part.pullMm = real(0, 0.4);
        return part;
    }
    StitchList design() {
        std::vector<Vec2> points;
        for (int i = 0; i < 40; ++i) points.push_back({real(-15, 15), real(-15, 15)});
        return test::listThrough(points);
    }
    Repeat repeat(const std::string& id) {
        Repeat r;
        r.pieces = {id};
        r.kind = static_cast<Repeat::Kind>(whole(0, 3));
        r.columns = whole(1, 3);
        r.rows = whole(1, 3);
        r.count = whole(2, 5);
        r.byGap = coin();
        r.acrossMm = real(5, 60);
        r.downMm = real(5, 60);
        r.directionDeg = real(-180, 180);
        r.centre = {real(-50, 50), real(-50, 50)};
        r.turned = coin();
        r.nearFar = coin();
        if (coin()) r.exceptions.push_back({2, coin(), {real(-3, 3), 1}, real(0, 90)});
        return r;
    }

    std::mt19937 random;
};

StitchList sewn(const Job& job) {
    auto stitched = stitchJob(job);
    if (!stitched) qFatal("%s", stitched.error().line().c_str());
    return stitched->list;
}

/// How far the penetrations of two lists are apart at the most; −1 if they differ in number.
double farthest(const StitchList& a, const StitchList& b) {
    std::vector<Vec2> p, q;
    for (const Stitch& s : a.stitches)
        if (s.op == Op::stitch) p.push_back(s.at());
    for (const Stitch& s : b.stitches)
        if (s.op == Op::stitch) q.push_back(s.at());
    if (p.size() != q.size()) return -1;
    double most = 0;
    for (std::size_t i = 0; i < p.size(); ++i) most = std::max(most, distance(p[i], q[i]));
    return most;
}

const char* sample =
    R"(<svg width='90mm' height='60mm' viewBox='0 0 90 60'><style>.a{fill:teal}</style><g transform='translate(3,4) rotate(9)'><rect class='a' x='2' y='2' width='30' height='20' rx='3'/><path d='M10 30 C 20 10 40 50 60 30 L 70 40 Z M5 5 h4 v4 z' fill-rule='evenodd'/></g><use href='#c' x='20'/><circle id='c' cx='20' cy='40' r='9' stroke='red' stroke-width='2'/></svg>)";

} // namespace

/// What must hold for any job: laws of copies, outlines, edits and files, on random ones.
class TestComposeLaws : public QObject {
    Q_OBJECT

    static void eachSeed() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= test::seedCount(24); ++seed)
            QTest::addRow("%u", seed) << seed;
    }

private slots:
    void theFileKeepsEverythingThatIsSewn_data() { eachSeed(); }
    void theFileKeepsEverythingThatIsSewn() {
        QFETCH(unsigned, seed);
        const Job job = JobMaker(seed).make();
        const auto bytes = packJob(job);
        QVERIFY(bytes);
        const auto back = unpackJob(*bytes, "job");
        QVERIFY2(back, back ? "" : back.error().line().c_str());
        const double off = farthest(sewn(job), sewn(*back));
        QVERIFY2(off >= 0 && off < 1e-4, qPrintable(QString::number(off)));
        QVERIFY(*packJob(*back) == *bytes);
    }

    void unlinkingChangesNothingThatIsSewn_data() { eachSeed(); }
    void unlinkingChangesNothingThatIsSewn() {
        QFETCH(unsigned, seed);
        Job job = JobMaker(seed).make();
        // Outlines come in one run only while copies are linked, so their order may change.
        for (Piece& p : job.pieces) p.outline.reset();
        const StitchList linked = sewn(job);
        while (!job.repeats.empty()) job = unlinkCopies(job.repeats[0].id).change(job);
        const double off = farthest(linked, sewn(job));
        QVERIFY2(off >= 0 && off < 1e-4, qPrintable(QString::number(off)));
    }

    void movingAnOriginalMovesEveryCopyAsFar_data() { eachSeed(); }
    void movingAnOriginalMovesEveryCopyAsFar() {
        QFETCH(unsigned, seed);
        JobMaker maker(seed);
        const Job job = maker.make();
        const Vec2 by{maker.real(-20, 20), maker.real(-20, 20)};
        StitchCache cache;
        for (const Repeat& r : job.repeats) {
            if (r.kind == Repeat::Kind::circle && !r.turned) continue;
            const auto before = placedPieces(job, cache);
            const auto after = placedPieces(movePieces(r.pieces, by).change(job), cache);
            QCOMPARE(before.size(), after.size());
            for (std::size_t i = 0; i < before.size(); ++i) {
                if (!r.has(before[i].source) || r.exception(before[i].copy)) continue;
                const Vec2 moved = Vec2{after[i].piece.pose.x, after[i].piece.pose.y} -
                                   Vec2{before[i].piece.pose.x, before[i].piece.pose.y};
                VERIFY_NEAR(length(moved), length(by), 1e-9);
            }
        }
    }

    void idsOfWhatIsSewnAreUniqueAndLeadBack_data() { eachSeed(); }
    void idsOfWhatIsSewnAreUniqueAndLeadBack() {
        QFETCH(unsigned, seed);
        Job job = JobMaker(seed).make();
        // Names that look like copies must not be mixed up with them.
        job.pieces[1].id = "p0#2";
        for (Repeat& r : job.repeats) std::erase(r.pieces, "p1");
        std::erase_if(job.repeats, [](const Repeat& r) { return r.pieces.empty(); });
        StitchCache cache;
        std::map<std::string, std::string> sources;
        for (const PlacedPiece& p : placedPieces(job, cache)) {
            QVERIFY2(sources.emplace(p.piece.id, p.source).second, p.piece.id.c_str());
            const Piece* back = job.piece(p.piece.id);
            QVERIFY(back);
            QCOMPARE(back->id, p.source);
        }
    }

    void theSameEditTwiceIsTheEditOnce_data() { eachSeed(); }
    void theSameEditTwiceIsTheEditOnce() {
        QFETCH(unsigned, seed);
        const Job job = JobMaker(seed).make();
        const std::string id = job.pieces[0].id;
        Repeat r;
        r.id = "x";
        r.pieces = {id};
        const Thread green{1, {0, 90, 0}, 40, "Green"};
        for (const Edit& edit : {setLocked({id}, true), setHidden({id}, true), renamePiece(id, "g"),
                                 setOutline({id}, Outline{}), setRepeat(r), joinLikeThreads(4),
                                 recolour({}, threadsOf(job)[0], green)}) {
            const Job once = edit.change(job);
            QVERIFY2(edit.change(once) == once, edit.name.c_str());
        }
    }

    void turningThereAndBackIsNothing_data() { eachSeed(); }
    void turningThereAndBackIsNothing() {
        QFETCH(unsigned, seed);
        JobMaker maker(seed);
        const Job job = maker.make();
        std::vector<std::string> ids;
        for (const Piece& p : job.pieces) ids.push_back(p.id);
        const double degrees = maker.real(-170, 170);
        const Vec2 about{maker.real(-90, 90), 3};
        const double k = maker.real(0.5, 2);
        const Job back =
            together("x", {turnPieces(ids, degrees, about), scalePieces(ids, k, about, ""),
                           mirrorPieces(ids, about), mirrorPieces(ids, about),
                           scalePieces(ids, 1 / k, about, ""), turnPieces(ids, -degrees, about)})
                .change(job);
        for (std::size_t i = 0; i < job.pieces.size(); ++i) {
            const Affine a = job.pieces[i].pose.affine(), b = back.pieces[i].pose.affine();
            for (const Vec2 p : {Vec2{0, 0}, Vec2{30, 0}, Vec2{0, 30}})
                VERIFY_NEAR(distance(a(p), b(p)), 0, 1e-6);
        }
    }

    void aligningTwiceIsAligningOnce_data() { eachSeed(); }
    void aligningTwiceIsAligningOnce() {
        QFETCH(unsigned, seed);
        JobMaker maker(seed);
        std::vector<Movable> items;
        for (int i = 0; i < 5; ++i) {
            const Vec2 at{maker.real(-200, 200), maker.real(-200, 200)};
            items.push_back({{"p" + std::to_string(i)},
                             Box::centredAt(at, maker.real(5, 90), maker.real(5, 90))});
        }
        const auto moved = [](std::vector<Movable> list, const std::vector<Vec2>& by) {
            for (std::size_t i = 0; i < list.size(); ++i) {
                Box& b = list[i].box;
                b = {b.minX + by[i].x, b.minY + by[i].y, b.maxX + by[i].x, b.maxY + by[i].y};
            }
            return list;
        };
        for (int how = 0; how < 6; ++how) {
            const Box to{-300, -300, 300, 300};
            const auto once = moved(items, alignMoves(items, static_cast<Align>(how), to));
            for (const Vec2& by : alignMoves(once, static_cast<Align>(how), to))
                VERIFY_NEAR(length(by), 0, 1e-9);
        }
        for (const bool across : {true, false}) {
            const auto once = moved(items, distributeMoves(items, across));
            for (const Vec2& by : distributeMoves(once, across)) VERIFY_NEAR(length(by), 0, 1e-6);
        }
    }

    void outlinesKeepTheirSizeAtEveryScaleAndTurn_data() { eachSeed(); }
    void outlinesKeepTheirSizeAtEveryScaleAndTurn() {
        QFETCH(unsigned, seed);
        JobMaker maker(seed);
        Piece piece = test::shapePiece("a", test::fillOf({test::rectangle(2, 3, 20, 12)}));
        piece.pose = {9, 9, 0, maker.coin(), maker.real(0.4, 3), maker.real(0.4, 3)};
        Outline o;
        o.widthMm = maker.real(20, 150);
        o.heightMm = maker.real(20, 150);
        o.cornerMm = maker.coin() ? maker.real(0, 30) : 0;
        o.stitchLengthMm = maker.real(1.5, 6);
        piece.outline = o;
        Job job;
        job.pieces = {piece};
        const auto stitched = stitchJob(job);
        const Box box = stitched->spans[0].extents;
        VERIFY_NEAR(box.width(), o.widthMm, 1e-4);
        VERIFY_NEAR(box.height(), o.heightMm, 1e-4);
        const Stitch* last = nullptr;
        for (std::size_t i = stitched->spans[0].first; i < stitched->spans[0].last; ++i) {
            const Stitch& s = stitched->list.stitches[i];
            if (s.op != Op::stitch) continue;
            if (last) QVERIFY(spanMm(*last, s) <= o.stitchLengthMm + 1e-4);
            last = &s;
        }
    }

    void recipesHoldAtAnySize_data() {
        QTest::addColumn<double>("scale");
        for (const double scale : {0.5, 0.63, 0.8, 1.0, 1.27, 1.6, 2.0})
            QTest::addRow("%.2f", scale) << scale;
    }
    void recipesHoldAtAnySize() {
        QFETCH(double, scale);
        const auto drawing = readSvg("<svg width='120mm' height='90mm' viewBox='0 0 120 90'>"
                                     "<path d='M10 10 H110 V80 H10 Z M40 30 V60 H80 V30 Z'/>"
                                     "<ellipse cx='60' cy='45' rx='14' ry='10' fill='red'/>"
                                     "<path d='M5 86 C 40 70 80 100 115 84' fill='none' "
                                     "stroke='navy' stroke-width='3'/></svg>",
                                     "a.svg");
        QVERIFY(drawing);
        for (const Underlay underlay : {Underlay::none, Underlay::full}) {
            ImportOptions options;
            options.underlay = underlay;
            std::vector<std::string> left;
            for (Piece piece : piecesOf(*drawing, options, left)) {
                piece.pose.scaleX = piece.pose.scaleY = scale;
                const StitchList list = **stitchPiece(piece);
                const Measures m = measure(list);
                QVERIFY(m.longestMm <= maxStitchMm);
                QVERIFY2(double(m.shortStitches) < 0.02 * double(m.stitches), piece.name.c_str());
                QCOMPARE(m.jumps, std::size_t{1});
                if (underlay == Underlay::none) VERIFY_NEAR(*medianRowSpacing(list), 0.4, 0.012);
            }
        }
    }

    void splittingKeepsEveryStitch_data() { eachSeed(); }
    void splittingKeepsEveryStitch() {
        QFETCH(unsigned, seed);
        JobMaker maker(seed);
        StitchList list;
        for (std::uint8_t t = 1; t <= 4; ++t) list.threads.push_back(defaultThread(t));
        std::uint8_t thread = 1;
        for (int i = 0; i < 120; ++i) {
            const Vec2 at{maker.real(-30, 30), maker.real(-30, 30)};
            if (maker.whole(0, 9) == 0 || i == 0) {
                if (i > 0) list.stitches.push_back(stitchAt(Op::trim, at, thread));
                thread = static_cast<std::uint8_t>(maker.whole(1, 4));
                list.stitches.push_back(stitchAt(Op::jump, at, thread));
            }
            list.stitches.push_back(stitchAt(Op::stitch, at, thread));
        }
        Job job;
        job.pieces = {test::designPiece("a", list)};
        const double off = farthest(sewn(job), sewn(splitByThread("a").change(job)));
        QVERIFY2(off >= 0 && off < 1e-4, qPrintable(QString::number(off)));
    }

    void damagedDrawingsAreRefusedOrReadButNeverHarm_data() { eachSeed(); }
    void damagedDrawingsAreRefusedOrReadButNeverHarm() {
        QFETCH(unsigned, seed);
        std::mt19937 random(seed);
        const std::string good = sample;
        for (int round = 0; round < 60; ++round) {
            std::string text = good;
            const auto place = [&] { return random() % text.size(); };
            switch (random() % 4) {
            case 0: // some bytes changed
                for (int k = 0; k < 4; ++k) text[place()] = static_cast<char>(random() % 256);
                break;
            case 1: // cut off
                text.resize(place());
                break;
            case 2: // a part twice
                text.insert(place(), good.substr(random() % good.size(), 40));
                break;
            case 3: // a number made absurd
                text.insert(place(), "1e308");
                break;
            }
            const auto drawing = readSvg(text, "a.svg");
            if (!drawing) {
                QVERIFY(!drawing.error().reason.empty());
                continue;
            }
            std::vector<std::string> left;
            for (const Piece& p : piecesOf(*drawing, {}, left)) {
                const auto list = stitchPiece(p);
                if (list) QVERIFY(measure(**list).longestMm <= maxStitchMm + 1e-3);
            }
        }
    }

    void damagedPalettesAreReadLineByLine_data() { eachSeed(); }
    void damagedPalettesAreReadLineByLine() {
        QFETCH(unsigned, seed);
        std::mt19937 random(seed);
        std::string text = "GIMP Palette\nName: A\n";
        for (int k = 0; k < 20; ++k)
            text +=
                std::to_string(random() % 300) + " " + std::to_string(random() % 300) + " 7 x\n";
        for (int k = 0; k < 6; ++k)
            text[13 + random() % (text.size() - 13)] = static_cast<char>(random() % 256);
        const auto parsed = parseGpl(text, "p.gpl");
        QVERIFY(parsed);
        QVERIFY(parsed->palette.threads.size() + parsed->odd.size() <= 40);
        // What was read can be written and read again, all of it.
        const auto again = parseGpl(formatGpl(parsed->palette), "p.gpl");
        QCOMPARE(again->palette.threads.size(), parsed->palette.threads.size());
        QVERIFY(again->odd.empty());
    }

    void damagedCopiesOfAJobAreRefusedByName_data() {
        QTest::addColumn<QString>("repeats");
        QTest::addColumn<QString>("place");
        const auto row = [](const char* name, const char* repeats, const char* place) {
            QTest::addRow("%s", name) << QString(repeats).replace('\'', '"') << QString(place);
        };
        row("unknown kind", "[{'id':'r','kind':'spiral','pieces':['a']}]", "repeats[0].kind");
        row("no id", "[{'kind':'grid','pieces':['a']}]", "repeats[0].id");
        row("lost piece", "[{'id':'r','kind':'grid','pieces':['b']}]", "repeats[0].pieces");
        row("a copy as a piece", "[{'id':'r','kind':'grid','pieces':['a#2']}]",
            "repeats[0].pieces");
        row("twice",
            "[{'id':'r','kind':'grid','pieces':['a']},{'id':'s','kind':'grid','pieces':['a']}]",
            "repeats[1].pieces");
        row("same id",
            "[{'id':'r','kind':'grid','pieces':[]},{'id':'r','kind':'grid','pieces':[]}]",
            "repeats[1].id");
        row("too many", "[{'id':'r','kind':'grid','pieces':['a'],'columns':9999,'rows':9999}]",
            "repeats[0].columns");
        row("none", "[{'id':'r','kind':'line','pieces':['a'],'count':0}]", "repeats[0].count");
        row("a step of words", "[{'id':'r','kind':'grid','pieces':['a'],'step':'far'}]",
            "repeats[0].step");
        row("copy nought", "[{'id':'r','kind':'grid','pieces':['a'],'exceptions':[{'copy':0}]}]",
            "repeats[0].exceptions[0].copy");
    }
    void damagedCopiesOfAJobAreRefusedByName() {
        QFETCH(QString, repeats);
        QFETCH(QString, place);
        Job job;
        job.pieces = {test::designPiece("a", test::listThrough({{0, 0}, {3, 0}}))};
        // What cannot be opened is not written; so it is put into a file that is well.
        Job broken = job;
        broken.extra = "{\"repeats\": " + repeats.toStdString() + "}";
        QVERIFY(!packJob(broken));
        auto members = *unpackArchive(*packJob(job), "x.rapt");
        std::string text = *members["job.json"];
        text.insert(text.find('{') + 1, "\"repeats\": " + repeats.toStdString() + ",");
        members["job.json"] = std::make_shared<const std::string>(text);
        const auto bytes = packArchive(members);
        QVERIFY(bytes);
        const auto back = unpackJob(*bytes, "x.rapt");
        QVERIFY(!back);
        QVERIFY2(back.error().place.find(place.toStdString()) != std::string::npos,
                 back.error().line().c_str());
    }
};

RAPT_TEST(TestComposeLaws)
#include "test_compose_laws.moc"
