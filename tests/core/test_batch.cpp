#include "support.h"

#include "border/border.h"
#include "divide/batch.h"
#include "divide/frames.h"
#include "divide/marking_plan.h"
#include "geometry/ways.h"
#include "job/edit.h"
#include "thread/measures.h"

#include <thread>

using namespace rapt;

namespace {

Box boxOf(const BatchPlace& p, double w, double h) {
    return p.turned ? Box::centredAt(p.at, h, w) : Box::centredAt(p.at, w, h);
}

} // namespace

/// Batches, borders, the marking plan, and a person's own frames.
class TestBatch : public QObject {
    Q_OBJECT
    const Library lib = test::library();

private slots:
    void itemsLieApartEachInOneField_data() {
        QTest::addColumn<double>("width");
        QTest::addColumn<double>("height");
        for (const auto& [w, h] :
             {std::pair{30.0, 20.0}, std::pair{62.0, 36.0}, std::pair{95.0, 14.0}})
            QTest::addRow("%g x %g", w, h) << w << h;
    }
    void itemsLieApartEachInOneField() {
        QFETCH(double, width);
        QFETCH(double, height);
        constexpr double gap = 4;
        for (const Hoop& hoop : lib.hoops) {
            const auto places = batchPlaces(hoop, width, height, gap);
            for (std::size_t i = 0; i < places.size(); ++i) {
                const Box box = boxOf(places[i], width, height);
                for (std::size_t j = 0; j < i; ++j)
                    QVERIFY2(boxGap(box, boxOf(places[j], width, height)) > gap - 1e-6,
                             hoop.id.c_str());
                const FramePosition& at =
                    hoop.positions[static_cast<std::size_t>(places[i].position - 1)];
                const double from = hoop.slide ? hoop.slide->fromMm : 0;
                const double to = hoop.slide ? hoop.slide->toMm : 0;
                // The nearest standing of the field to the item.
                const double slid = std::clamp(places[i].at.x - at.at.x, from, to);
                Polyline seen;
                for (const Vec2& c : box.corners())
                    seen.push_back(turned(c - at.at - Vec2{slid, 0}, -at.turnDeg));
                QVERIFY2(holds(hoop, seen), hoop.id.c_str());
            }
            if (hoop.shape != Hoop::Shape::rect) continue;
            // No fewer than the better of the two plain grids of one field.
            const auto fits = [&](double size, double item) {
                return static_cast<std::size_t>((size + gap) / (item + gap) + 1e-9);
            };
            const auto grid = [&](double w, double h) {
                return fits(hoop.widthMm, w) * fits(hoop.heightMm, h);
            };
            QVERIFY2(places.size() >= std::max(grid(width, height), grid(height, width)),
                     hoop.id.c_str());
        }
    }

    void blocksOfBothDirectionsHoldMore() {
        Hoop hoop = *lib.hoop("field-100x100");
        // Four of 60 × 36 go round in a pinwheel's place only as two and one.
        const auto places = batchPlaces(hoop, 60, 36, 4);
        QCOMPARE(places.size(), std::size_t{3});
        QVERIFY(std::any_of(places.begin(), places.end(), [](const auto& p) { return p.turned; }));
        QVERIFY(std::any_of(places.begin(), places.end(), [](const auto& p) { return !p.turned; }));
    }

    void theLastClampingMayGoIntoASmallerFrame() {
        Job job;
        job.brief.fabric = "felt";
        job.pieces = {test::shapePiece("tag", test::fillOf({test::rectangle(0, 0, 40, 30)}, 0, 1))};
        const auto offers = planBatch(job, lib.hoops, lib, {17, 4});
        QVERIFY(bool(offers));
        for (std::size_t i = 1; i < offers->size(); ++i)
            QVERIFY((*offers)[i - 1].clampings <= (*offers)[i].clampings);
        const auto everyday = std::find_if(offers->begin(), offers->end(), [](const BatchOffer& o) {
            return o.hoop == "field-180x130";
        });
        QCOMPARE(everyday->perClamping() * everyday->clampings - everyday->leftOver, 17);
        QVERIFY(!everyday->lastIn.empty() && everyday->lastSavesCm2 > 0);
        QVERIFY(!planBatch(job, lib.hoops, lib, {0, 4}));
        QVERIFY(!planBatch(Job{}, lib.hoops, lib, {3, 4}));
        // One clamping as a job: every item once, in its fields.
        const auto laid = batchJob(job, *everyday, lib);
        QVERIFY2(laid, laid ? "" : laid.error().line().c_str());
        QCOMPARE(static_cast<int>(laid->pieces.size()), everyday->perClamping());
        QVERIFY(bool(hoopingLists(*laid, lib)));
    }

    void bordersMeetTheirSizeOrSayWhichWouldWork() {
        const Box motif{0, 0, 50, 25};
        const auto strip = planBorder(motif, {600, {}, 25});
        QVERIFY(bool(strip));
        QCOMPARE(strip->along, 12);
        VERIFY_NEAR(strip->alongMm, 50, 1e-9);
        const auto frame = planBorder(motif, {410, 260.0, 25});
        QVERIFY(bool(frame));
        QVERIFY(frame->along == 7 && frame->down == 4);
        VERIFY_NEAR(frame->alongMm * 7, 360, 1e-9);
        const auto no = planBorder(motif, {75, {}, 25});
        QVERIFY(!no && no.error().fault == Fault::cannotDo);
        QVERIFY(no.error().reason.find("54.0 or 92.0 mm work") != std::string::npos);
        QVERIFY(!planBorder(motif, {40, 40.0, 25})); // two corners leave no side
        QVERIFY(!planBorder({}, {400, {}, 25}));
    }

    void theMarkingPlanMeasuresFromTheEdges() {
        Job job;
        job.cloth.widthMm = 400;
        job.cloth.heightMm = 254;
        QVERIFY(markingPlan(job, lib).empty());
        Hooping h;
        h.hoop = "field-180x130";
        h.frame = h.pose = {25.4, -10, 90, false, 1, 1};
        h.marks = {{"1A", {-50.8, 0}}, {"1B", {0, 30}}};
        job.hoopings = {h};
        std::string all;
        for (const MarkingStep& step : markingPlan(job, lib)) {
            all += step.head + "\n";
            for (const std::string& line : step.lines) all += line + "\n";
        }
        for (const char* words :
             {"level line lies 127.0 mm (5 in) from the far edge", "turned 90°",
              "centre lies 25.4 mm (1 in) right of the upright line, 10.0 mm",
              "1A: draw a cross 50.8 mm (2 in) left of the upright line, on the level line",
              "on the upright line, 30.0 mm (1 3/16 in) nearer to you",
              "From 1A to 1B it is 59.0 mm"})
            QVERIFY2(all.find(words) != std::string::npos, (all + "\nwithout: " + words).c_str());
    }

    void nothingIsLostWhenTwoKeepAtOnce() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        constexpr int each = 25;
        const auto keep = [&](const std::string& name) {
            for (int i = 0; i < each; ++i) {
                Hoop own = *lib.hoop("field-100x100");
                own.id = name + std::to_string(i);
                if (!saveUserHoop(own, folder)) qWarning("%s is not kept", own.id.c_str());
            }
        };
        std::thread other(keep, "there");
        keep("here");
        other.join();
        const auto kept = loadLibrary(dataFolder(), folder);
        QVERIFY(kept);
        QCOMPARE(kept->hoops.size(), lib.hoops.size() + 2 * each);
    }

    void ownFramesAreKeptAndOldOnesRead() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        Hoop own = *lib.hoop("stepped-130x180x3");
        own.id = "mine";
        own.shape = Hoop::Shape::rounded;
        own.cornerMm = 12;
        own.arm = "back";
        QVERIFY(bool(saveUserHoop(own, folder)));
        own.slide = Slide{-40, 60};
        own.kind = "sliding";
        own.positions = {{}};
        QVERIFY(bool(saveUserHoop(own, folder))); // in the old one's place
        const auto kept = loadLibrary(dataFolder(), folder);
        QVERIFY2(kept, kept ? "" : kept.error().line().c_str());
        const Hoop back = *kept->hoop("mine");
        QCOMPARE(kept->hoops.size(), lib.hoops.size() + 1);
        QVERIFY(back.slide && back.slide->toMm == 60 && back.cornerMm == 12 && back.arm == "back");
        QVERIFY(back.reaches({0, 80}) && !back.reaches({64, 89})); // the rounded corner
        // A strip across one field: two halves, the lower one half a turn round.
        test::writeFile(
            dir.filePath("hoops.json"),
            QByteArray("{'hoops':[{'id':'old','kind':'two-sided','field':{'width_mm':300,"
                       "'height_mm':200},'band':{'from_mm':-10,'to_mm':10}}]}")
                .replace('\'', '"'));
        const Hoop old = *loadLibrary(dataFolder(), folder)->hoop("old");
        QCOMPARE(old.heightMm, 90.0);
        QCOMPARE(old.positions.size(), std::size_t{2});
        QVERIFY(old.positions[0].at.y == -55 && old.positions[1].at.y == 55);
        QCOMPARE(old.positions[1].turnDeg, 180.0);
        // The far half of the second position is the near edge of the frame.
        const Pose field = fieldPose({10, 20, 0, false, 1, 1}, old.positions[1]);
        const Vec2 place = field.affine()({0, -45});
        VERIFY_NEAR(place.y, 20 + 100, 1e-9);
        Hoop wrong = old;
        wrong.outerHeightMm = 150;
        QVERIFY(problemsOf(old).empty() && !problemsOf(wrong).empty());
    }

    void movesAreSaidAsAPersonStands() {
        QCOMPARE(wayText({-7, 0}), std::string("7 mm left"));
        QCOMPARE(wayText({2.5, 3}), std::string("2.5 mm right and 3 mm towards you"));
        QCOMPARE(wayText({0, -4}), std::string("4 mm away from you"));
        QCOMPARE(wayText({}), std::string());
    }
};

RAPT_TEST(TestBatch)
#include "test_batch.moc"
